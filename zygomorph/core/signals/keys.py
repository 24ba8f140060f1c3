"""Values set at chosen frames, with a rule for what lies between, before and after.

Smooth stretches are piecewise cubic Hermite polynomials with the monotone slopes of F. Fritsch &
J. Butland (SIAM J. Sci. Stat. Comput. 5, 1984), so that nothing overshoots a key. Where keys
repeat, the slopes at the first and last key see the keys across the join.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.loop import Loop
from zygomorph.core.values import choice

EASES = {"linear": "linear", "smooth": "smooth", "held": "held"}
OUTSIDE = {"hold": "hold", "repeat": "repeat"}


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
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = (w1 + w2) / (w1 / d[:-1] + w2 / d[1:])
    slopes[1:-1] = np.where(same, mean, 0.0)
    slopes[0] = _end_slope(h[0], h[1], d[0], d[1])
    slopes[-1] = _end_slope(h[-1], h[-2], d[-1], d[-2])
    return slopes


def _into_span(times: np.ndarray, first: float, last: float, before: str, after: str) -> np.ndarray:
    span = last - first
    if span <= 0:
        return np.full_like(times, first)
    wrapped = first + np.mod(times - first, span)
    early = wrapped if before == "repeat" else first
    # The last key itself is read as the last key, not as the first of the next round.
    late = np.where(times == last, last, wrapped) if after == "repeat" else last
    return np.where(times < first, early, np.where(times >= last, late, times))


def sample(values: dict[str, Any], times: np.ndarray, loop: Loop) -> np.ndarray:
    keys = sorted(values["keys"], key=lambda k: k["frame"])
    t = np.array([k["frame"] for k in keys], np.float64)
    v = np.array([k["value"] for k in keys], np.float64)
    times = np.asarray(times, np.float64)
    if len(t) == 1:
        return np.full(times.shape, v[0])
    before, after = values["before"], values["after"]
    at = _into_span(times, t[0], t[-1], before, after)
    slopes = monotone_slopes(t, v, periodic="repeat" in (before, after))
    k = np.clip(np.searchsorted(t, at, side="right") - 1, 0, len(t) - 2)
    h = t[k + 1] - t[k]
    s = (at - t[k]) / h
    linear = v[k] + (v[k + 1] - v[k]) * s
    hermite = (
        (1 + 2 * s) * (1 - s) ** 2 * v[k]
        + s * (1 - s) ** 2 * h * slopes[k]
        + s**2 * (3 - 2 * s) * v[k + 1]
        + s**2 * (s - 1) * h * slopes[k + 1]
    )
    held = np.where(at >= t[-1], v[-1], v[k])
    eases = np.array([list(EASES).index(key.get("ease", "smooth")) for key in keys])[k]
    return np.choose(eases, [linear, hermite, held])


DEFINITION = Definition(
    sort="signal",
    key="keys",
    title="Keys",
    help="Values set at frames of your choice; between them linear, smooth or held.",
    values={
        "before": choice("hold", "Before", "What happens before the first key.", OUTSIDE),
        "after": choice("hold", "After", "What happens after the last key.", OUTSIDE),
    },
    sentence="follows its keys",
    apply=sample,
    order=2,
)
