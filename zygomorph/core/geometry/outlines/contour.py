"""Contours in a plane, and the pen that makes them of lines and curves."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

Place = tuple[float, float]


@dataclass(frozen=True)
class Contour:
    """points : (n, 2) float64, without the first one again at the end; closed : whether it ends
    where it begins"""

    points: np.ndarray
    closed: bool


def _without_repeats(points: np.ndarray, closed: bool) -> np.ndarray:
    keep = np.ones(len(points), bool)
    keep[1:] = np.any(points[1:] != points[:-1], axis=1)
    points = points[keep]
    if closed and len(points) > 1 and np.array_equal(points[0], points[-1]):
        points = points[:-1]
    return points


class Pen:
    """Collects contours from lines and Bézier curves, each curve as the same number of pieces.

    Its methods are named as font libraries call them.
    """

    def __init__(self, pieces: int) -> None:
        self.contours: list[Contour] = []
        self._share = np.arange(1, pieces + 1)[:, None] / pieces
        self._path: list[np.ndarray] = []

    def moveTo(self, place: Place) -> None:
        self.endPath()
        self._path = [np.array([place], np.float64)]

    def lineTo(self, place: Place) -> None:
        self._path.append(np.array([place], np.float64))

    def qCurveTo(self, control: Place, place: Place) -> None:
        self._bezier(control, place)

    def curveTo(self, first: Place, second: Place, place: Place) -> None:
        self._bezier(first, second, place)

    def closePath(self) -> None:
        self._end(closed=True)

    def endPath(self) -> None:
        self._end(closed=False)

    def _bezier(self, *places: Place) -> None:
        """De Casteljau's construction, for all pieces at once."""
        level = [np.asarray(p, np.float64)[None, :] for p in (self._path[-1][-1], *places)]
        while len(level) > 1:
            level = [a + self._share * (b - a) for a, b in pairwise(level)]
        self._path.append(level[0])

    def _end(self, closed: bool) -> None:
        if self._path:
            points = _without_repeats(np.concatenate(self._path), closed)
            if len(points) >= (3 if closed else 2):
                self.contours.append(Contour(points, closed))
        self._path = []
