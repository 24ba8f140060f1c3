"""Curves through given values that overshoot none of them.

Piecewise cubic Hermite polynomials (PCHIP) with the monotone slopes of F. Fritsch & J. Butland
(SIAM J. Sci. Stat. Comput. 5, 1984), as SciPy has them.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar

import numpy as np
from scipy.interpolate import BPoly, PchipInterpolator

T = TypeVar("T")
# Places nearer than this are one: a slope between them would not be a finite number.
NEAREST = 1e-6


def distinct(places: Iterable[float], values: Iterable[T]) -> list[tuple[float, T]]:
    """Places in order, each with its value; of those at one place the last one given counts."""
    found: list[tuple[float, T]] = []
    for place, value in sorted(zip(places, values, strict=True), key=lambda pair: pair[0]):
        if found and place - found[-1][0] < NEAREST:
            place, _ = found.pop()
        found.append((place, value))
    return found


def monotone_curve(t: np.ndarray, v: np.ndarray) -> PchipInterpolator:
    """The curve through v at t, both (K,), K at least 2."""
    return PchipInterpolator(t, v)


def monotone_slopes(t: np.ndarray, v: np.ndarray, periodic: bool) -> np.ndarray:
    """Slope at each key, in value per frame; where it is periodic, the ends see the keys across the
    join."""
    if len(t) == 1:
        return np.zeros(1)
    if periodic and len(t) > 2:
        span = t[-1] - t[0]
        around_t = np.concatenate([[t[-2] - span], t, [t[1] + span]])
        around_v = np.concatenate([[v[-2] - v[-1] + v[0]], v, [v[1] - v[0] + v[-1]]])
        return monotone_slopes(around_t, around_v, False)[1:-1]
    slopes: np.ndarray = monotone_curve(t, v).derivative()(t)
    return slopes


def hermite(t: np.ndarray, v: np.ndarray, leaving: np.ndarray, arriving: np.ndarray) -> BPoly:
    """The curve through v at t, both (K,).

    leaving, arriving : (K,) slopes with which it leaves each and comes to it
    """
    third = np.diff(t) / 3
    handles = [v[:-1], v[:-1] + third * leaving[:-1], v[1:] - third * arriving[1:], v[1:]]
    return BPoly(np.stack(handles), t)
