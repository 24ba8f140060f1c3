"""Sine and cosine together, in float32, without a library call, so that loops become SIMD.

Range reduction by a two-part π/2 (W. Cody & W. Waite, "Software Manual for the Elementary
Functions", 1980) and the minimax polynomials of S. Moshier's Cephes library (sinf.c; from
memory). For angles up to a few hundred radians the error stays below 3e-7.
"""

from __future__ import annotations

from numba import float32, int32

from zygomorph.core.kernels.compiled import inline


@inline
def sine_cosine(angle):  # type: ignore[no-untyped-def]
    """(sin, cos) of an angle in radians."""
    turns = angle * float32(0.6366197723675814)
    quarter = int32(turns + (float32(0.5) if turns >= float32(0.0) else float32(-0.5)))
    q = float32(quarter)
    r = angle - q * float32(1.5703125)
    r = r - q * float32(4.83751296997e-4)
    r = r - q * float32(7.5497899548e-8)
    z = r * r
    s = float32(-1.9515295891e-4) * z + float32(8.3321608736e-3)
    s = (s * z - float32(1.6666654611e-1)) * z * r + r
    c = float32(2.443315711809948e-5) * z - float32(1.388731625493765e-3)
    c = (c * z + float32(4.166664568298827e-2)) * z * z - float32(0.5) * z + float32(1.0)
    odd = (quarter & int32(1)) == int32(1)
    sine = c if odd else s
    cosine = s if odd else c
    sine = -sine if (quarter & int32(2)) == int32(2) else sine
    cosine = -cosine if ((quarter + int32(1)) & int32(2)) == int32(2) else cosine
    return sine, cosine
