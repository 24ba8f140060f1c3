"""A flat front: nothing before it, everything behind it."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.masks.measured import MEASURED, measured_points
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import spine_of, unit
from zygomorph.core.triples import apart
from zygomorph.core.values import direction, number, vector


@kernel(types.void(F2, F1, types.float32, F1, F1W))
def _behind(points, towards, start, width, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    tx, ty, tz = towards[0], towards[1], towards[2]
    for chunk in prange(CHUNKS):
        work = np.empty((4, BLOCK), np.float32)
        x, y, z, wide = work[0], work[1], work[2], work[3]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(width, lo, m, wide)
            apart(flat, lo, m, x, y, z)
            course = out[lo : lo + m]
            for i in range(m):
                way = x[i] * tx + y[i] * ty + z[i] * tz - start
                course[i] = way / wide[i] + float32(0.5)


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    towards = unit(values.vector("direction"))
    width = np.maximum(values.array("width"), np.float32(1e-6))
    out = np.empty(len(mesh.points), np.float32)
    points = measured_points(mesh, values, context)
    start = np.float32(values.vector("position") @ towards)
    _behind(points, towards.astype(np.float32), start, width, out)
    return out


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    size = high - low
    return {
        "position": [round(float(m), 3) for m in (low + high) / 2],
        "direction": np.eye(3)[spine_of(size)].tolist(),
        "width": round(float(size.max()) / 2, 3) or 0.5,
    }


DEFINITION = Definition(
    sort="layer",
    key="linear",
    title="Linear front",
    group="fronts",
    help="A flat front: 0 on one side, 1 on the other, with a soft edge of a chosen width.",
    also=("front", "sweep", "wipe", "gradient", "plane", "ramp"),
    values={
        "position": vector((0.0, 0.0, 0.0), "Position", "A point in the middle of the front."),
        "direction": direction((0.0, 1.0, 0.0), "Direction", "Towards where the weight is 1."),
        "width": number(
            0.5,
            "Width",
            "From weight 0 to weight 1.",
            "m",
            (0.01, 3.0),
            scale="log",
            hard=(0.0, 1e6),
        ),
        "measured": MEASURED,
    },
    sentence="front {width} wide",
    apply=apply,
    each=frozenset({"width"}),
    alone=True,
    reads=frozenset({"place"}),
    suggest=suggest,
    handle="front",
    order=10,
)
