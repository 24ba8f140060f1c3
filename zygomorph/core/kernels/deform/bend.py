"""Bend points round an axis."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel
from zygomorph.core.kernels.spine import ROWS, enter_spine, leave_spine
from zygomorph.core.kernels.trigonometry import sine_cosine


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2W), first=170)
def bend(points, rows, centre, low, high, angle, weight, out):  # type: ignore[no-untyped-def]
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
