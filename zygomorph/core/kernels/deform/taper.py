"""Make cross-sections larger or smaller along an axis."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.kernels.spine import ROWS, enter_spine, leave_spine, share_between


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, types.boolean, F2W), first=130)
def taper(points, rows, centre, low, high, ratio, weight, smooth, out):  # type: ignore[no-untyped-def]
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
