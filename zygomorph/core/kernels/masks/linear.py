"""How far behind a plane points are."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.kernels.structure_of_arrays import split


@kernel(types.void(F2, F1, types.float32, F1, F1W), first=90)
def behind(points, towards, start, width, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    tx, ty, tz = towards[0], towards[1], towards[2]
    for chunk in prange(CHUNKS):
        work = np.empty((4, BLOCK), np.float32)
        x, y, z, wide = work[0], work[1], work[2], work[3]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(width, lo, m, wide)
            split(flat, lo, m, x, y, z)
            raw = out[lo : lo + m]
            for i in range(m):
                way = x[i] * tx + y[i] * ty + z[i] * tz - start
                raw[i] = way / wide[i] + float32(0.5)
