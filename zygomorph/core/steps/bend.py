"""Bend a spine into a circular arc: A. Barr, SIGGRAPH 1984.

Between the limits the spine becomes an arc of constant curvature and keeps its length; beyond
them the form goes on straight. The closed form is written with sin θ / θ and (1 - cos θ) / θ, so
that it passes smoothly through no bend at all.
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
def _bend(points, rows, centre, low, high, angle, weight, out):  # type: ignore[no-untyped-def]
    # The arc is anchored at the point of the spine nearest to the centre.
    anchor = min(max(float32(0.0), low), high)
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
        total = at(angle, i) * at(weight, i)
        along = min(max(h, low), high) - anchor
        beyond = h - anchor - along
        theta = total * along / (high - low)
        s, c = sine_cosine(theta)
        square = theta * theta
        if abs(theta) < float32(0.03):
            lift = along * (float32(1.0) - square / float32(6.0))
            drift = along * theta * (float32(0.5) - square / float32(24.0))
        else:
            lift = along * s / theta
            drift = along * (float32(1.0) - c) / theta
        p = a * c + drift + beyond * s
        q = anchor + lift - a * s + beyond * c
        out[i, 0] = ax * p + hx * q + bx * b + ox
        out[i, 1] = ay * p + hy * q + by * b + oy
        out[i, 2] = az * p + hz * q + bz * b + oz


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values, values.scalar("towards"))
    out = np.empty_like(mesh.points)
    _bend(
        mesh.points, rows, centre, *limits(values), np.radians(values.array("angle")), weights, out
    )
    return mesh.moved(out)


DEFINITION = Definition(
    sort="step",
    key="bend",
    title="Bend",
    group="bend",
    help="Curves the form along its axis into an arc.",
    values={
        "angle": number(60.0, "Angle", "Angle of the whole arc.", "°", (-360.0, 360.0)),
        "towards": number(
            0.0, "Towards", "The side it bends to, about the axis.", "°", (-180.0, 180.0)
        ),
        **AXIS_VALUES,
    },
    sentence="Bend {angle} from {low} to {high}",
    apply=apply,
    suggest=limits_of,
    handle="axis",
    order=10,
)
