"""Octaves of value noise: random heights at the lattice points, blended with the quintic fade.

Ebert et al., "Texturing and Modeling", 3rd ed., chapter 2 ("value noise"; from memory), with the
fade of K. Perlin, "Improving Noise", SIGGRAPH 2002.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, first_of, inline, kernel, load
from zygomorph.core.kernels.noise.lattice import cell_hash, fade, floor_to_int, lerp, signed_unit
from zygomorph.core.kernels.noise.octaves import FRACTAL, add_octave, enter_pattern, wrapped


@inline
def value_noise(ix, iy, iz, jx, jy, jz, x, y, z, seed):  # type: ignore[no-untyped-def]
    """Takes the cell, the cells after it, the place inside it and the seed; gives -1 to 1."""
    u, v, w = fade(x), fade(y), fade(z)
    a = lerp(signed_unit(cell_hash(ix, iy, iz, seed)), signed_unit(cell_hash(jx, iy, iz, seed)), u)
    b = lerp(signed_unit(cell_hash(ix, jy, iz, seed)), signed_unit(cell_hash(jx, jy, iz, seed)), u)
    c = lerp(signed_unit(cell_hash(ix, iy, jz, seed)), signed_unit(cell_hash(jx, iy, jz, seed)), u)
    d = lerp(signed_unit(cell_hash(ix, jy, jz, seed)), signed_unit(cell_hash(jx, jy, jz, seed)), u)
    return lerp(lerp(a, b, v), lerp(c, d, v), w)


@kernel(FRACTAL)
def value_fractal(  # type: ignore[no-untyped-def]
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
                    wave[i] = value_noise(
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
