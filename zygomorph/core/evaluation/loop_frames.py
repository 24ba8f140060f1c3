"""Frames of reference on surfaces over a whole loop, of which a first sight is wanted at once.

Each moment of a surface may take long. What was not computed yet is shown by a cubic spline through
some moments, until all frames of the loop are there.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.interpolate import CubicSpline

from zygomorph.core.document.study import Study, SurfacePlace
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.surface_frames import KeptSurfaceFrames
from zygomorph.core.memo.memo import Memo

# Frames between the knots of a spline.
APART = 16
KEPT_BYTES = 24_000_000


class LoopFrames:
    """Where places of surfaces are over the loop of a study, at once.

    unfinished : what computes all frames of those that a spline stood in for
    """

    def __init__(self, exact: KeptSurfaceFrames, kept: Memo[np.ndarray]) -> None:
        self._exact = exact
        self._kept = kept
        self._splines: dict[tuple[object, ...], Callable[[float], np.ndarray] | None] = {}
        self.unfinished: list[Callable[[], None]] = []

    def __call__(
        self, study: Study, place: SurfacePlace, frame: float, final: bool
    ) -> np.ndarray | None:
        """See :data:`zygomorph.core.document.study.SurfaceFrames`."""

        def at(time: float) -> np.ndarray | None:
            return self._exact(study, place, time, final)

        if all(piece["id"] != place.piece for piece in study.pieces):
            return None
        key = (piece_key(study, place.piece, final), place)
        found = self._kept.get(key)
        if found is not None:
            return _between(found, frame)
        if key not in self._splines:
            last = study.loop.frames
            self._splines[key] = _spline(at, last)
            self.unfinished.append(lambda: self._finish(key, at, last))
        spline = self._splines[key]
        return None if spline is None else spline(frame)

    def _finish(
        self, key: tuple[object, ...], at: Callable[[float], np.ndarray | None], last: int
    ) -> None:
        found = [at(float(frame)) for frame in range(last + 1)]
        known = [each for each in found if each is not None]
        if len(known) == len(found):
            self._kept.put(key, np.stack(known))


def _between(frames: np.ndarray, frame: float) -> np.ndarray:
    """(4, 4) at a moment; frames : (F + 1, 4, 4) at whole ones"""
    first = min(int(frame), len(frames) - 1)
    second = min(first + 1, len(frames) - 1)
    share = frame - first
    mixed: np.ndarray = frames[first] * (1 - share) + frames[second] * share
    return mixed


def _spline(
    at: Callable[[float], np.ndarray | None], last: int
) -> Callable[[float], np.ndarray] | None:
    """Through every so many frames; None where there is no surface at one of them."""
    knots = np.unique(np.linspace(0, last, last // APART + 2).round())
    found = [at(float(knot)) for knot in knots]
    known = [each for each in found if each is not None]
    if len(known) < len(found):
        return None
    spline: Callable[[float], np.ndarray] = CubicSpline(knots, np.stack(known))
    return spline
