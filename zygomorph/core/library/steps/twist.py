"""Twist about an axis: A. Barr, "Global and Local Deformations of Solid Primitives", SIGGRAPH 1984.

Every plane across the axis turns by an angle that grows from one limit to the other; outside the
limits it stays. Volume is kept: the Jacobian's determinant is 1.
"""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.context import Context
from zygomorph.core.grips import turn
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.steps.spine import ROWS, enter_spine, leave_spine, share_between
from zygomorph.core.trigonometry import sine_cosine
from zygomorph.core.values import number


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2W))
def _twist(points, rows, centre, low, high, angle, weight, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((ROWS, BLOCK), np.float32)
        a, h, b, amount, mask = work[0], work[1], work[2], work[3], work[4]
        begin, per_span = work[5], work[6]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            enter_spine(flat, rows, centre, low, high, angle, weight, lo, m, work)
            for i in range(m):
                turn = share_between(h[i], begin[i], per_span[i]) * amount[i] * mask[i]
                s, c = sine_cosine(turn)
                p = c * a[i] + s * b[i]
                b[i] = c * b[i] - s * a[i]
                a[i] = p
            leave_spine(work, rows, centre, lo, m, flat_out)


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
    help="Turns the far end against the near end, which stays, like wringing a cloth.",
    also=("wring", "spiral", "screw", "turn"),
    values={
        "angle": number(
            90.0, "Angle", "How far the end is turned against the beginning.", "°", (-720.0, 720.0)
        ),
        **AXIS_VALUES,
    },
    sentence="Twist {angle} from {low} to {high}",
    apply=apply,
    each=frozenset({"angle", "low", "high"}),
    alone=True,
    suggest=limits_of,
    handle="axis",
    grips=(turn("angle", "axis", "centre"),),
    order=20,
)
