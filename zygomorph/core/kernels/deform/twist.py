"""Turn points about an axis, more and more along it."""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.kernels.spine import ROWS, enter_spine, leave_spine, share_between
from zygomorph.core.kernels.trigonometry import sine_cosine


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2W), first=120)
def twist(points, rows, centre, low, high, angle, weight, out):  # type: ignore[no-untyped-def]
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
