"""Octaves of simplex noise whose gradients turn: flow noise over many points."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, first_of, kernel, load
from zygomorph.core.kernels.noise.octaves import FLOW, add_octave, enter_pattern, wrapped
from zygomorph.core.kernels.noise.simplex_fractal import corner_of, reached
from zygomorph.core.kernels.noise.turning import TURNS, flow_gradient, load_turns, swayed, turn_at


@kernel(FLOW)
def simplex_flow(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, angle, table, seeds, offsets, sways, fold, out
):
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave

    angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned
    sways : (O, 6) see :func:`swayed`
    """
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((8 + TURNS, BLOCK), np.float32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        moved, turns = work[5:8], work[8:]
        p, q, r = moved[0], moved[1], moved[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
            load_turns(angle, lo, m, turns)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, wave)
            for i in range(m):
                result[i] = float32(0.0)
            for octave in range(seeds.shape[0]):
                frequency, span = table[0, octave], table[1, octave]
                per_span = float32(1.0) / span
                seed = uint32(seeds[octave])
                ox = offsets[octave, 0]
                oy = offsets[octave, 1]
                oz = offsets[octave, 2]
                swayed(x, y, z, turns, frequency, sways[octave], m, moved)
                for i in range(m):
                    wave[i] = float32(0.0)
                for which in range(4):
                    for i in range(m):
                        # Brought into one period: far from zero the digits would not do.
                        u = wrapped(p[i] * frequency + ox - travel[i] * span, span, per_span)
                        v, w = q[i] * frequency + oy, r[i] * frequency + oz
                        e, f, g = corner_of(which, u, v, w)
                        h, dx, dy, dz, near = reached(e, f, g, u, v, w, span, per_span, seed)
                        wave[i] += near * flow_gradient(h, dx, dy, dz, turn_at(turns, i))
                add_octave(wave, fold, table[2, octave], m, result)
