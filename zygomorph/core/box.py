"""The box around points, found in one pass that also notices what is not a finite number."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.compiled import F2, F2W, kernel

PARTS = 16


@kernel(types.void(F2, F2W), fastmath=False)
def _box(points, out):  # type: ignore[no-untyped-def]
    """``out`` (PARTS, 7): lows, highs, and a sum that is not finite where a coordinate is not."""
    n = points.shape[0]
    part = (n + PARTS - 1) // PARTS
    for p in prange(PARTS):
        x0 = y0 = z0 = float32(np.inf)
        x1 = y1 = z1 = float32(-np.inf)
        odd = float32(0.0)
        for i in range(p * part, min(n, (p + 1) * part)):
            x = points[i, 0]
            y = points[i, 1]
            z = points[i, 2]
            x0 = min(x0, x)
            y0 = min(y0, y)
            z0 = min(z0, z)
            x1 = max(x1, x)
            y1 = max(y1, y)
            z1 = max(z1, z)
            odd += (x - x) + (y - y) + (z - z)
        out[p, 0] = x0
        out[p, 1] = y0
        out[p, 2] = z0
        out[p, 3] = x1
        out[p, 4] = y1
        out[p, 5] = z1
        out[p, 6] = odd


def box_of(points: np.ndarray) -> tuple[np.ndarray, np.ndarray, bool]:
    """Lowest and highest corner, (3,) float64 each, and whether all coordinates are finite.

    points : (P, 3) float32; for no points the box is the origin
    """
    if len(points) == 0:
        return np.zeros(3), np.zeros(3), True
    parts = np.empty((PARTS, 7), np.float32)
    _box(points, parts)
    low = parts[:, 0:3].min(axis=0).astype(np.float64)
    high = parts[:, 3:6].max(axis=0).astype(np.float64)
    return low, high, bool(np.all(parts[:, 6] == 0.0))
