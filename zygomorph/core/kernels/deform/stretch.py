"""Pull points apart along an axis."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.kernels.spine import ROWS, enter_spine, leave_spine

# How far beyond a limit the width comes back, as a share of the way between the limits.
RAMP = 0.25


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, types.boolean, F2W))
def stretch(points, rows, centre, low, high, ratio, weight, keeps, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    one = float32(1.0)
    for chunk in prange(CHUNKS):
        work = np.empty((ROWS, BLOCK), np.float32)
        a, h, b, amount, mask = work[0], work[1], work[2], work[3], work[4]
        begin, per_span = work[5], work[6]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            enter_spine(flat, rows, centre, low, high, ratio, weight, lo, m, work)
            for i in range(m):
                end = begin[i] + one / per_span[i]
                # Anchored at the point of the spine nearest to the centre, as a bend is.
                anchor = min(max(float32(0.0), begin[i]), end)
                inside = min(max(h[i], begin[i]), end)
                factor = one + (amount[i] - one) * mask[i]
                away = h[i] - inside
                h[i] = anchor + (inside - anchor) * factor + away
                if keeps:
                    thin = one / np.sqrt(max(factor, float32(1e-6)))
                    ramp = float32(RAMP) / per_span[i]
                    slope = (one - thin) / ramp
                    # The integral of 1 / width² over the first part of a ramp (derived).
                    near = min(abs(away), ramp)
                    width = thin + slope * near
                    longer = near / (thin * width) - near
                    h[i] = h[i] + (longer if away > float32(0.0) else -longer)
                    a[i] = a[i] * width
                    b[i] = b[i] * width
            leave_spine(work, rows, centre, lo, m, flat_out)
