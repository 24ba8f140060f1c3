"""Octaves of improved gradient noise over many points."""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, first_of, kernel, load
from zygomorph.core.kernels.noise.gradient import gradient_noise
from zygomorph.core.kernels.noise.lattice import floor_to_int
from zygomorph.core.kernels.noise.octaves import FRACTAL, add_octave, enter_pattern, wrapped


@kernel(FRACTAL, first=10)
def gradient_fractal(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, table, seeds, offsets, fold, out
):
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((5, BLOCK), np.float32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            # Slices: an index like lo + i might be negative for all the compiler knows.
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
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
                for i in range(m):
                    u = x[i] * frequency + ox - travel[i] * span
                    v = y[i] * frequency + oy
                    w = z[i] * frequency + oz
                    ix = floor_to_int(u)
                    iy = floor_to_int(v)
                    iz = floor_to_int(w)
                    cell = float32(ix)
                    start = wrapped(cell, span, per_span)
                    end = start + float32(1.0)
                    end = end if end < span else float32(0.0)
                    wave[i] = gradient_noise(
                        int32(start),
                        iy,
                        iz,
                        int32(end),
                        int32(iy + int32(1)),
                        int32(iz + int32(1)),
                        u - cell,
                        v - float32(iy),
                        w - float32(iz),
                        seed,
                    )
                add_octave(wave, fold, table[2, octave], m, result)
