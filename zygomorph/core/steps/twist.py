"""Twist about an axis: A. Barr, "Global and Local Deformations of Solid Primitives", SIGGRAPH 1984.

Every plane across the axis turns by an angle that grows from one limit to the other; outside the
limits it stays. Volume is kept: the Jacobian's determinant is 1.
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import F1, F2, F2W, at, kernel
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.trigonometry import sine_cosine
from zygomorph.core.values import number


@kernel(types.void(F2, F2, F1, types.float32, types.float32, F1, F1, F2W))
def _twist(points, rows, centre, low, high, angle, weight, out):  # type: ignore[no-untyped-def]
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
        turn = share * at(angle, i) * at(weight, i)
        s, c = sine_cosine(turn)
        p = c * a + s * b
        q = c * b - s * a
        out[i, 0] = ax * p + hx * h + bx * q + ox
        out[i, 1] = ay * p + hy * h + by * q + oy
        out[i, 2] = az * p + hz * h + bz * q + oz


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    out = np.empty_like(mesh.points)
    _twist(
        mesh.points, rows, centre, *limits(values), np.radians(values.array("angle")), weights, out
    )
    return mesh.moved(out)


DEFINITION = Definition(
    sort="step",
    key="twist",
    title="Twist",
    group="bend",
    help="Turns the far end against the near end, like wringing a cloth.",
    values={
        "angle": number(
            90.0, "Angle", "How far the end is turned against the beginning.", "°", (-720.0, 720.0)
        ),
        **AXIS_VALUES,
    },
    sentence="Twist {angle} from {low} to {high}",
    apply=apply,
    suggest=limits_of,
    handle="axis",
    order=20,
)
