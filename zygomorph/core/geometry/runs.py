"""Chosen elements as runs of neighbouring numbers, which documents keep, and as flags."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np


def flags(runs: Sequence[Sequence[int]], count: int) -> np.ndarray:
    """(count,) bool: which elements the runs, (first, how many) each, hold; those beyond the
    last element are left out."""
    found = np.zeros(count, bool)
    for first, many in runs:
        found[first : first + many] = True
    return found


def runs_of(chosen: np.ndarray) -> list[list[int]]:
    """Flags, (n,) bool, as runs of (first, how many)."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], chosen, [False]]).astype(np.int8)))
    return [[int(a), int(b - a)] for a, b in zip(edges[::2], edges[1::2], strict=True)]


def ragged(starts: np.ndarray, lengths: np.ndarray) -> np.ndarray:
    """The numbers start, start + 1, … of each run after the other; both (n,) int."""
    total = int(lengths.sum())
    before = np.cumsum(lengths) - lengths
    return np.arange(total) + np.repeat(starts - before, lengths)
