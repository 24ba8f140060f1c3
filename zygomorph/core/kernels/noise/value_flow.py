"""Octaves of value noise whose heights turn: flow noise over many points."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, first_of, kernel, load
from zygomorph.core.kernels.noise.flow_cell import blended_corners
from zygomorph.core.kernels.noise.lattice import lerp
from zygomorph.core.kernels.noise.octaves import FLOW, add_octave, enter_pattern
from zygomorph.core.kernels.noise.turning import (
    TURNS,
    flow_height,
    lattice_of,
    load_turns,
    swaying_cell,
    turn_at,
)

flow_noise = blended_corners(flow_height, lerp)


@kernel(FLOW)
def value_flow(points, rows, inverse_size, phase, angle, table, seeds, offsets, sways, fold, out):  # type: ignore[no-untyped-def]
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave

    angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned
    sways : (O, 6) see :func:`swayed`
    """
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((5 + TURNS, BLOCK), np.float32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        turns = work[5:]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
            load_turns(angle, lo, m, turns)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, wave)
            result[:] = float32(0.0)
            for octave in range(seeds.shape[0]):
                seed = uint32(seeds[octave])
                frequency, span = table[0, octave], table[1, octave]
                lattice = lattice_of(offsets, sways, octave)
                for i in range(m):
                    turn = turn_at(turns, i)
                    cell = swaying_cell(x[i], y[i], z[i], travel[i], frequency, span, lattice, turn)
                    wave[i] = flow_noise(cell, seed, turn)
                add_octave(wave, fold, table[2, octave], m, result)
