"""Segments as a file gives them, put together to curves."""

from __future__ import annotations

import numpy as np


def chains(segments: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Curves along segments that meet end to end; where more than two meet, curves end.

    segments : (S, 2) numbers of points
    returns the points of all curves, (N,), and where each begins, (K + 1,); a curve that comes back
    to its first point names it again
    """
    segments = np.asarray(segments, np.int64)
    segments = segments[segments[:, 0] != segments[:, 1]]
    # One that is named again, either way round, is the same one; the first stays where it is.
    _, kept = np.unique(np.sort(segments, axis=1), axis=0, return_index=True)
    segments = segments[np.sort(kept)]
    if len(segments) == 0:
        return np.zeros(0, np.int64), np.zeros(1, np.int64)
    ends = segments.reshape(-1)
    order = np.argsort(ends, kind="stable")
    starts = np.searchsorted(ends[order], np.arange(ends.max() + 2))
    at = (order // 2).tolist()
    first = starts.tolist()
    pairs = segments.tolist()
    degree = np.diff(starts)
    used = [False] * len(pairs)
    curves: list[list[int]] = []

    def walk(point: int, segment: int) -> None:
        curve = [point]
        while True:
            used[segment] = True
            a, b = pairs[segment]
            point = b if a == point else a
            curve.append(point)
            here = at[first[point] : first[point + 1]]
            following = [s for s in here if not used[s]]
            if len(here) != 2 or not following:
                break
            segment = following[0]
        curves.append(curve)

    for point in np.flatnonzero((degree != 0) & (degree != 2)).tolist():
        for segment in at[first[point] : first[point + 1]]:
            if not used[segment]:
                walk(point, segment)
    # What is left has no end anywhere.
    for segment, (point, _) in enumerate(pairs):
        if not used[segment]:
            walk(point, segment)
    sizes = [len(curve) for curve in curves]
    return np.concatenate(curves), np.concatenate([[0], np.cumsum(sizes)])
