"""Curves through given values that overshoot none of them.

Piecewise cubic Hermite polynomials with the monotone slopes of F. Fritsch & J. Butland (SIAM J.
Sci. Stat. Comput. 5, 1984).
"""

from __future__ import annotations

import numpy as np


def _end_slope(h0: float, h1: float, d0: float, d1: float) -> float:
    """Three-point slope at an end, kept from overshooting (as SciPy's PCHIP does)."""
    slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
    if np.sign(slope) != np.sign(d0):
        return 0.0
    if np.sign(d0) != np.sign(d1) and abs(slope) > 3 * abs(d0):
        return 3 * d0
    return slope


def monotone_slopes(t: np.ndarray, v: np.ndarray, periodic: bool) -> np.ndarray:
    """Slope at each key, in value per frame."""
    if len(t) == 1:
        return np.zeros(1)
    if periodic and len(t) > 2:
        span = t[-1] - t[0]
        around_t = np.concatenate([[t[-2] - span], t, [t[1] + span]])
        around_v = np.concatenate([[v[-2] - v[-1] + v[0]], v, [v[1] - v[0] + v[-1]]])
        return monotone_slopes(around_t, around_v, False)[1:-1]
    h = np.diff(t)
    d = np.diff(v) / h
    slopes = np.empty(len(t))
    if len(t) == 2:
        slopes[:] = d[0]
        return slopes
    w1 = 2 * h[1:] + h[:-1]
    w2 = h[1:] + 2 * h[:-1]
    same = d[:-1] * d[1:] > 0
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        mean = (w1 + w2) / (w1 / d[:-1] + w2 / d[1:])
    slopes[1:-1] = np.where(same, mean, 0.0)
    slopes[0] = _end_slope(h[0], h[1], d[0], d[1])
    slopes[-1] = _end_slope(h[-1], h[-2], d[-1], d[-2])
    return slopes


def hermite(
    at: np.ndarray,
    t: np.ndarray,
    v: np.ndarray,
    slopes: np.ndarray,
    arriving: np.ndarray | None = None,
) -> np.ndarray:
    """The curve through v at t, both (K,), with slopes (K,) there, at any places between.

    arriving : (K,) slopes with which it comes to each, where those are others
    """
    arriving = slopes if arriving is None else arriving
    k = np.clip(np.searchsorted(t, at, side="right") - 1, 0, len(t) - 2)
    h = t[k + 1] - t[k]
    s = (at - t[k]) / h
    return (
        (1 + 2 * s) * (1 - s) ** 2 * v[k]
        + s * (1 - s) ** 2 * h * slopes[k]
        + s**2 * (3 - 2 * s) * v[k + 1]
        + s**2 * (s - 1) * h * arriving[k + 1]
    )
