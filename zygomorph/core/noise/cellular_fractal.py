"""Octaves of cellular noise: distances to the nearest of one random point in each cell.

S. Worley, "A Cellular Texture Basis Function", SIGGRAPH 1996. Each cell holds one point, anywhere
in it. The cells around a place are searched, which finds every point nearer than one cell;
distances are cut off there, so that the result is exact and has no jumps. A pattern that evolves
moves each point on a small closed path inside its cell.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, inline, kernel, load
from zygomorph.core.noise.lattice import cell_hash, floor_to_int, mixed
from zygomorph.core.noise.octaves import OFFSETS, SEEDS, add_octave, enter_pattern, wrapped

MEASURES = ("first", "second", "between")


@inline
def part(h, shift):  # type: ignore[no-untyped-def]
    """Ten bits of a hash as a number from -1 to 1."""
    bits = uint32(uint32(h >> uint32(shift)) & uint32(1023))
    return float32(int32(bits)) * float32(2.0 / 1023.0) - float32(1.0)


@inline
def on_path(a, b, cosine, sine):  # type: ignore[no-untyped-def]
    """A coordinate on a closed path that begins at ``a`` and stays from -1 to 1."""
    return cosine * a + sine * b * np.sqrt(max(float32(1.0) - a * a, float32(0.0)))


@kernel(types.void(F2, F2, F1, F1, F1, F1, F2, SEEDS, OFFSETS, types.int32, types.int32, F1W))
def cellular_fractal(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, cosine, sine, table, seeds, offsets, fold, measure, out
):
    """seeds : (1, O), or (2, O) where the points move; measure : number in MEASURES"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    half, one = float32(0.5), float32(1.0)
    moving = seeds.shape[0] > 1
    for chunk in prange(CHUNKS):
        work = np.empty((12, BLOCK), np.float32)
        cells = np.empty((3, BLOCK), np.int32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        cos_of, sin_of, u, v, w = work[5], work[6], work[7], work[8], work[9]
        first, second = work[10], work[11]
        ix, iy, iz = cells[0], cells[1], cells[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
            load(cosine, lo, m, cos_of)
            load(sine, lo, m, sin_of)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, wave)
            for i in range(m):
                result[i] = float32(0.0)
            for octave in range(seeds.shape[1]):
                frequency, span = table[0, octave], table[1, octave]
                per_span = one / span
                seed = uint32(seeds[0, octave])
                other = uint32(seeds[seeds.shape[0] - 1, octave])
                ox, oy, oz = offsets[0, octave, 0], offsets[0, octave, 1], offsets[0, octave, 2]
                for i in range(m):
                    a = x[i] * frequency + ox - travel[i] * span
                    b = y[i] * frequency + oy
                    c = z[i] * frequency + oz
                    ix[i], iy[i], iz[i] = floor_to_int(a), floor_to_int(b), floor_to_int(c)
                    u[i] = a - float32(ix[i]) - half
                    v[i] = b - float32(iy[i]) - half
                    w[i] = c - float32(iz[i]) - half
                    first[i] = one
                    second[i] = one
                for neighbour in range(27):
                    dx = neighbour % 3 - 1
                    dy = neighbour // 3 % 3 - 1
                    dz = neighbour // 9 - 1
                    ax, ay, az = float32(dx), float32(dy), float32(dz)
                    for i in range(m):
                        column = int32(wrapped(float32(ix[i]) + ax, span, per_span))
                        row = int32(iy[i] + int32(dy))
                        layer = int32(iz[i] + int32(dz))
                        h = mixed(cell_hash(column, row, layer, seed))
                        px, py, pz = part(h, 22), part(h, 12), part(h, 2)
                        if moving:
                            g = mixed(cell_hash(column, row, layer, other))
                            px = on_path(px, part(g, 22), cos_of[i], sin_of[i])
                            py = on_path(py, part(g, 12), cos_of[i], sin_of[i])
                            pz = on_path(pz, part(g, 2), cos_of[i], sin_of[i])
                        px = ax + half * px - u[i]
                        py = ay + half * py - v[i]
                        pz = az + half * pz - w[i]
                        d = px * px + py * py + pz * pz
                        second[i] = min(second[i], max(d, first[i]))
                        first[i] = min(first[i], d)
                if measure == 0:
                    for i in range(m):
                        wave[i] = float32(2.0) * np.sqrt(first[i]) - one
                elif measure == 1:
                    for i in range(m):
                        wave[i] = float32(2.0) * np.sqrt(second[i]) - one
                else:
                    for i in range(m):
                        wave[i] = float32(2.0) * (np.sqrt(second[i]) - np.sqrt(first[i])) - one
                add_octave(wave, fold, table[2, octave], m, result)
