"""Octaves of gradient noise whose gradients turn: flow noise over many points."""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, first_of, kernel, load
from zygomorph.core.noise.lattice import cell_hash, lerp
from zygomorph.core.noise.octaves import FLOW, add_octave, cells_of, enter_pattern, fade_all
from zygomorph.core.noise.turning import TURNS, flow_gradient, load_turns, swayed


@kernel(FLOW)
def gradient_flow(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, angle, table, seeds, offsets, sways, fold, out
):
    """table : rows of frequency, cells after which the lattice wraps, and share of each octave

    angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned
    sways : (O, 6) see :func:`swayed`
    """
    n = points.shape[0]
    flat = points.reshape(-1)
    one = float32(1.0)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((11 + TURNS, BLOCK), np.float32)
        cells = np.empty((4, BLOCK), np.int32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        place, faded, turns = work[5:8], work[8:11], work[11:]
        u, v, w, fu, fv, fw = place[0], place[1], place[2], faded[0], faded[1], faded[2]
        c1, s1, c2, s2, c3, s3 = turns[0], turns[1], turns[2], turns[3], turns[4], turns[5]
        begin, after, row, layer = cells[0], cells[1], cells[2], cells[3]
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
                swayed(x, y, z, turns, frequency, sways[octave], m, faded)
                p, q, r = faded[0], faded[1], faded[2]
                cells_of(p, q, r, travel, frequency, span, offsets[octave], m, place, cells)
                fade_all(place, m, faded)
                wave[:] = float32(0.0)
                # The two corners at both ends of an edge along x together.
                for edge in range(4):
                    far_y, far_z = edge & 1, edge >> 1
                    gy, gz = float32(far_y), float32(far_z)
                    by, bz = one - gy, one - gz
                    ky, kz = gy - by, gz - bz
                    jy, jz = int32(far_y), int32(far_z)
                    for i in range(m):
                        y1, z1 = int32(row[i] + jy), int32(layer[i] + jz)
                        dy, dz = v[i] - gy, w[i] - gz
                        near = flow_gradient(
                            cell_hash(begin[i], y1, z1, seed),
                            u[i],
                            dy,
                            dz,
                            c1[i],
                            s1[i],
                            c2[i],
                            s2[i],
                            c3[i],
                            s3[i],
                        )
                        far = flow_gradient(
                            cell_hash(after[i], y1, z1, seed),
                            u[i] - one,
                            dy,
                            dz,
                            c1[i],
                            s1[i],
                            c2[i],
                            s2[i],
                            c3[i],
                            s3[i],
                        )
                        share = (by + ky * fv[i]) * (bz + kz * fw[i])
                        wave[i] += share * lerp(near, far, fu[i])
                add_octave(wave, fold, table[2, octave], m, result)
