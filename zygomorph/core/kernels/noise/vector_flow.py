"""Octaves of flow noise with three components, for which each lattice point is hashed once."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.kernels.noise.flow_cell import blended_corners
from zygomorph.core.kernels.noise.gradient import lerp_each
from zygomorph.core.kernels.noise.octaves import SEEDS, add_octave, enter_pattern
from zygomorph.core.kernels.noise.turning import (
    TURNS,
    lattice_of,
    load_turns,
    swaying_cell,
    three_flow_gradients,
    turn_at,
)
from zygomorph.core.kernels.structure_of_arrays import merge

VECTOR_FLOW = types.void(F2, F2, F1, F1, F2, F2, SEEDS, F2, F2, types.int32, F2W)


three_flow_noises = blended_corners(three_flow_gradients, lerp_each)


@kernel(VECTOR_FLOW)
def vector_flow(points, rows, inverse_size, phase, angle, table, seeds, offsets, sways, fold, out):  # type: ignore[no-untyped-def]
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave

    angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned
    sways : (O, 6) see :func:`swayed`
    """
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((10 + TURNS, BLOCK), np.float32)
        x, y, z, travel = work[0], work[1], work[2], work[3]
        waves, sums, turns = work[4:7], work[7:10], work[10:]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(phase, lo, m, travel)
            load_turns(angle, lo, m, turns)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, waves[0])
            sums[:] = float32(0.0)
            for octave in range(seeds.shape[0]):
                seed = uint32(seeds[octave])
                frequency, span = table[0, octave], table[1, octave]
                lattice = lattice_of(offsets, sways, octave)
                p, q, r = waves[0], waves[1], waves[2]
                for i in range(m):
                    turn = turn_at(turns, i)
                    cell = swaying_cell(x[i], y[i], z[i], travel[i], frequency, span, lattice, turn)
                    p[i], q[i], r[i] = three_flow_noises(cell, seed, turn)
                for k in range(3):
                    add_octave(waves[k], fold, table[2, octave], m, sums[k])
            merge(sums[0], sums[1], sums[2], lo, m, flat_out)
