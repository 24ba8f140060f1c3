"""Taper: sections across an axis grow or shrink along it. A. Barr, SIGGRAPH 1984."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.steps.spine import ROWS, enter_spine, leave_spine, share_between
from zygomorph.core.values import choice, number


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, types.boolean, F2W))
def _taper(points, rows, centre, low, high, ratio, weight, smooth, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    roundness = float32(1.0) if smooth else float32(0.0)
    for chunk in prange(CHUNKS):
        work = np.empty((ROWS, BLOCK), np.float32)
        a, h, b, amount, mask = work[0], work[1], work[2], work[3], work[4]
        begin, per_span = work[5], work[6]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            enter_spine(flat, rows, centre, low, high, ratio, weight, lo, m, work)
            for i in range(m):
                share = share_between(h[i], begin[i], per_span[i])
                eased = share * share * (float32(3.0) - float32(2.0) * share)
                share = share + roundness * (eased - share)
                scale = float32(1.0) + share * (amount[i] - float32(1.0)) * mask[i]
                a[i] = a[i] * scale
                b[i] = b[i] * scale
            leave_spine(work, rows, centre, lo, m, flat_out)


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
    help="Narrows or widens the form along its axis; the near end keeps its width.",
    also=("narrow", "pinch", "cone", "shrink"),
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
    each=frozenset({"ratio", "low", "high"}),
    alone=True,
    suggest=limits_of,
    handle="axis",
    order=30,
)
