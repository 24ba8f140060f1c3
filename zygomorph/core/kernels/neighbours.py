"""What points of a swarm do to each other: each looks at those that are near it.

Points are sorted into the cells of a grid as wide as they see, so that all that are near are in the
27 cells around. Each adds up what it finds in the order of that sorting, whichever thread does it.
(C. Reynolds, "Flocks, Herds, and Schools: A Distributed Behavioral Model", SIGGRAPH 1987.)
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.kernels.compiled import CHUNKS, F2, F2W, I1, I1W, first_of, inline, kernel

I2 = types.Array(types.int32, 2, "C", readonly=True)


@inline
def _slot(i, j, k, mask):  # type: ignore[no-untyped-def]
    """The slot of a cell of space in a table of a power of two (M. Teschner et al., "Optimized
    Spatial Hashing for Collision Detection of Deformable Objects", 2003)."""
    h = uint32(uint32(i) * uint32(73856093))
    h = uint32(h ^ uint32(uint32(j) * uint32(19349663)))
    h = uint32(h ^ uint32(uint32(k) * uint32(83492791)))
    return int32(h & uint32(mask))


@kernel(types.void(F2, types.float32, types.int64, types.int32[:, ::1], I1W, I1W), parallel=False)
def sort_into_cells(places, side, slots, cells, starts, order):  # type: ignore[no-untyped-def]
    """cells : (K, 3), written; starts : (slots + 1,); order : (K,), points cell by cell

    slots : a power of two
    """
    n = places.shape[0]
    per = float32(1.0) / side
    mask = slots - 1
    starts[:] = 0
    for p in range(n):
        for axis in range(3):
            cells[p, axis] = int32(np.floor(places[p, axis] * per))
        starts[_slot(cells[p, 0], cells[p, 1], cells[p, 2], mask) + 1] += 1
    for s in range(slots):
        starts[s + 1] += starts[s]
    fill = starts[:slots].copy()
    for p in range(n):
        s = _slot(cells[p, 0], cells[p, 1], cells[p, 2], mask)
        order[fill[s]] = p
        fill[s] += 1


@kernel(types.void(F2, F2, I2, I1, I1, types.float32, types.int64, F2W))
def look_around(places, speeds, cells, starts, order, reach, rule, out):  # type: ignore[no-untyped-def]
    """What each point finds within a reach, (K, 4): a sum of vectors, and of weights.

    places, speeds, cells : (K, 3) in the order of the cells; order : (K,) whose they are
    rule : 0, away from each that is near, the nearer the more: (1 - d / reach) times the way from
        it; 1, their speeds; 2, the ways to where they are
    """
    n = places.shape[0]
    mask = starts.shape[0] - 2
    squared = reach * reach
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            px, py, pz = places[p, 0], places[p, 1], places[p, 2]
            sx = sy = sz = weight = float32(0.0)
            for i in range(-1, 2):
                for j in range(-1, 2):
                    for k in range(-1, 2):
                        ci, cj, ck = cells[p, 0] + i, cells[p, 1] + j, cells[p, 2] + k
                        s = _slot(ci, cj, ck, mask)
                        for q in range(starts[s], starts[s + 1]):
                            # Several cells may share a slot.
                            if cells[q, 0] != ci or cells[q, 1] != cj or cells[q, 2] != ck:
                                continue
                            dx, dy, dz = places[q, 0] - px, places[q, 1] - py, places[q, 2] - pz
                            d2 = dx * dx + dy * dy + dz * dz
                            if d2 >= squared or q == p:
                                continue
                            if rule == 0:
                                d = max(d2 ** float32(0.5), float32(1e-9))
                                share = (float32(1.0) - d / reach) / d
                                sx -= share * dx
                                sy -= share * dy
                                sz -= share * dz
                                weight += float32(1.0) - d / reach
                            elif rule == 1:
                                sx += speeds[q, 0]
                                sy += speeds[q, 1]
                                sz += speeds[q, 2]
                                weight += float32(1.0)
                            else:
                                sx += dx
                                sy += dy
                                sz += dz
                                weight += float32(1.0)
            at = order[p]
            out[at, 0], out[at, 1], out[at, 2], out[at, 3] = sx, sy, sz, weight
