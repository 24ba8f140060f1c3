"""Copies on the points, faces or surface of another piece."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context, Other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.elements import face_centres
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.normals import face_vector_areas, point_normals
from zygomorph.core.geometry.placements import COPY_BYTES, Places
from zygomorph.core.shared.copy_places import kept_apart, placed, upright
from zygomorph.core.values.copy_values import UNEVEN_VALUES
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.formula.functions import chance
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, piece, switch, whole

# Chance of one thing must not follow that of another.
SHARE, WHERE = 104729, 1299709


class _Stands:
    """Where copies may stand on a mesh: at weighted corners of triangles, so that they stay on the
    surface however it moves.

    corners : (K, 3) points; weights : (K, 3) float64 shares of them
    """

    def __init__(
        self, mesh: Mesh, corners: np.ndarray, weights: np.ndarray, normals: np.ndarray
    ) -> None:
        self.mesh, self.corners, self.weights, self.normals = mesh, corners, weights, normals

    def read(self, values: np.ndarray) -> np.ndarray:
        """Values of points, (P,) or (P, k), where the copies stand."""
        own = values[self.corners].astype(np.float64)
        return np.einsum("kc,kc...->k...", self.weights, own)

    @property
    def ahead(self) -> np.ndarray:
        """(K, 3) a way along the surface that turns with it: the first side of a face."""
        points = self.mesh.points.astype(np.float64)
        return points[self.corners[:, 1]] - points[self.corners[:, 0]]


def _at_points(mesh: Mesh) -> _Stands:
    count, topology = len(mesh.points), mesh.topology
    numbers = np.arange(count)
    ahead = numbers.copy()
    ahead[topology.corners[::-1]] = topology.corners[topology.next_corner][::-1]
    segments = topology.curve_segments
    ahead[segments[::-1, 0]] = segments[::-1, 1]
    weights = np.tile([1.0, 0.0, 0.0], (count, 1))
    return _Stands(mesh, np.stack([numbers, ahead, ahead], 1), weights, point_normals(mesh))


def _at_faces(mesh: Mesh) -> tuple[_Stands, np.ndarray]:
    """At the middle of each face, which is told beside, because it has any number of corners."""
    topology = mesh.topology
    first = topology.face_starts[:-1]
    corners = np.stack([topology.corners[first + k] for k in (0, 1, 2)], axis=1)
    areas = face_vector_areas(mesh)
    normals = areas / np.maximum(np.linalg.norm(areas, axis=1, keepdims=True), 1e-20)
    return _Stands(mesh, corners, np.full((len(first), 3), 1 / 3), normals), face_centres(mesh)


def _on_surface(mesh: Mesh, count: int, seed: int) -> _Stands:
    """Evenly by chance over the area of the rest shape."""
    triangles = mesh.topology.triangles(mesh.rest)
    rest = mesh.rest.astype(np.float64)[triangles]
    area = np.linalg.norm(np.cross(rest[:, 1] - rest[:, 0], rest[:, 2] - rest[:, 0]), axis=1)
    total = np.cumsum(area)
    k = np.arange(count)
    u, v, w = (chance(k, seed + WHERE + n).astype(np.float64) for n in range(3))
    # One in each of so many equal parts of the area.
    at = np.searchsorted(total, (k + u) / count * total[-1], side="right")
    at = np.minimum(at, len(triangles) - 1)
    root = np.sqrt(v)
    weights = np.stack([1 - root, root * (1 - w), root * w], axis=1)
    corners = triangles[at]
    points = mesh.points.astype(np.float64)[corners]
    areas = np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0])
    normals = areas / np.maximum(np.linalg.norm(areas, axis=1, keepdims=True), 1e-20)
    return _Stands(mesh, corners, weights, normals)


def _seen(other: Other) -> Mesh:
    """The other piece as this one sees it, at rest as well."""
    mesh = other.mesh
    rest = {"rest": transformed(mesh.rest, other.matrix)}
    points = {**mesh.attributes.get("point", {}), **rest}
    attributes = {**mesh.attributes, "point": points}
    return Mesh(transformed(mesh.points, other.matrix), mesh.topology, attributes)


def apply(geometry: Geometry, values: Resolved, context: Context) -> Places:
    other = context.other(values.discrete("piece"))
    mesh, on, seed = _seen(other), values.discrete("on"), values.count("seed")
    if on != "points" and mesh.topology.face_count == 0:
        raise ZygomorphError(f"“{other.name}” has no faces.", "Choose points, or another piece.")
    if on == "points":
        stands, ids = _at_points(mesh), mesh.ids("point")
        places = mesh.points.astype(np.float64)
    elif on == "faces":
        stands, centres = _at_faces(mesh)
        ids, places = mesh.ids("face"), centres.astype(np.float64)
    else:
        count = values.count("count")
        within_budget(count, COPY_BYTES, unit="copies", hint="Make fewer of them")
        stands, ids = _on_surface(mesh, count, seed), np.arange(count)
        places = stands.read(mesh.points)
    chosen = chance(ids, seed + SHARE) < values.scalar("share") / 100
    rest = stands.read(mesh.rest) if values.scalar("apart") > 0 else places
    chosen[chosen] = kept_apart(rest[chosen], values.scalar("apart"), ids[chosen], seed)
    within_budget(int(chosen.sum()), COPY_BYTES, unit="copies", hint="Take a smaller share")
    linear = upright(stands.normals, stands.ahead) if values.discrete("aligned") else None
    places = places + stands.normals * values.scalar("offset")
    masks = {
        name: stands.read(array).astype(np.float32)[chosen]
        for name, array in mesh.attributes["point"].items()
        if name.startswith(MASK)
    }
    placements = placed(places, linear, ids, values)[chosen]
    return Places(placements, ids[chosen].astype(np.int64), masks)


def suggest(mesh: Mesh) -> dict[str, Any]:
    return {}


DEFINITION = CopiesDefinition(
    key="on_piece",
    title="Copies on a piece",
    group=REPEAT,
    help="Copies on the points, the faces or the surface of another piece, which may move; masks "
    "that are stored there are those of the copies.",
    also=("scatter", "instances", "sprinkle", "plant", "hair", "leaves", "cover", "populate"),
    values={
        "piece": piece("On", "The piece on which they stand."),
        "on": choice(
            "points",
            "At",
            "Where they stand.",
            {"points": "its points", "faces": "its faces", "surface": "its surface, by chance"},
        ),
        "count": whole(
            400,
            "Copies",
            "How many, evenly over the area at rest.",
            (1, 10_000),
            hard=(1, 1_000_000),
            scale="log",
            shown_when=("on", ("surface",)),
        ),
        "share": number(
            100.0,
            "Share",
            "Of these places, chosen by chance.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            idle=100.0,
        ),
        "aligned": switch(True, "Aligned", "Their y axis points away from the surface."),
        "offset": number(0.0, "Offset", "From the surface.", "m", (-0.5, 0.5), idle=0.0),
        "apart": number(
            0.0,
            "Kept apart",
            "No two are nearer than this at rest.",
            "m",
            (0.0, 0.5),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
        **UNEVEN_VALUES,
    },
    sentence="Copies on {piece}, at {on}[, {share} of them][, {apart} apart]"
    "[, sizes from {smallest}]",
    apply=apply,
    suggest=suggest,
    acts_on=lambda mesh: len(mesh.points) > 0,
    specimen=Specimen(
        (
            "cone",
            {"bottom": 0.05, "top": 0.0, "height": 0.22, "around": 8, "rows": 1, "cap_rings": 1},
        ),
        {"piece": "o", "on": "points", "smallest": 30.0, "offset": sine(0.0, 0.1)},
        other=("icosphere", {"radius": 0.55, "halvings": 2}),
        shows_other=True,
    ),
    order=50,
)
