"""Octaves of simplex noise that wraps along one axis.

K. Perlin 2001 ("Noise hardware"), on the lattice of S. Gustavson & I. McEwan, "Tiling simplex
noise and flow noise in two and three dimensions", JCGT 11(1), 2022 (from memory): its points are
whole and half coordinates of the plain space (a body-centred cubic lattice), so that wrapping
after a whole number along an axis is exact. The gradients are the twelve edges of a cube.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, first_of, inline, kernel, load
from zygomorph.core.noise.gradient import edge_gradient
from zygomorph.core.noise.lattice import cell_hash, floor_to_int
from zygomorph.core.noise.octaves import FRACTAL, add_octave, enter_pattern, wrapped

# Falls to zero at a squared distance of one half; the factor brings the largest value to 1.
REACH = 0.5
SCALE = 31.0


@inline
def lattice_point(i, j, k, x, y, z, span, per_span, seed):  # type: ignore[no-untyped-def]
    """What the lattice point with skewed coordinates (i, j, k), whole float32, gives at x, y, z."""
    half = float32(0.5)
    px = half * (j + k - i)
    py = half * (i + k - j)
    pz = half * (i + j - k)
    dx, dy, dz = x - px, y - py, z - pz
    # Wrapped in plain space, then told apart by twice its coordinates, which are whole.
    turns = float32(floor_to_int((px + float32(0.25)) * per_span))
    h = cell_hash(
        int32(float32(2.0) * (px - span * turns)),
        int32(float32(2.0) * py),
        int32(float32(2.0) * pz),
        seed,
    )
    near = max(float32(REACH) - (dx * dx + dy * dy + dz * dz), float32(0.0))
    return near * near * near * edge_gradient(h, dx, dy, dz)


@inline
def simplex_noise(x, y, z, span, per_span, seed):  # type: ignore[no-untyped-def]
    """Simplex noise at a point, -1 to 1, that repeats after ``span`` along x."""
    one = float32(1.0)
    zero = float32(0.0)
    u, v, w = y + z, x + z, x + y
    i, j, k = float32(floor_to_int(u)), float32(floor_to_int(v)), float32(floor_to_int(w))
    fu, fv, fw = u - i, v - j, w - k
    # The order of the three parts says which of the six simplices of the cell it is.
    uv = one if fu > fv else zero
    vw = one if fv > fw else zero
    uw = one if fu > fw else zero
    first_i, second_i = uv * uw, max(uv, uw)
    first_j, second_j = (one - uv) * vw, max(one - uv, vw)
    first_k, second_k = (one - uw) * (one - vw), max(one - uw, one - vw)
    total = lattice_point(i, j, k, x, y, z, span, per_span, seed)
    total += lattice_point(i + first_i, j + first_j, k + first_k, x, y, z, span, per_span, seed)
    total += lattice_point(i + second_i, j + second_j, k + second_k, x, y, z, span, per_span, seed)
    total += lattice_point(i + one, j + one, k + one, x, y, z, span, per_span, seed)
    return float32(SCALE) * total


@kernel(FRACTAL)
def simplex_fractal(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, cosine, sine, table, seeds, offsets, fold, out
):
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((7, BLOCK), np.float32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        weights = work[5:]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
            load(cosine, lo, m, weights[0])
            load(sine, lo, m, weights[1])
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, wave)
            for i in range(m):
                result[i] = float32(0.0)
            for octave in range(seeds.shape[1]):
                frequency, span = table[0, octave], table[1, octave]
                per_span = float32(1.0) / span
                for i in range(m):
                    wave[i] = float32(0.0)
                for which in range(seeds.shape[0]):
                    seed = uint32(seeds[which, octave])
                    ox = offsets[which, octave, 0]
                    oy = offsets[which, octave, 1]
                    oz = offsets[which, octave, 2]
                    weight = weights[which]
                    for i in range(m):
                        u = x[i] * frequency + ox - travel[i] * span
                        # Brought into one period: far from zero the digits would not do.
                        u = wrapped(u, span, per_span)
                        value = simplex_noise(
                            u, y[i] * frequency + oy, z[i] * frequency + oz, span, per_span, seed
                        )
                        wave[i] += weight[i] * value
                add_octave(wave, fold, table[2, octave], m, result)
