"""Three numbers a point, in memory x y z x y z, taken apart for SIMD and put together again.

Arrays of (P, 3) are read flat: that a row has three numbers is known only at run time, and a
stride unknown to the compiler keeps a loop from using SIMD. With the 3 written out it shuffles
whole registers, and a twist of 40,962 points takes a third of the time.
"""

from __future__ import annotations

import numpy as np
from numba import float32

from zygomorph.core.kernels.compiled import per_block


@per_block
def split(flat, lo, m, x, y, z):  # type: ignore[no-untyped-def]
    """Copy ``m`` points from number ``lo`` on to ``x[:m]``, ``y[:m]`` and ``z[:m]``.

    flat : (3 P,) float32, a (P, 3) array reshaped
    """
    here = flat[3 * lo : 3 * (lo + m)]
    for i in range(m):
        x[i] = here[3 * i]
        y[i] = here[3 * i + 1]
        z[i] = here[3 * i + 2]


@per_block
def merge(x, y, z, lo, m, flat):  # type: ignore[no-untyped-def]
    """Write ``m`` points to ``flat`` (3 P,) from number ``lo`` on."""
    there = flat[3 * lo : 3 * (lo + m)]
    for i in range(m):
        there[3 * i] = x[i]
        there[3 * i + 1] = y[i]
        there[3 * i + 2] = z[i]


@per_block
def write_units(x, y, z, lo, m, flat):  # type: ignore[no-untyped-def]
    """Write ``m`` vectors at length 1; where there is none, up."""
    for i in range(m):
        length = np.sqrt(x[i] * x[i] + y[i] * y[i] + z[i] * z[i])
        found = float32(1.0) if length > float32(1e-30) else float32(0.0)
        scale = found / max(length, float32(1e-30))
        x[i] = x[i] * scale
        y[i] = y[i] * scale + (float32(1.0) - found)
        z[i] = z[i] * scale
    merge(x, y, z, lo, m, flat)


@per_block
def transform(rows, m, x, y, z):  # type: ignore[no-untyped-def]
    """Carry ``m`` points in their place by the upper three rows, (3, 4), of a matrix."""
    m00, m01, m02, m03 = rows[0, 0], rows[0, 1], rows[0, 2], rows[0, 3]
    m10, m11, m12, m13 = rows[1, 0], rows[1, 1], rows[1, 2], rows[1, 3]
    m20, m21, m22, m23 = rows[2, 0], rows[2, 1], rows[2, 2], rows[2, 3]
    for i in range(m):
        a = m00 * x[i] + m01 * y[i] + m02 * z[i] + m03
        b = m10 * x[i] + m11 * y[i] + m12 * z[i] + m13
        c = m20 * x[i] + m21 * y[i] + m22 * z[i] + m23
        x[i], y[i], z[i] = a, b, c
