"""Octaves of curl noise: a flow without sources or sinks.

R. Bridson, J. Hourihan & M. Nordenstam, "Curl-Noise for Procedural Fluid Flow", SIGGRAPH 2007.
The potential is gradient noise of three components; its curl is taken in closed form, corner by
corner: curl(W ψ) = ∇W × ψ + W curl ψ, where ψ = G d is linear in the distance d to the corner.

Each octave's share is of the flow, not of the potential, so that fine octaves do not drown the
large ones.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.kernels.compiled import (
    BLOCK,
    CHUNKS,
    F1,
    F2,
    F2W,
    first_of,
    inline,
    kernel,
    load,
    per_block,
)
from zygomorph.core.kernels.noise.gradient import three_edge_gradients
from zygomorph.core.kernels.noise.lattice import cell_hash, fade
from zygomorph.core.kernels.noise.octaves import SEEDS, cells_of, enter_pattern
from zygomorph.core.kernels.structure_of_arrays import merge

# Brings the length of one octave's flow to 1 where it is fastest (of 10⁷ places).
SCALE = 0.19


@inline
def fade_slope(t):  # type: ignore[no-untyped-def]
    """Derivative of the quintic fade: 30 t² (t - 1)²."""
    s = t * (t - float32(1.0))
    return float32(30.0) * s * s


@inline
def corner_curl(here, along_x, along_y, along_z, fx, fy, fz, sx, sy, sz):  # type: ignore[no-untyped-def]
    """Curl of one lattice point's part of the potential.

    here : products of the three gradients with the way from the lattice point
    along_x, along_y, along_z : their products with the axes
    fx, fy, fz : the point's weights by axis; sx, sy, sz : their slopes
    """
    a, b, c = here
    _, bx, cx = along_x
    ay, _, cy = along_y
    az, bz, _ = along_z
    wx, wy, wz = sx * fy * fz, fx * sy * fz, fx * fy * sz
    weight = fx * fy * fz
    return (
        wy * c - wz * b + weight * (cy - bz),
        wz * a - wx * c + weight * (az - cx),
        wx * b - wy * a + weight * (bx - ay),
    )


@per_block
def turned_back(back, m, a, b, c):  # type: ignore[no-untyped-def]
    """Carry the flow of a block in its place by a (3, 3) matrix."""
    b00, b01, b02 = back[0, 0], back[0, 1], back[0, 2]
    b10, b11, b12 = back[1, 0], back[1, 1], back[1, 2]
    b20, b21, b22 = back[2, 0], back[2, 1], back[2, 2]
    for i in range(m):
        p, q, r = a[i], b[i], c[i]
        a[i] = b00 * p + b01 * q + b02 * r
        b[i] = b10 * p + b11 * q + b12 * r
        c[i] = b20 * p + b21 * q + b22 * r


@kernel(types.void(F2, F2, F2, F1, F1, F2, SEEDS, F2, F2W), first=140)
def curl_fractal(points, rows, back, inverse_size, phase, table, seeds, offsets, out):  # type: ignore[no-untyped-def]
    """back : (3, 3) from the flow in cells to the flow in metres"""
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    zero, one = float32(0.0), float32(1.0)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((10, BLOCK), np.float32)
        cells = np.empty((4, BLOCK), np.int32)
        x, y, z, travel = work[0], work[1], work[2], work[3]
        a, b, c = work[4], work[5], work[6]
        place, row, layer = work[7:10], cells[2], cells[3]
        u, v, w = place[0], place[1], place[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(phase, lo, m, travel)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, a)
            work[4:7] = float32(0.0)
            for octave in range(seeds.shape[0]):
                seed = uint32(seeds[octave])
                share = float32(SCALE) * table[2, octave]
                cells_of(
                    x, y, z, travel, table[0, octave], table[1, octave], offsets[octave], m,
                    place, cells,
                )  # fmt: skip
                for corner in range(8):
                    far_x, far_y, far_z = corner & 1, (corner >> 1) & 1, corner >> 2
                    column = cells[far_x]
                    gx, gy, gz = float32(far_x), float32(far_y), float32(far_z)
                    bx, by, bz = one - gx, one - gy, one - gz
                    kx, ky, kz = gx - bx, gy - by, gz - bz
                    jy, jz = int32(far_y), int32(far_z)
                    for i in range(m):
                        h = cell_hash(column[i], int32(row[i] + jy), int32(layer[i] + jz), seed)
                        p, q, r = corner_curl(
                            three_edge_gradients(h, u[i] - gx, v[i] - gy, w[i] - gz),
                            three_edge_gradients(h, one, zero, zero),
                            three_edge_gradients(h, zero, one, zero),
                            three_edge_gradients(h, zero, zero, one),
                            bx + kx * fade(u[i]),
                            by + ky * fade(v[i]),
                            bz + kz * fade(w[i]),
                            kx * fade_slope(u[i]),
                            ky * fade_slope(v[i]),
                            kz * fade_slope(w[i]),
                        )
                        a[i] += share * p
                        b[i] += share * q
                        c[i] += share * r
            turned_back(back, m, a, b, c)
            merge(a, b, c, lo, m, flat_out)
