"""Taper: sections across an axis grow or shrink along it. A. Barr, SIGGRAPH 1984."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import F1, F2, F2W, at, kernel
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.values import choice, number


@kernel(types.void(F2, F2, F1, types.float32, types.float32, F1, F1, types.boolean, F2W))
def _taper(points, rows, centre, low, high, ratio, weight, smooth, out):  # type: ignore[no-untyped-def]
    # Read once: what is stored to might be these arrays for all the compiler knows.
    ax, ay, az = rows[0, 0], rows[0, 1], rows[0, 2]
    hx, hy, hz = rows[1, 0], rows[1, 1], rows[1, 2]
    bx, by, bz = rows[2, 0], rows[2, 1], rows[2, 2]
    ox, oy, oz = centre[0], centre[1], centre[2]
    for i in prange(points.shape[0]):
        x = points[i, 0] - ox
        y = points[i, 1] - oy
        z = points[i, 2] - oz
        a = ax * x + ay * y + az * z
        h = hx * x + hy * y + hz * z
        b = bx * x + by * y + bz * z
        share = min(max((h - low) / (high - low), float32(0.0)), float32(1.0))
        share = share * share * (float32(3.0) - float32(2.0) * share) if smooth else share
        change = (at(ratio, i) - float32(1.0)) * at(weight, i)
        scale = float32(1.0) + share * change
        p = a * scale
        q = b * scale
        out[i, 0] = ax * p + hx * h + bx * q + ox
        out[i, 1] = ay * p + hy * h + by * q + oy
        out[i, 2] = az * p + hz * h + bz * q + oz


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    out = np.empty_like(mesh.points)
    ratio = values.array("ratio") / np.float32(100)
    _taper(
        mesh.points,
        rows,
        centre,
        *limits(values),
        ratio,
        weights,
        values.word("course") == "smooth",
        out,
    )
    return mesh.moved(out)


DEFINITION = Definition(
    sort="step",
    key="taper",
    title="Taper",
    group="bend",
    help="Narrows or widens the form along its axis.",
    values={
        "ratio": number(
            30.0, "Width", "How wide the end is, against its width before.", "%", (0.0, 200.0)
        ),
        "course": choice(
            "linear",
            "Course",
            "How the width goes from one end to the other.",
            {"linear": "linear", "smooth": "smooth"},
        ),
        **AXIS_VALUES,
    },
    sentence="Taper to {ratio} from {low} to {high}",
    apply=apply,
    suggest=limits_of,
    handle="axis",
    order=30,
)
