"""A moving mesh as few shapes and their weights over time.

Two ways, of which the smaller is taken:

frames
    Some frames are kept and what lies between is their linear mixture.
basis
    Shapes found by singular value decomposition of all frames, with weights for every frame.

Both keep every point at every frame within a stated distance.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np


@dataclass(frozen=True)
class Shapes:
    """offsets : (K, V, 3) float32 from the first sample
    keys : (T,) numbers of the samples that are keys
    times : (T,) their times in frames
    weights : (T, K) float32
    error : largest distance from the true points at the samples, metres
    held : whether a key's weights hold until the next one, instead of going there in a straight
        line
    """

    method: str
    offsets: np.ndarray
    keys: np.ndarray
    times: np.ndarray
    weights: np.ndarray
    error: float
    held: bool = False

    def weights_at(self, time: float) -> np.ndarray:
        """(K,) at a time in frames."""
        if self.held:
            found: np.ndarray = self.weights[np.searchsorted(self.times, time + 1e-9) - 1]
            return found
        return np.array([np.interp(time, self.times, w) for w in self.weights.T])


def largest_distance(difference: np.ndarray) -> float:
    """(..., 3) differences to the longest of them."""
    if difference.size == 0:
        return 0.0
    return float(np.sqrt(np.einsum("...i,...i->...", difference, difference).max()))


def _segment_error(frames: np.ndarray, times: np.ndarray, first: int, last: int) -> float:
    own = times[first : last + 1]
    share = ((own - own[0]) / max(own[-1] - own[0], 1e-9)).astype(np.float32)
    line = frames[first] + share[:, None, None] * (frames[last] - frames[first])
    return largest_distance(line - frames[first : last + 1])


def kept_frames(frames: np.ndarray, times: np.ndarray, tolerance: float) -> list[int]:
    """Samples between which a straight mixture stays within the tolerance; first and last are
    kept.

    frames : (T, V, 3) float32; times : (T,) of the samples
    """
    total = len(frames)
    kept = [0]
    while kept[-1] < total - 1:
        start = kept[-1]
        reach = 1
        while start + reach * 2 < total and (
            _segment_error(frames, times, start, start + reach * 2) <= tolerance
        ):
            reach *= 2
        low, high = start + reach, min(start + reach * 2, total - 1)
        while low < high:
            middle = (low + high + 1) // 2
            if _segment_error(frames, times, start, middle) <= tolerance:
                low = middle
            else:
                high = middle - 1
        kept.append(low)
    return kept


def by_frames(frames: np.ndarray, times: np.ndarray, tolerance: float) -> Shapes:
    """Thin the samples; the first is the base, and a last one that equals it needs no shape."""
    kept = kept_frames(frames, times, tolerance)
    closes = np.array_equal(frames[kept[-1]], frames[0])
    shaped = kept[1:-1] if closes else kept[1:]
    weights = np.zeros((len(kept), len(shaped)), np.float32)
    for column, frame in enumerate(shaped):
        weights[kept.index(frame), column] = 1.0
    error = max(_segment_error(frames, times, a, b) for a, b in pairwise(kept))
    offsets = frames[shaped] - frames[0]
    return Shapes("frames", offsets, np.array(kept), times[kept], weights, error)


def by_holding(frames: np.ndarray, times: np.ndarray) -> Shapes:
    """A shape for each state of what stands still between its jumps; exact."""
    changed = np.any(frames[1:] != frames[:-1], axis=(1, 2))
    kept = [0, *(np.flatnonzero(changed) + 1)]
    if kept[-1] != len(frames) - 1:
        kept.append(len(frames) - 1)
    shaped: list[int] = []
    weights = np.zeros((len(kept), len(kept)), np.float32)
    for row, sample in enumerate(kept):
        if np.array_equal(frames[sample], frames[0]):
            continue
        # A state that comes again needs no shape of its own.
        same = next(
            (c for c, k in enumerate(shaped) if np.array_equal(frames[k], frames[sample])), -1
        )
        if same < 0:
            shaped.append(sample)
        weights[row, same if same >= 0 else len(shaped) - 1] = 1.0
    return Shapes(
        "held states",
        frames[shaped] - frames[0],
        np.array(kept),
        times[kept],
        weights[:, : len(shaped)],
        0.0,
        held=True,
    )


def by_basis(frames: np.ndarray, times: np.ndarray, tolerance: float, most: int) -> Shapes | None:
    """Fewest singular shapes within the tolerance, or None where more than ``most`` are needed.

    The decomposition goes through the (T, T) Gram matrix, which is small however many points
    there are.
    """
    total = len(frames)
    flat = (frames - frames[0]).reshape(total, -1)
    values, vectors = np.linalg.eigh((flat @ flat.T).astype(np.float64))
    order = np.argsort(values)[::-1]
    values, vectors = values[order], vectors[:, order]
    rank = int((values > max(values[0], 1e-30) * 1e-12).sum())
    shapes = (vectors[:, :rank].T.astype(np.float32)) @ flat

    def error_of(count: int) -> float:
        rebuilt = vectors[:, :count].astype(np.float32) @ shapes[:count]
        # The first frame is the base and is exact.
        return largest_distance((rebuilt - flat).reshape(total, -1, 3)[1:])

    low, high = 1, min(rank, most)
    if high < 1 or error_of(high) > tolerance:
        return None
    while low < high:
        middle = (low + high) // 2
        if error_of(middle) <= tolerance:
            high = middle
        else:
            low = middle + 1
    weights = vectors[:, :low].astype(np.float32)
    weights = weights - weights[0]
    offsets = shapes[:low].reshape(low, -1, 3)
    rebuilt = (weights @ shapes[:low] - flat).reshape(total, -1, 3)
    error = largest_distance(rebuilt)
    if error > tolerance:
        return None
    return Shapes("basis", offsets, np.arange(total), times, weights, error)


def fit_normals(shapes: Shapes, normals: np.ndarray) -> np.ndarray:
    """(K, V, 3) float32: offsets of normals that go best with the shapes' weights.

    normals : (T, V, 3) at the keys of the shapes
    """
    flat = (normals - normals[0]).reshape(len(normals), -1)
    if shapes.weights.shape[1] == 0:
        return np.zeros((0, *normals.shape[1:]), np.float32)
    # The same least squares as a solver's, which would factor again for every coordinate.
    inverse = np.linalg.pinv(shapes.weights.astype(np.float64), rcond=1e-6)
    solved = inverse.astype(np.float32) @ flat
    return solved.reshape(-1, *normals.shape[1:]).astype(np.float32)


def still_shapes(points: np.ndarray, time: float = 0.0) -> Shapes:
    """Of a mesh that stands still; points : (V, 3)."""
    none = np.zeros((0, len(points), 3), np.float32)
    return Shapes(
        "still", none, np.zeros(1, int), np.array([time]), np.zeros((1, 0), np.float32), 0.0
    )


def smallest(
    frames: np.ndarray,
    times: np.ndarray,
    tolerance: float,
    cancelled: Callable[[], bool] = lambda: False,
) -> Shapes:
    """The smaller of the two ways. frames : (T, V, 3) float32; times : (T,); tolerance : metres."""
    if len(frames) == 1 or not np.any(frames != frames[0]):
        return still_shapes(frames[0], float(times[0]))
    thinned = by_frames(frames, times, tolerance)
    if cancelled():
        return thinned
    basis = by_basis(frames, times, tolerance, most=max(1, len(thinned.offsets) - 1))
    return basis if basis is not None else thinned
