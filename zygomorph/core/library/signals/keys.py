"""Values set at chosen frames, with a rule for what lies between, before and after.

Smooth stretches are piecewise cubic Hermite polynomials with the monotone slopes of F. Fritsch &
J. Butland (SIAM J. Sci. Stat. Comput. 5, 1984), so that nothing overshoots a key. Where keys
repeat, the slopes at the first and last key see the keys across the join. A key may have tangents
of its own instead: ``in`` and ``out``, in value per frame.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.loop import Loop
from zygomorph.core.monotone import hermite, monotone_slopes
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import choice

EASES = {"linear": "linear", "smooth": "smooth", "held": "held"}
OUTSIDE = {
    "hold": "hold",
    "repeat": "repeat",
    "add": "repeat, adding up",
    "mirror": "there and back",
}


def _rounds(
    times: np.ndarray, first: float, last: float, before: str, after: str
) -> tuple[np.ndarray, np.ndarray]:
    """Where in the span of the keys each time falls, and how many rounds it is from it."""
    span = last - first
    if span <= 0:
        return np.full_like(times, first), np.zeros_like(times)
    turn = np.floor((times - first) / span)
    # The last key itself is read as the last key, not as the first of the next round.
    turn = np.where(times == last, 0, turn)
    way = np.where(times < first, before, np.where(times > last, after, "inside"))
    wrapped = times - turn * span
    back = (way == "mirror") & (np.mod(turn, 2) == 1)
    at = np.where(back, first + last - wrapped, wrapped)
    at = np.where(way == "hold", np.clip(times, first, last), at)
    return at, np.where(way == "add", turn, 0)


def _with_tangents(keys: list[dict[str, Any]], slopes: np.ndarray, side: str) -> np.ndarray:
    """The keys' own slopes on one side, where they are set; else the smooth ones."""
    own = [key.get(side) for key in keys]
    return np.array([s if o is None else o for s, o in zip(slopes, own, strict=True)])


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, ties: Ties = NO_TIES
) -> np.ndarray:
    keys = sorted(values["keys"], key=lambda k: k["frame"])
    t = np.array([k["frame"] for k in keys], np.float64)
    v = np.array([k["value"] for k in keys], np.float64)
    times = np.asarray(times, np.float64)
    if len(t) == 1:
        return np.full(times.shape, v[0])
    before, after = values["before"], values["after"]
    at, rounds = _rounds(times, t[0], t[-1], before, after)
    slopes = monotone_slopes(t, v, periodic=bool({"repeat", "add"} & {before, after}))
    outward, inward = _with_tangents(keys, slopes, "out"), _with_tangents(keys, slopes, "in")
    k = np.clip(np.searchsorted(t, at, side="right") - 1, 0, len(t) - 2)
    s = (at - t[k]) / (t[k + 1] - t[k])
    linear = v[k] + (v[k + 1] - v[k]) * s
    smooth = hermite(at, t, v, outward, inward)
    held = np.where(at >= t[-1], v[-1], v[k])
    eases = np.array([list(EASES).index(key.get("ease", "smooth")) for key in keys])[k]
    return np.choose(eases, [linear, smooth, held]) + rounds * (v[-1] - v[0])


DEFINITION = Definition(
    sort="signal",
    key="keys",
    title="Keys",
    help="Values set at frames of your choice; between them linear, smooth or held.",
    also=("keyframes", "key", "animation curve", "curve"),
    values={
        "before": choice("hold", "Before", "What happens before the first key.", OUTSIDE),
        "after": choice("hold", "After", "What happens after the last key.", OUTSIDE),
    },
    sentence="follows its keys",
    apply=sample,
    order=2,
)
