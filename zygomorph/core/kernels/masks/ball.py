"""How far inside a ball points are."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.kernels.structure_of_arrays import split


@kernel(types.void(F2, F1, F1, F1, F1W), first=100)
def inside(points, centre, radius, shell, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    cx, cy, cz = centre[0], centre[1], centre[2]
    for chunk in prange(CHUNKS):
        work = np.empty((5, BLOCK), np.float32)
        x, y, z, reach, soft = work[0], work[1], work[2], work[3], work[4]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(radius, lo, m, reach)
            load(shell, lo, m, soft)
            split(flat, lo, m, x, y, z)
            weight = out[lo : lo + m]
            for i in range(m):
                a = x[i] - cx
                b = y[i] - cy
                c = z[i] - cz
                inside = (reach[i] - np.sqrt(a * a + b * b + c * c)) / soft[i]
                weight[i] = min(max(inside, float32(0.0)), float32(1.0))
