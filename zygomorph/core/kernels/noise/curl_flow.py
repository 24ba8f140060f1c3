"""Octaves of curl noise whose potential turns: a flow without sources that changes in place."""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.kernels.noise.curl_fractal import SCALE, corner_curl, fade_slope, turned_back
from zygomorph.core.kernels.noise.lattice import cell_hash, fade
from zygomorph.core.kernels.noise.octaves import SEEDS, cells_of, enter_pattern
from zygomorph.core.kernels.noise.turning import (
    TURNS,
    load_turns,
    swayed,
    three_flow_gradients,
    turn_at,
)
from zygomorph.core.kernels.structure_of_arrays import merge


@kernel(types.void(F2, F2, F2, F1, F1, F2, F2, SEEDS, F2, F2, F2W))
def curl_flow(points, rows, back, inverse_size, phase, angle, table, seeds, offsets, sways, out):  # type: ignore[no-untyped-def]
    """back : (3, 3) from the flow in cells to the flow in metres

    angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned
    sways : (O, 6) see :func:`swayed`
    """
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    zero, one = float32(0.0), float32(1.0)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((13 + TURNS, BLOCK), np.float32)
        cells = np.empty((4, BLOCK), np.int32)
        x, y, z, travel = work[0], work[1], work[2], work[3]
        a, b, c = work[4], work[5], work[6]
        place, row, layer = work[7:10], cells[2], cells[3]
        u, v, w = place[0], place[1], place[2]
        turns, moved = work[13:], work[10:13]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(phase, lo, m, travel)
            load_turns(angle, lo, m, turns)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, a)
            work[4:7] = float32(0.0)
            for octave in range(seeds.shape[0]):
                seed = uint32(seeds[octave])
                share = float32(SCALE) * table[2, octave]
                frequency, span = table[0, octave], table[1, octave]
                swayed(x, y, z, turns, frequency, sways[octave], m, moved)
                cells_of(
                    moved[0], moved[1], moved[2], travel, frequency, span, offsets[octave], m,
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
                        turn = turn_at(turns, i)
                        p, q, r = corner_curl(
                            three_flow_gradients(h, u[i] - gx, v[i] - gy, w[i] - gz, turn),
                            three_flow_gradients(h, one, zero, zero, turn),
                            three_flow_gradients(h, zero, one, zero, turn),
                            three_flow_gradients(h, zero, zero, one, turn),
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
