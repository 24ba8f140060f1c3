"""The exponential function in float32, without a library call, so that loops become SIMD.

Range reduction by a two-part ln 2 and the minimax polynomial of S. Moshier's Cephes library
(expf.c; from memory). The relative error stays below 3e-7; below -87 the result is about 0.
"""

from __future__ import annotations

from numba import float32, uint32

from zygomorph.core.kernels.compiled import inline
from zygomorph.core.kernels.noise.lattice import bits_float, floor_to_int


@inline
def exponential(x):  # type: ignore[no-untyped-def]
    """e to the power of x."""
    x = min(max(x, float32(-87.0)), float32(88.0))
    power = floor_to_int(x * float32(1.44269504088896341) + float32(0.5))
    whole = float32(power)
    r = x - whole * float32(0.693359375)
    r = r + whole * float32(2.12194440e-4)
    y = float32(1.9875691500e-4) * r + float32(1.3981999507e-3)
    y = y * r + float32(8.3334519073e-3)
    y = y * r + float32(4.1665795894e-2)
    y = y * r + float32(1.6666665459e-1)
    y = y * r + float32(5.0000001201e-1)
    y = y * r * r + r + float32(1.0)
    return y * bits_float(uint32(uint32(power + 127) << uint32(23)))
