"""Which of many loose points are left, where fewer are wanted."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zygomorph.core.geometry.chance import by_chance


@lru_cache(maxsize=8)
def left_of(count: int, stride: int) -> np.ndarray:
    """Numbers of points, ascending: one by chance of each ``stride`` that follow one another.

    The very one in each ``stride`` would be whole columns of a grid, and none of others, wherever
    the count of its columns can be divided by that.
    """
    if stride <= 1:
        return np.arange(count)
    first = np.arange(0, count, stride)
    among = np.minimum(stride, count - first)
    chosen: np.ndarray = first + (by_chance(stride, first) * among).astype(np.int64)
    chosen.setflags(write=False)
    return chosen
