"""Waves that travel along a direction."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.kernels.noise.lattice import floor_to_int
from zygomorph.core.kernels.structure_of_arrays import split
from zygomorph.core.kernels.trigonometry import sine_cosine

TURN = float32(2 * np.pi)


@kernel(types.void(F2, F1, F1, F1, F1, types.boolean, F1W))
def add_wave(points, direction, amplitude, per_length, phase, first, out):  # type: ignore[no-untyped-def]
    """per_length : waves a metre; phase : cycles; first : whether ``out`` begins at zero"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    dx, dy, dz = direction[0], direction[1], direction[2]
    for chunk in prange(CHUNKS):
        work = np.empty((6, BLOCK), np.float32)
        x, y, z, height, waves, shift = work[0], work[1], work[2], work[3], work[4], work[5]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            split(flat, lo, m, x, y, z)
            load(amplitude, lo, m, height)
            load(per_length, lo, m, waves)
            load(phase, lo, m, shift)
            if first:
                for i in range(m):
                    result[i] = float32(0.0)
            for i in range(m):
                cycles = (dx * x[i] + dy * y[i] + dz * z[i]) * waves[i] - shift[i]
                # Whole cycles away first: a sine of a large angle has lost its digits.
                s, _ = sine_cosine(TURN * (cycles - float32(floor_to_int(cycles))))
                result[i] += height[i] * s
