"""A ball: 1 inside, 0 outside, with a soft shell."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.masks.measured import MEASURED, measured_points
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.triples import apart
from zygomorph.core.values import number, vector


@kernel(types.void(F2, F1, F1, F1, F1W))
def _inside(points, centre, radius, shell, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    cx, cy, cz = centre[0], centre[1], centre[2]
    for chunk in prange(CHUNKS):
        work = np.empty((5, BLOCK), np.float32)
        x, y, z, reach, soft = work[0], work[1], work[2], work[3], work[4]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(radius, lo, m, reach)
            load(shell, lo, m, soft)
            apart(flat, lo, m, x, y, z)
            weight = out[lo : lo + m]
            for i in range(m):
                a = x[i] - cx
                b = y[i] - cy
                c = z[i] - cz
                inside = (reach[i] - np.sqrt(a * a + b * b + c * c)) / soft[i]
                weight[i] = min(max(inside, float32(0.0)), float32(1.0))


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    radius = values.array("radius")
    shell = np.maximum(radius * values.array("softness") / np.float32(100), np.float32(1e-6))
    out = np.empty(len(mesh.points), np.float32)
    points = measured_points(mesh, values, context)
    centre = values.vector("centre").astype(np.float32)
    _inside(points, centre, radius, shell, out)
    return out


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    middle = (low + high) / 2
    centre = [float(middle[0]), float(high[1]), float(middle[2])]
    return {
        "centre": [round(c, 3) for c in centre],
        "radius": round(float((high - low).max()) / 2, 3) or 0.5,
    }


DEFINITION = Definition(
    sort="layer",
    key="ball",
    title="Ball",
    group="solids",
    help="1 inside a ball, falling to 0 at its radius.",
    also=("sphere", "radius", "around"),
    values={
        "centre": vector((0.0, 0.0, 0.0), "Centre", "The middle of the ball."),
        "radius": number(
            0.5, "Radius", "Where the weight has become 0.", "m", (0.01, 3.0), hard=(0.0, 1e6)
        ),
        "softness": number(
            60.0,
            "Softness",
            "Share of the radius over which it falls off.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "measured": MEASURED,
    },
    sentence="ball of {radius}",
    apply=apply,
    each=frozenset({"radius", "softness"}),
    alone=True,
    reads=frozenset({"place"}),
    suggest=suggest,
    handle="ball",
    order=20,
)
