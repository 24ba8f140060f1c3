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
from zygomorph.core.monotone import hermite, monotone_slopes
from zygomorph.core.values import choice

EASES = {"linear": "linear", "smooth": "smooth", "held": "held"}
OUTSIDE = {"hold": "hold", "repeat": "repeat"}


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
    smooth = hermite(at, t, v, slopes)
    held = np.where(at >= t[-1], v[-1], v[k])
    eases = np.array([list(EASES).index(key.get("ease", "smooth")) for key in keys])[k]
    return np.choose(eases, [linear, smooth, held])


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
