"""Numbers that look like chance and are decided by whole numbers, such as a seed and an index.

SplitMix64's finaliser (G. Steele, D. Lea & C. Flood, "Fast Splittable Pseudorandom Number
Generators", 2014; from memory).
"""

from __future__ import annotations

import numpy as np

GOLDEN = np.uint64(0x9E3779B97F4A7C15)


def mixed(h: np.ndarray) -> np.ndarray:
    """All 64 bits of a hash good; uint64."""
    h = (h ^ (h >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    h = (h ^ (h >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    found: np.ndarray = h ^ (h >> np.uint64(31))
    return found


def unit_of(h: np.ndarray) -> np.ndarray:
    """A hash as a number from 0 up to, but not including, 1; float64."""
    found: np.ndarray = (h >> np.uint64(11)).astype(np.float64) * 2.0**-53
    return found


def by_chance(*keys: np.ndarray | int) -> np.ndarray:
    """Numbers from 0 to 1 that whole numbers decide together; arrays of one shape, or numbers."""
    h = np.zeros(np.broadcast_shapes(*(np.shape(key) for key in keys)), np.uint64)
    for key in keys:
        with np.errstate(over="ignore"):
            h = mixed(h + np.asarray(key, np.int64).astype(np.uint64) * GOLDEN)
    return unit_of(h)


def around_a_key(before: tuple[int, ...], after: tuple[int]) -> tuple[np.uint64, np.uint64]:
    """What :func:`by_chance` comes to of keys before one that differs from element to element, and
    what is added for the one after it: for loops that go on from there."""
    h = np.zeros(1, np.uint64)
    with np.errstate(over="ignore"):
        for key in before:
            h = mixed(h + np.asarray([key], np.int64).astype(np.uint64) * GOLDEN)
        last = np.asarray(after, np.int64).astype(np.uint64) * GOLDEN
    return h[0], last[0]
