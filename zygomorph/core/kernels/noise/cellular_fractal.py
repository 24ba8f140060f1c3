"""Octaves of cellular noise: distances to the nearest of one random point in each cell.

S. Worley, "A Cellular Texture Basis Function", SIGGRAPH 1996. Each cell holds one point, anywhere
in it. The cells around a place hold every point nearer than one cell; where that is not enough,
the cells around those are searched as well, so that distances are exact. A pattern that evolves
moves each point on a closed path of its own inside its cell.
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.kernels.compiled import (
    BLOCK,
    CHUNKS,
    F1,
    F1W,
    F2,
    first_of,
    inline,
    kernel,
    load,
    per_block,
)
from zygomorph.core.kernels.noise.lattice import cell_hash, mixed
from zygomorph.core.kernels.noise.octaves import SEEDS, add_octave, cells_of, enter_pattern, wrapped
from zygomorph.core.kernels.noise.turning import TURNS, load_turns, swayed, turn_at, turned_height

MEASURES = ("first", "second", "between")
# What becomes 1, in cells: the largest distances that occur (of 10⁶ places).
FIRST_REACH, SECOND_REACH, BETWEEN_REACH = 1.15, 1.32, 1.15
# A squared distance that is larger than any.
FAR = 16.0


@inline
def part(h, shift):  # type: ignore[no-untyped-def]
    """Ten bits of a hash as a number from -1 to 1."""
    bits = uint32(uint32(h >> uint32(shift)) & uint32(1023))
    return float32(int32(bits)) * float32(2.0 / 1023.0) - float32(1.0)


@inline
def turned_part(h, g, shift, turn):  # type: ignore[no-untyped-def]
    """The same on its closed path; g : another hash of the cell."""
    bits = uint32(g << uint32(uint32(22) - shift))
    return turned_height(part(h, shift), bits, turn)


@inline
def hash_of(column, row, layer, span, per_span, seed):  # type: ignore[no-untyped-def]
    """Of a cell whose column may lie outside the period."""
    return mixed(cell_hash(int32(wrapped(float32(column), span, per_span)), row, layer, seed))


@inline
def other_hash(h):  # type: ignore[no-untyped-def]
    return mixed(uint32(h + uint32(0x9E3779B9)))


@per_block
def features(cells, dx, dy, dz, span, seed, turns, moving, m, point):  # type: ignore[no-untyped-def]
    """Where the points of the cells (dx, dy, dz) further on are, in half cells from their middle.

    cells : (3, BLOCK) int32; turns : (TURNS, BLOCK); point : (3, BLOCK)
    """
    ix, iy, iz = cells[0], cells[1], cells[2]
    px, py, pz = point[0], point[1], point[2]
    per_span = float32(1.0) / span
    if not moving:
        for i in range(m):
            h = hash_of(ix[i] + dx, int32(iy[i] + dy), int32(iz[i] + dz), span, per_span, seed)
            px[i], py[i], pz[i] = part(h, 22), part(h, 12), part(h, 2)
        return
    for i in range(m):
        turn = turn_at(turns, i)
        h = hash_of(ix[i] + dx, int32(iy[i] + dy), int32(iz[i] + dz), span, per_span, seed)
        g = other_hash(h)
        px[i] = turned_part(h, g, uint32(22), turn)
        py[i] = turned_part(h, g, uint32(12), turn)
        pz[i] = turned_part(h, g, uint32(2), turn)


@per_block
def nearer(place, dx, dy, dz, point, m, first, second):  # type: ignore[no-untyped-def]
    """Bring the points of the cells (dx, dy, dz) further on into the two least squared distances.

    place : (3, BLOCK) in the cell, 0 to 1
    """
    half = float32(0.5)
    u, v, w = place[0], place[1], place[2]
    px, py, pz = point[0], point[1], point[2]
    ax, ay, az = float32(dx) + half, float32(dy) + half, float32(dz) + half
    for i in range(m):
        x, y, z = ax + half * px[i] - u[i], ay + half * py[i] - v[i], az + half * pz[i] - w[i]
        d = x * x + y * y + z * z
        second[i] = min(second[i], max(d, first[i]))
        first[i] = min(first[i], d)


@per_block
def search_further(cells, place, span, seed, turns, moving, m, far, first, second, rare):  # type: ignore[no-untyped-def]
    """Search the cells two away as well for places where ``far`` is more than one cell away.

    rare : (8 + TURNS, BLOCK) float32, room for the few such places
    """
    count = 0
    for i in range(m):
        if far[i] > float32(1.0):
            for k in range(3):
                rare[k, count], rare[3 + k, count] = float32(cells[k, i]), place[k, i]
            rare[6, count], rare[7, count] = first[i], second[i]
            for k in range(TURNS):
                rare[8 + k, count] = turns[k, i]
            count += 1
    if count == 0:
        return
    point = np.empty((3, count), np.float32)
    own = np.empty((3, count), np.int32)
    for k in range(3):
        for i in range(count):
            own[k, i] = int32(rare[k, i])
    for cell in range(125):
        dx, dy, dz = cell % 5 - 2, cell // 5 % 5 - 2, cell // 25 - 2
        if max(abs(dx), abs(dy), abs(dz)) == 2:
            cell_by = int32(dx), int32(dy), int32(dz)
            features(own, *cell_by, span, seed, rare[8:], moving, count, point)
            nearer(rare[3:6], dx, dy, dz, point, count, rare[6], rare[7])
    count = 0
    for i in range(m):
        if far[i] > float32(1.0):
            first[i], second[i] = rare[6, count], rare[7, count]
            count += 1


@kernel(types.void(F2, F2, F1, F1, F2, F2, SEEDS, F2, F2, types.int32, types.int32, F1W))
def cellular_fractal(  # type: ignore[no-untyped-def]
    points, rows, inverse_size, phase, angle, table, seeds, offsets, sways, fold, measure, out
):
    """angle : (1 or P, 2) cosine and sine of the angle by which the pattern has turned, or (0, 2)
    where it has not; measure : number in MEASURES
    """
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    one = float32(1.0)
    moving = angle.shape[0] > 0
    for chunk in prange(CHUNKS):
        work = np.empty((13 + TURNS, BLOCK), np.float32)
        rare = np.empty((8 + TURNS, BLOCK), np.float32)
        numbers = np.empty((4, BLOCK), np.int32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        place, point, first, second = work[5:8], work[8:11], work[11], work[12]
        turns, cells = work[13:], numbers[1:]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
            if moving:
                load_turns(angle, lo, m, turns)
            enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, wave)
            result[:] = float32(0.0)
            for octave in range(seeds.shape[0]):
                span, seed = table[1, octave], uint32(seeds[octave])
                frequency = table[0, octave]
                p, q, r = x, y, z
                if moving:
                    swayed(x, y, z, turns, frequency, sways[octave], m, point)
                    p, q, r = point[0], point[1], point[2]
                cells_of(p, q, r, travel, frequency, span, offsets[octave], m, place, numbers)
                # The column is wrapped anew for each neighbour.
                cells[0, :m] = numbers[0, :m]
                first[:] = float32(FAR)
                second[:] = float32(FAR)
                for cell in range(27):
                    dx, dy, dz = cell % 3 - 1, cell // 3 % 3 - 1, cell // 9 - 1
                    cell_by = int32(dx), int32(dy), int32(dz)
                    features(cells, *cell_by, span, seed, turns, moving, m, point)
                    nearer(place, dx, dy, dz, point, m, first, second)
                far = first if measure == 0 else second
                search_further(cells, place, span, seed, turns, moving, m, far, first, second, rare)
                for i in range(m):
                    a, b = np.sqrt(first[i]), np.sqrt(second[i])
                    if measure == 0:
                        wave[i] = float32(2.0 / FIRST_REACH) * a - one
                    elif measure == 1:
                        wave[i] = float32(2.0 / SECOND_REACH) * b - one
                    else:
                        wave[i] = float32(2.0 / BETWEEN_REACH) * (b - a) - one
                add_octave(wave, fold, table[2, octave], m, result)
