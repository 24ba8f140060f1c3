"""The box around points, found in one pass that also notices what is not a finite number."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.compiled import CHUNKS, F2, F2W, first_of, kernel
from zygomorph.core.noise.lattice import float_bits

LARGEST = float32(3.4e38)
# Coordinates are taken as they lie, x y z x y z; a row of lanes is a whole number of points, so
# that each lane sees one axis only and the loop over lanes becomes SIMD.
LANES = 48


@kernel(types.void(F2, F2W, F2W))
def _box(points, parts, out):  # type: ignore[no-untyped-def]
    """``out`` (1, 7): lowest, highest, and 1 where any coordinate is not finite.

    ``parts`` (CHUNKS, 7) is room to work in. What is not finite has an exponent of only ones,
    which is asked of the bits, so that the compiler may take all numbers for finite ones.
    """
    flat = points.reshape(-1)
    n = flat.shape[0]
    rows = n // LANES
    for p in prange(CHUNKS):
        least = np.full(LANES, LARGEST, np.float32)
        most = np.full(LANES, -LARGEST, np.float32)
        bits = np.zeros(LANES, np.uint32)
        for row in range(first_of(p, rows), first_of(p + 1, rows)):
            here = flat[row * LANES : (row + 1) * LANES]
            for k in range(LANES):
                v = here[k]
                least[k] = min(least[k], v)
                most[k] = max(most[k], v)
                bits[k] = max(bits[k], uint32(float_bits(v) & uint32(0x7FFFFFFF)))
        if p == CHUNKS - 1:
            for i in range(rows * LANES, n):
                k = i % 3
                least[k] = min(least[k], flat[i])
                most[k] = max(most[k], flat[i])
                bits[k] = max(bits[k], uint32(float_bits(flat[i]) & uint32(0x7FFFFFFF)))
        parts[p, 6] = float32(0.0)
        for axis in range(3):
            parts[p, axis] = least[axis::3].min()
            parts[p, 3 + axis] = most[axis::3].max()
        if bits.max() >= uint32(0x7F800000):
            parts[p, 6] = float32(1.0)
    for k in range(7):
        value = parts[0, k]
        for p in range(1, CHUNKS):
            value = min(value, parts[p, k]) if k < 3 else max(value, parts[p, k])
        out[0, k] = value


def box_of(points: np.ndarray) -> tuple[np.ndarray, np.ndarray, bool]:
    """Lowest and highest corner, (3,) float64 each, and whether all coordinates are finite.

    points : (P, 3) float32; for no points the box is the origin
    """
    if len(points) == 0:
        return np.zeros(3), np.zeros(3), True
    out = np.empty((1, 7), np.float32)
    _box(points, np.empty((CHUNKS, 7), np.float32), out)
    found = out[0].astype(np.float64)
    return found[0:3], found[3:6], bool(out[0, 6] == 0.0)
