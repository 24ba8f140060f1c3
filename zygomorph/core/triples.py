"""Three numbers a point, in memory x y z x y z, taken apart for SIMD and put together again.

Arrays of (P, 3) are read flat: that a row has three numbers is known only at run time, and a
stride unknown to the compiler keeps a loop from using SIMD. With the 3 written out it shuffles
whole registers, and a twist of 40,962 points takes a third of the time.
"""

from __future__ import annotations

from zygomorph.core.compiled import inline


@inline
def apart(flat, lo, m, x, y, z):  # type: ignore[no-untyped-def]
    """Copy ``m`` points from number ``lo`` on to ``x[:m]``, ``y[:m]`` and ``z[:m]``.

    flat : (3 P,) float32, a (P, 3) array reshaped
    """
    here = flat[3 * lo : 3 * (lo + m)]
    for i in range(m):
        x[i] = here[3 * i]
        y[i] = here[3 * i + 1]
        z[i] = here[3 * i + 2]


@inline
def together(x, y, z, lo, m, flat):  # type: ignore[no-untyped-def]
    """Write ``m`` points to ``flat`` (3 P,) from number ``lo`` on."""
    there = flat[3 * lo : 3 * (lo + m)]
    for i in range(m):
        there[3 * i] = x[i]
        there[3 * i + 1] = y[i]
        there[3 * i + 2] = z[i]
