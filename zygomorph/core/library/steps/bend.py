"""Bend a spine into a circular arc: A. Barr, SIGGRAPH 1984.

Between the limits the spine becomes an arc of constant curvature and keeps its length; beyond
them the form goes on straight. The closed form is written with sin θ / θ and (1 - cos θ) / θ, so
that it passes smoothly through no bend at all.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.context import Context
from zygomorph.core.grips import turn
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.steps.spine import ROWS, enter_spine, leave_spine
from zygomorph.core.trigonometry import sine_cosine
from zygomorph.core.values import number


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2W))
def _bend(points, rows, centre, low, high, angle, weight, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((ROWS, BLOCK), np.float32)
        a, h, amount, mask = work[0], work[1], work[3], work[4]
        begin, per_span = work[5], work[6]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            enter_spine(flat, rows, centre, low, high, angle, weight, lo, m, work)
            for i in range(m):
                end = begin[i] + float32(1.0) / per_span[i]
                # The arc is anchored at the point of the spine nearest to the centre.
                anchor = min(max(float32(0.0), begin[i]), end)
                along = min(max(h[i], begin[i]), end) - anchor
                beyond = h[i] - anchor - along
                theta = amount[i] * mask[i] * along * per_span[i]
                s, c = sine_cosine(theta)
                square = theta * theta
                small = abs(theta) < float32(0.03)
                safe = float32(1.0) if small else theta
                sine_share = float32(1.0) - square / float32(6.0) if small else s / safe
                rise = theta * (float32(0.5) - square / float32(24.0))
                cosine_share = rise if small else (float32(1.0) - c) / safe
                p = a[i] * c + along * cosine_share + beyond * s
                h[i] = anchor + along * sine_share - a[i] * s + beyond * c
                a[i] = p
            leave_spine(work, rows, centre, lo, m, flat_out)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values, values.scalar("towards"))
    out = np.empty_like(mesh.points)
    _bend(
        mesh.points, rows, centre, *limits(values), np.radians(values.array("angle")), weights, out
    )
    return mesh.moved(out)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Limits that hold the mesh; a form that lies flat bends upwards, not within its own plane."""
    found = limits_of(mesh)
    upright = not found or found["axis"][1] == 1.0
    return found if upright else {**found, "towards": 90.0}


DEFINITION = Definition(
    sort="step",
    key="bend",
    title="Bend",
    group="bend",
    help="Curves the form along its axis into an arc; the point of the axis nearest to the centre "
    "stays.",
    also=("arc", "arch", "fold", "curl up"),
    values={
        "angle": number(60.0, "Angle", "Angle of the whole arc.", "°", (-360.0, 360.0)),
        "towards": number(
            0.0,
            "Towards",
            "The side it bends to, turned about the axis, right-handed.",
            "°",
            (-180.0, 180.0),
            period=360.0,
        ),
        **AXIS_VALUES,
    },
    sentence="Bend {angle} from {low} to {high}",
    apply=apply,
    each=frozenset({"angle", "low", "high"}),
    alone=True,
    version=2,
    suggest=suggest,
    handle="axis",
    grips=(turn("towards", "axis", "centre"),),
    order=10,
)
