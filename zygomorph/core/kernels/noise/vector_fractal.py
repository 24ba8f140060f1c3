"""Octaves of gradient noise with three components, for which each lattice point is hashed once.

The three components take different bits of the same hash: no two of them go together, and they
cost less than twice as much as one.
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.kernels.noise.gradient import three_gradient_noises
from zygomorph.core.kernels.noise.octaves import SEEDS, add_octave, cells_of, enter_pattern
from zygomorph.core.kernels.structure_of_arrays import merge


@kernel(types.void(F2, F2, F1, F1, F2, SEEDS, F2, types.int32, F2W))
def vector_fractal(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, table, seeds, offsets, fold, out
):
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave"""
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((13, BLOCK), np.float32)
        cells = np.empty((4, BLOCK), np.int32)
        x, y, z, travel = work[0], work[1], work[2], work[3]
        waves, sums, place = work[4:7], work[7:10], work[10:13]
        u, v, w = place[0], place[1], place[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(phase, lo, m, travel)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, waves[0])
            sums[:] = float32(0.0)
            for octave in range(seeds.shape[0]):
                frequency, span, seed = table[0, octave], table[1, octave], uint32(seeds[octave])
                a, b, c = waves[0], waves[1], waves[2]
                cells_of(x, y, z, travel, frequency, span, offsets[octave], m, place, cells)
                begin, after, row, layer = cells[0], cells[1], cells[2], cells[3]
                for i in range(m):
                    a[i], b[i], c[i] = three_gradient_noises(
                        begin[i], row[i], layer[i], after[i], u[i], v[i], w[i], seed
                    )
                for k in range(3):
                    add_octave(waves[k], fold, table[2, octave], m, sums[k])
            merge(sums[0], sums[1], sums[2], lo, m, flat_out)
