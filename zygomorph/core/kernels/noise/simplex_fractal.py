"""Octaves of simplex noise that wraps along one axis.

K. Perlin 2001 ("Noise hardware"), on the lattice of S. Gustavson & I. McEwan, "Tiling simplex
noise and flow noise in two and three dimensions", JCGT 11(1), 2022 (from memory): its points are
whole and half coordinates of the plain space (a body-centred cubic lattice), so that wrapping
after a whole number along an axis is exact. The gradients are the twelve edges of a cube.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, first_of, inline, kernel, load
from zygomorph.core.kernels.noise.gradient import edge_gradient
from zygomorph.core.kernels.noise.lattice import cell_hash, floor_to_int
from zygomorph.core.kernels.noise.octaves import FRACTAL, add_octave, enter_pattern, wrapped

# Falls to zero at a squared distance of one half; the factor brings the largest value to 1.
REACH = 0.5
SCALE = 31.0


@inline
def reached(i, j, k, x, y, z, span, per_span, seed):  # type: ignore[no-untyped-def]
    """The lattice point with skewed coordinates (i, j, k), whole float32, seen from x, y, z: its
    hash, the way from it to there, and its weight there."""
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
    return h, dx, dy, dz, float32(SCALE) * near * near * near


@inline
def corner_of(which, x, y, z):  # type: ignore[no-untyped-def]
    """Skewed coordinates of one of the four corners of the simplex that holds a point."""
    one = float32(1.0)
    zero = float32(0.0)
    u, v, w = y + z, x + z, x + y
    i, j, k = float32(floor_to_int(u)), float32(floor_to_int(v)), float32(floor_to_int(w))
    fu, fv, fw = u - i, v - j, w - k
    # The order of the three parts says which of the six simplices of the cell it is.
    uv = one if fu > fv else zero
    vw = one if fv > fw else zero
    uw = one if fu > fw else zero
    # The first step is along the largest part, the second leaves out the smallest only.
    first = one if which == 1 else zero
    second = one if which == 2 else zero
    both = one if which == 3 else zero
    i += first * uv * uw + second * max(uv, uw) + both
    j += first * (one - uv) * vw + second * max(one - uv, vw) + both
    k += first * (one - uw) * (one - vw) + second * max(one - uw, one - vw) + both
    return i, j, k


@kernel(FRACTAL)
def simplex_fractal(  # type: ignore[no-untyped-def]
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
                    wave[i] = float32(0.0)
                for which in range(4):
                    for i in range(m):
                        # Brought into one period: far from zero the digits would not do.
                        u = wrapped(x[i] * frequency + ox - travel[i] * span, span, per_span)
                        v, w = y[i] * frequency + oy, z[i] * frequency + oz
                        p, q, r = corner_of(which, u, v, w)
                        h, dx, dy, dz, near = reached(p, q, r, u, v, w, span, per_span, seed)
                        wave[i] += near * edge_gradient(h, dx, dy, dz)
                add_octave(wave, fold, table[2, octave], m, result)
