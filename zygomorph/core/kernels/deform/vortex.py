"""Wind points round an axis as a vortex does."""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.kernels.noise.lattice import floor_to_int
from zygomorph.core.kernels.spine import ROWS, enter_spine, leave_spine
from zygomorph.core.kernels.trigonometry import sine_cosine

TURN = float32(2 * np.pi)


STEPS = 4096


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2, F2W))
def wind(points, rows, centre, core, angle, depth, weight, table, out):  # type: ignore[no-untyped-def]
    """angle : radians that the core is turned; core, angle, depth : (1,) or (P,)"""
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    speeds, depths = table[0], table[1]
    blocks = (n + BLOCK - 1) // BLOCK
    zero = np.zeros(1, np.float32)
    for chunk in prange(CHUNKS):
        work = np.empty((ROWS, BLOCK), np.float32)
        down = np.empty(BLOCK, np.float32)
        a, h, b, amount, mask = work[0], work[1], work[2], work[3], work[4]
        per_core = work[6]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            enter_spine(flat, rows, centre, zero, core, angle, weight, lo, m, work)
            load(depth, lo, m, down)
            for i in range(m):
                r = np.sqrt(a[i] * a[i] + b[i] * b[i]) * per_core[i]
                place = r / (r + float32(1.0)) * float32(STEPS)
                k = min(int32(place), int32(STEPS))
                t = place - float32(k)
                cycles = (speeds[k] + t * (speeds[k + 1] - speeds[k])) * amount[i] * mask[i] / TURN
                s, c = sine_cosine(TURN * (cycles - float32(floor_to_int(cycles))))
                sunk = depths[k] + t * (depths[k + 1] - depths[k])
                h[i] = h[i] - sunk * down[i] * mask[i]
                p = c * a[i] + s * b[i]
                b[i] = c * b[i] - s * a[i]
                a[i] = p
            leave_spine(work, rows, centre, lo, m, flat_out)
