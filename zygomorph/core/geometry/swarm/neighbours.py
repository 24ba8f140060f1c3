"""What each point of a swarm finds among those near it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.kernels.neighbours import look_around, sort_into_cells

RULES = ("apart", "match", "gather")


def around(places: np.ndarray, speeds: np.ndarray, reach: float, rule: str) -> np.ndarray:
    """(K, 4) float32: a sum of vectors over all within a reach, and of their weights; see
    :func:`~zygomorph.core.kernels.neighbours.look_around`.

    places, speeds : (K, 3) float32; rule : of RULES
    """
    count = len(places)
    out = np.zeros((count, 4), np.float32)
    if count < 2 or reach <= 0:
        return out
    slots = 1 << int(np.ceil(np.log2(max(2 * count, 16))))
    cells = np.empty((count, 3), np.int32)
    starts, order = np.empty(slots + 1, np.int32), np.empty(count, np.int32)
    # Far from the origin cells are told apart as long as their numbers are.
    side = np.float32(max(reach, float(np.abs(places).max()) / 2**30))
    sort_into_cells(places, side, slots, cells, starts, order)
    ordered = (np.ascontiguousarray(each[order]) for each in (places, speeds, cells))
    look_around(*ordered, starts, order, np.float32(reach), RULES.index(rule), out)
    return out
