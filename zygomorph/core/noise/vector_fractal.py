"""Octaves of gradient noise with three components, for which each lattice point is hashed once.

The three components take different bits of the same hash: no two of them go together, and they
cost less than twice as much as one.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load, per_block
from zygomorph.core.noise.gradient import three_gradient_noises
from zygomorph.core.noise.lattice import floor_to_int
from zygomorph.core.noise.octaves import OFFSETS, SEEDS, add_octave, enter_pattern, wrapped
from zygomorph.core.triples import together


@per_block
def cells_of(x, y, z, travel, frequency, span, offset, m, place, cells):  # type: ignore[no-untyped-def]
    """Into the lattice of one octave: the place inside the cell, and the numbers of its corners.

    place : (3, BLOCK); cells : (4, BLOCK) int32, column, the column after it, row and layer
    """
    u, v, w = place[0], place[1], place[2]
    begin, after, row, layer = cells[0], cells[1], cells[2], cells[3]
    ox, oy, oz = offset[0], offset[1], offset[2]
    per_span = float32(1.0) / span
    for i in range(m):
        a = x[i] * frequency + ox - travel[i] * span
        b = y[i] * frequency + oy
        c = z[i] * frequency + oz
        ix, iy, iz = floor_to_int(a), floor_to_int(b), floor_to_int(c)
        start = wrapped(float32(ix), span, per_span)
        end = start + float32(1.0)
        begin[i] = int32(start)
        after[i] = int32(end if end < span else float32(0.0))
        row[i] = iy
        layer[i] = iz
        u[i], v[i], w[i] = a - float32(ix), b - float32(iy), c - float32(iz)


@kernel(types.void(F2, F2, F1, F1, F1, F1, F2, SEEDS, OFFSETS, types.int32, F2W))
def vector_fractal(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, cosine, sine, table, seeds, offsets, fold, out
):
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave"""
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((15, BLOCK), np.float32)
        cells = np.empty((4, BLOCK), np.int32)
        x, y, z, travel = work[0], work[1], work[2], work[3]
        weights, waves, sums = work[4:6], work[6:9], work[9:12]
        place = work[12:15]
        u, v, w = place[0], place[1], place[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(phase, lo, m, travel)
            load(cosine, lo, m, weights[0])
            load(sine, lo, m, weights[1])
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, waves[0])
            sums[:] = float32(0.0)
            for octave in range(seeds.shape[1]):
                frequency, span = table[0, octave], table[1, octave]
                waves[:] = float32(0.0)
                a, b, c = waves[0], waves[1], waves[2]
                for which in range(seeds.shape[0]):
                    seed = uint32(seeds[which, octave])
                    weight = weights[which]
                    cells_of(
                        x, y, z, travel, frequency, span, offsets[which, octave], m, place, cells
                    )
                    begin, after, row, layer = cells[0], cells[1], cells[2], cells[3]
                    for i in range(m):
                        p, q, r = three_gradient_noises(
                            begin[i], row[i], layer[i], after[i], u[i], v[i], w[i], seed
                        )
                        a[i] += weight[i] * p
                        b[i] += weight[i] * q
                        c[i] += weight[i] * r
                for k in range(3):
                    add_octave(waves[k], fold, table[2, octave], m, sums[k])
            together(sums[0], sums[1], sums[2], lo, m, flat_out)
