"""Box whose sides are grids of quads that share their edges."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.mesh import REST, SMOOTHING, UV, Mesh, uniform_faces
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.memo.memo import called
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Y, Z, both_ways
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import Value, fineness, vector

# Of each side: the axis it faces, then the two axes in it; their cross product points outwards.
SIDES = (
    *((0, 1, 1, 2), (0, 0, 2, 1)),
    *((1, 1, 2, 0), (1, 0, 0, 2)),
    *((2, 1, 0, 1), (2, 0, 1, 0)),
)


def _unit_box(
    segments: tuple[int, int, int],
) -> tuple[np.ndarray, Topology, np.ndarray, np.ndarray]:
    """(P, 3) float64 shares of the size from -½ to ½, the faces, UVs of the corners, and the side
    that each face is of."""
    places, faces, uvs, sides = [], [], [], []
    first = 0
    for side, (axis, far, a, b) in enumerate(SIDES):
        i, j = np.meshgrid(np.arange(segments[a] + 1), np.arange(segments[b] + 1), indexing="ij")
        place = np.zeros((i.size, 3), np.int64)
        place[:, axis] = far * segments[axis]
        place[:, a], place[:, b] = i.ravel(), j.ravel()
        number = first + np.arange(i.size).reshape(i.shape)
        quads = [number[:-1, :-1], number[1:, :-1], number[1:, 1:], number[:-1, 1:]]
        faces.append(np.stack(quads, axis=2).reshape(-1, 4))
        uv = np.stack([i / segments[a], j / segments[b]], axis=2)
        ring = [uv[:-1, :-1], uv[1:, :-1], uv[1:, 1:], uv[:-1, 1:]]
        uvs.append(np.stack(ring, axis=2).reshape(-1, 2))
        places.append(place)
        sides.append(np.full(len(faces[-1]), side, np.int32))
        first += i.size
    every = np.concatenate(places)
    shared, number = np.unique(every, axis=0, return_inverse=True)
    corners, starts = uniform_faces(number.ravel()[np.concatenate(faces)])
    topology = Topology(len(shared), corners.astype(np.int32), starts.astype(np.int32))
    uv = np.concatenate(uvs).astype(np.float32)
    return shared / np.array(segments) - 0.5, topology, uv, np.concatenate(sides)


def apply(values: Resolved, context: Context) -> Mesh:
    segments = tuple(values.count(name) for name in ("across", "up", "deep"))
    x, y, z = segments
    within_budget(2 * (x * y + y * z + z * x) + 2)
    shares, topology, uv, sides = called(context.memo, _unit_box, (x, y, z))
    points = np.ascontiguousarray(shares * values.vector("size"), np.float32)
    attributes = {"point": {REST: points}, "corner": {UV: uv}, "face": {SMOOTHING: sides}}
    return Mesh(points, topology, attributes)


def _segments(label: str, axis: str) -> Value:
    return fineness(20, label, f"Cells along {axis}.", (20, 40), (1, 200), (1, 1000))


DEFINITION = FormDefinition(
    key="box",
    title="Box",
    group=SURFACES,
    help="A closed box of square cells.",
    also=("cube", "block", "brick"),
    values={
        "size": vector((1.0, 1.0, 1.0), "Size", "Width, height and depth.", "m", (0.05, 4.0)),
        "across": _segments("Across", "x"),
        "up": _segments("Up", "y"),
        "deep": _segments("Deep", "z"),
    },
    sentence="Box of {size}, {across} by {up} by {deep} cells",
    apply=apply,
    grips=(both_ways("size/0", X), both_ways("size/1", Y), both_ways("size/2", Z)),
    specimen=Specimen(values={"across": 4, "up": 4, "deep": 4}),
    order=21,
)
