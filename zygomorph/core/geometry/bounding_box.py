"""The box around points, found in one pass that also notices what is not a finite number."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.kernels.compiled import CHUNKS, F2, F2W, N2W, first_of, kernel
from zygomorph.core.kernels.noise.lattice import float_bits

LARGEST = float32(3.4e38)
NOT_FINITE = 0x7F800000
# Coordinates are taken as they lie, x y z x y z; a row of lanes is a whole number of points, so
# that each lane sees one axis only and the loop over lanes becomes SIMD.
LANES = 48


@kernel(types.void(F2, F2W, F2W, N2W), first=0)
def _box(points, least, most, bits):  # type: ignore[no-untyped-def]
    """Into rows of (CHUNKS, LANES) the lowest and highest of each lane, and the largest of its
    numbers' bits without their sign.

    What is not finite has an exponent of only ones, which is asked of the bits, so that the
    compiler may take all numbers for finite ones.
    """
    flat = points.reshape(-1)
    n = flat.shape[0]
    rows = n // LANES
    for p in prange(CHUNKS):
        low, high, large = least[p], most[p], bits[p]
        low[:] = LARGEST
        high[:] = -LARGEST
        large[:] = uint32(0)
        # The last chunk takes the rest, which fills no row.
        for row in range(first_of(p, rows), first_of(p + 1, rows)):
            here = flat[row * LANES : (row + 1) * LANES]
            for k in range(LANES):
                v = here[k]
                low[k] = min(low[k], v)
                high[k] = max(high[k], v)
                large[k] = max(large[k], uint32(float_bits(v) & uint32(0x7FFFFFFF)))
        if p == CHUNKS - 1:
            rest = flat[rows * LANES :]
            for k in range(rest.shape[0]):
                v = rest[k]
                low[k] = min(low[k], v)
                high[k] = max(high[k], v)
                large[k] = max(large[k], uint32(float_bits(v) & uint32(0x7FFFFFFF)))


def box_of(points: np.ndarray) -> tuple[np.ndarray, np.ndarray, bool]:
    """Lowest and highest corner, (3,) float64 each, and whether all coordinates are finite.

    points : (P, 3) float32; for no points the box is the origin
    """
    if len(points) == 0:
        return np.zeros(3), np.zeros(3), True
    least, most = np.empty((2, CHUNKS, LANES), np.float32)
    bits = np.empty((CHUNKS, LANES), np.uint32)
    _box(points, least, most, bits)
    low = least.reshape(-1, 3).min(axis=0).astype(np.float64)
    high = most.reshape(-1, 3).max(axis=0).astype(np.float64)
    return low, high, bool(bits.max() < NOT_FINITE)
