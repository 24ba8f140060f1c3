"""Push points by noise: along the normals, along an axis, or every way at once."""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.pattern_values import PATTERN_VALUES, sample_pattern
from zygomorph.core.normals import point_normals
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import unit
from zygomorph.core.triples import apart, together
from zygomorph.core.values import choice, direction, number


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2W))
def _push(points, along, pattern, amount, weight, brightness, contrast, out):  # type: ignore[no-untyped-def]
    """``along`` has one direction for all points, or one for each."""
    n = points.shape[0]
    flat, ways, flat_out = points.reshape(-1), along.reshape(-1), out.reshape(-1)
    each = along.shape[0] != 1
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((10, BLOCK), np.float32)
        push, factor, shift, share = work[0], work[1], work[2], work[3]
        x, y, z, u, v, w = work[4], work[5], work[6], work[7], work[8], work[9]
        if not each:
            u[:], v[:], w[:] = ways[0], ways[1], ways[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            height = pattern[lo : lo + m]
            load(amount, lo, m, push)
            load(contrast, lo, m, factor)
            load(brightness, lo, m, shift)
            load(weight, lo, m, share)
            for i in range(m):
                push[i] = (height[i] * factor[i] + shift[i]) * push[i] * share[i]
            apart(flat, lo, m, x, y, z)
            if each:
                apart(ways, lo, m, u, v, w)
            for i in range(m):
                x[i] = x[i] + push[i] * u[i]
                y[i] = y[i] + push[i] * v[i]
                z[i] = z[i] + push[i] * w[i]
            together(x, y, z, lo, m, flat_out)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    shared = [values.array("amount"), weights, values.array("brightness"), values.array("contrast")]
    if values.word("along") == "vector":
        points = mesh.points
        for component, axis in enumerate(np.eye(3, dtype=np.float32)):
            pattern = sample_pattern(mesh, values, context, component)
            out = np.empty_like(points)
            _push(points, axis[None, :], pattern, *shared, out)
            points = out
        return mesh.moved(points)
    if values.word("along") == "normal":
        along = point_normals(mesh)
    else:
        along = unit(values.vector("direction"))[None, :].astype(np.float32)
    out = np.empty_like(mesh.points)
    _push(mesh.points, along, sample_pattern(mesh, values, context), *shared, out)
    return mesh.moved(out)


def suggest(mesh: Mesh) -> dict[str, float]:
    """A push and a pattern that suit the size of the mesh."""
    if len(mesh.points) == 0:
        return {}
    size = float((mesh.points.max(axis=0) - mesh.points.min(axis=0)).max())
    if not size:
        return {}
    return {"amount": float(f"{size * 0.12:.2g}"), "size": float(f"{size * 0.4:.2g}")}


DEFINITION = Definition(
    sort="step",
    key="displace",
    title="Displace",
    group="push",
    help="Pushes the surface in and out by a noise pattern.",
    values={
        "amount": number(
            0.15, "Amount", "How far the pattern's full height pushes.", "m", (-1.0, 1.0)
        ),
        "along": choice(
            "normal",
            "Along",
            "The way each point is pushed.",
            {"normal": "the normals", "axis": "a direction", "vector": "every way"},
        ),
        "direction": direction(
            (0.0, 1.0, 0.0),
            "Direction",
            "The way all points are pushed.",
            shown_when=("along", ("axis",)),
        ),
        **PATTERN_VALUES,
    },
    sentence="Push {amount} along {along} by {noise}, {octaves} octaves",
    apply=apply,
    # The pattern may be sampled in space, through the piece's place.
    reads=frozenset({"place"}),
    suggest=suggest,
    order=10,
)
