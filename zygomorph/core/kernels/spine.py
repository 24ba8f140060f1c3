"""Into the local axes of a deformer and back, a block of points at a time.

Coordinates of a block lie apart and contiguous, so that what the deformer does between the two
becomes SIMD. All buffers of a block lie in one array at constant distances: LLVM then knows that
they do not overlap and needs no run-time checks, of which it allows only a few before it gives up.
"""

from __future__ import annotations

from numba import float32

from zygomorph.core.kernels.compiled import inline, load, per_block
from zygomorph.core.kernels.structure_of_arrays import merge, split

# Rows of a block's buffer: across, along the spine, across the other way; amount, weight; where
# the limits begin, and one over the length between them.
ROWS = 7


@per_block
def enter_spine(flat, rows, centre, low, high, amount, weight, lo, m, work):  # type: ignore[no-untyped-def]
    """Fill ``work`` (ROWS, BLOCK) with the local coordinates and values of ``m`` points.

    flat : (3 P,) float32, the points reshaped
    """
    a, h, b = work[0], work[1], work[2]
    split(flat, lo, m, a, h, b)
    ax, ay, az = rows[0, 0], rows[0, 1], rows[0, 2]
    hx, hy, hz = rows[1, 0], rows[1, 1], rows[1, 2]
    bx, by, bz = rows[2, 0], rows[2, 1], rows[2, 2]
    ox, oy, oz = centre[0], centre[1], centre[2]
    for i in range(m):
        x = a[i] - ox
        y = h[i] - oy
        z = b[i] - oz
        a[i] = ax * x + ay * y + az * z
        h[i] = hx * x + hy * y + hz * z
        b[i] = bx * x + by * y + bz * z
    load(amount, lo, m, work[3])
    load(weight, lo, m, work[4])
    load(low, lo, m, work[5])
    load(high, lo, m, work[6])
    begin, end = work[5], work[6]
    for i in range(m):
        end[i] = float32(1.0) / max(end[i] - begin[i], float32(1e-6))


@per_block
def leave_spine(work, rows, centre, lo, m, flat):  # type: ignore[no-untyped-def]
    """Write the points whose local coordinates are in ``work`` to ``flat`` (3 P,)."""
    a, h, b = work[0], work[1], work[2]
    # Read once: what is stored to might be these arrays for all the compiler knows.
    ax, ay, az = rows[0, 0], rows[0, 1], rows[0, 2]
    hx, hy, hz = rows[1, 0], rows[1, 1], rows[1, 2]
    bx, by, bz = rows[2, 0], rows[2, 1], rows[2, 2]
    ox, oy, oz = centre[0], centre[1], centre[2]
    for i in range(m):
        x = ax * a[i] + hx * h[i] + bx * b[i] + ox
        y = ay * a[i] + hy * h[i] + by * b[i] + oy
        z = az * a[i] + hz * h[i] + bz * b[i] + oz
        a[i], h[i], b[i] = x, y, z
    merge(a, h, b, lo, m, flat)


@inline
def share_between(h, low, per_span):  # type: ignore[no-untyped-def]
    """How far ``h`` is from the beginning to the end of the limits, 0 to 1."""
    return min(max((h - low) * per_span, float32(0.0)), float32(1.0))
