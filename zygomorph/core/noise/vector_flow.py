"""Octaves of flow noise with three components, for which each lattice point is hashed once."""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.noise.lattice import cell_hash
from zygomorph.core.noise.octaves import SEEDS, add_octave, cells_of, enter_pattern, fade_all
from zygomorph.core.noise.turning import TURNS, load_turns, swayed, three_flow_gradients, turn_at
from zygomorph.core.triples import together

VECTOR_FLOW = types.void(F2, F2, F1, F1, F2, F2, SEEDS, F2, F2, types.int32, F2W)


@kernel(VECTOR_FLOW)
def vector_flow(points, rows, inverse_size, phase, angle, table, seeds, offsets, sways, fold, out):  # type: ignore[no-untyped-def]
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave

    angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned
    sways : (O, 6) see :func:`swayed`
    """
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    one = float32(1.0)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((16 + TURNS, BLOCK), np.float32)
        cells = np.empty((4, BLOCK), np.int32)
        x, y, z, travel = work[0], work[1], work[2], work[3]
        waves, sums, place, faded = work[4:7], work[7:10], work[10:13], work[13:16]
        turns, a, b, c = work[16:], waves[0], waves[1], waves[2]
        u, v, w, fu, fv, fw = place[0], place[1], place[2], faded[0], faded[1], faded[2]
        row, layer = cells[2], cells[3]
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
                swayed(x, y, z, turns, frequency, sways[octave], m, faded)
                p, q, r = faded[0], faded[1], faded[2]
                cells_of(p, q, r, travel, frequency, span, offsets[octave], m, place, cells)
                fade_all(place, m, faded)
                waves[:] = float32(0.0)
                for corner in range(8):
                    far_x, far_y, far_z = corner & 1, (corner >> 1) & 1, corner >> 2
                    column = cells[far_x]
                    gx, gy, gz = float32(far_x), float32(far_y), float32(far_z)
                    bx, by, bz = one - gx, one - gy, one - gz
                    kx, ky, kz = gx - bx, gy - by, gz - bz
                    jy, jz = int32(far_y), int32(far_z)
                    for i in range(m):
                        h = cell_hash(column[i], int32(row[i] + jy), int32(layer[i] + jz), seed)
                        near = (bx + kx * fu[i]) * (by + ky * fv[i]) * (bz + kz * fw[i])
                        e, f, g = three_flow_gradients(
                            h, u[i] - gx, v[i] - gy, w[i] - gz, turn_at(turns, i)
                        )
                        a[i] += near * e
                        b[i] += near * f
                        c[i] += near * g
                for k in range(3):
                    add_octave(waves[k], fold, table[2, octave], m, sums[k])
            together(sums[0], sums[1], sums[2], lo, m, flat_out)
