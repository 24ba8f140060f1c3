"""The mean of the neighbours of each point."""

from __future__ import annotations

from numba import float32, prange, types

from zygomorph.core.kernels.compiled import CHUNKS, F1, F2, F2W, I1, first_of, kernel


@kernel(types.void(F2, I1, I1, F1, F2W))
def umbrella(points, starts, neighbours, share, out):  # type: ignore[no-untyped-def]
    """share : (P,), how much of the way each point goes"""
    n = points.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo, hi = starts[p], starts[p + 1]
            x = float32(0.0)
            y = float32(0.0)
            z = float32(0.0)
            for k in range(lo, hi):
                q = neighbours[k]
                x += points[q, 0] - points[p, 0]
                y += points[q, 1] - points[p, 1]
                z += points[q, 2] - points[p, 2]
            part = share[p] / float32(max(hi - lo, 1))
            out[p, 0] = points[p, 0] + part * x
            out[p, 1] = points[p, 1] + part * y
            out[p, 2] = points[p, 2] + part * z
