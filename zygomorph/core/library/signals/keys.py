"""Values set at chosen frames, with a rule for what lies between, before and after.

Smooth stretches are piecewise cubic Hermite polynomials with the monotone slopes of F. Fritsch &
J. Butland (SIAM J. Sci. Stat. Comput. 5, 1984), so that nothing overshoots a key. Where keys
repeat, the slopes at the first and last key see the keys across the join. A key may have tangents
of its own instead: ``in`` and ``out``, in value per frame.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np
from scipy.interpolate import BPoly

from zygomorph.core.animation.fitting import Fitted, Signal, short, whole_periods
from zygomorph.core.animation.loop_closure import Moving
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.geometry.monotone_cubic import distinct, hermite, monotone_slopes
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.keys import KEYS
from zygomorph.core.values.value import choice

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


class _Curve(NamedTuple):
    """t, v : (K,) frames and values; ease : (K,) numbers of EASES; smooth : the curve through
    them"""

    t: np.ndarray
    v: np.ndarray
    ease: np.ndarray
    smooth: BPoly


# Frame, value, ease, and the slopes before and after that are set by hand.
_Key = tuple[float, float, str, float | None, float | None]


@lru_cache(maxsize=1024)
def _curve(keys: tuple[_Key, ...], periodic: bool) -> _Curve:
    frames, values, eases, before, after = zip(*keys, strict=True)
    t, v = np.array(frames, np.float64), np.array(values, np.float64)
    slopes = monotone_slopes(t, v, periodic)
    arriving, leaving = (
        np.array([s if own is None else own for s, own in zip(slopes, side, strict=True)])
        for side in (before, after)
    )
    ease = np.array([list(EASES).index(each) for each in eases])
    return _Curve(t, v, ease, hermite(t, v, leaving, arriving))


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    ordered = distinct((k["frame"] for k in values["keys"]), values["keys"])
    keys = tuple(
        (frame, k["value"], k.get("ease", "smooth"), k.get("in"), k.get("out"))
        for frame, k in ordered
    )
    if len(keys) == 1:
        return np.full(times.shape, float(keys[0][1]))
    before, after = values["before"], values["after"]
    t, v, ease, smooth = _curve(keys, bool({"repeat", "add"} & {before, after}))
    at, rounds = _rounds(times, t[0], t[-1], before, after)
    k = np.clip(np.searchsorted(t, at, side="right") - 1, 0, len(t) - 2)
    s = (at - t[k]) / (t[k + 1] - t[k])
    linear = v[k] + (v[k + 1] - v[k]) * s
    held = np.where(at >= t[-1], v[-1], v[k])
    return np.choose(ease[k], [linear, smooth(at), held]) + rounds * (v[-1] - v[0])


# A last key this near to the loop's end is meant for it, as a share of the loop.
NEAR_END = 0.12


def _spelt(keys: list[Signal]) -> str:
    return f"keys to frame {short(keys[-1]['frame']):g}"


def _with_span(keys: list[Signal], span: float) -> list[Signal]:
    """Keys whose first and last are so many frames apart; inner ones on whole frames."""
    first, factor = keys[0]["frame"], span / (keys[-1]["frame"] - keys[0]["frame"])
    moved = [{**k, "frame": round(first + (k["frame"] - first) * factor)} for k in keys[:-1]]
    for key in moved:
        for side in ("in", "out"):
            if key.get(side) is not None:
                key[side] = key[side] / factor
    return [*moved, {**keys[-1], "frame": short(first + span)}]


def fit(signal: Signal, moving: Moving, loop: Loop, signals: SignalContext) -> Fitted | str:
    keys = sorted((dict(k) for k in signal["keys"]), key=lambda k: k["frame"])
    frames, period = loop.frames, moving.spec.period
    if len(keys) < 2 or keys[-1]["frame"] <= keys[0]["frame"]:
        return "it has one key only"
    span = keys[-1]["frame"] - keys[0]["frame"]
    after = signal.get("after", "hold")
    if after in ("repeat", "add", "mirror"):
        round_ = 2 * span if after == "mirror" else span
        times = max(1, round(frames / round_))
        fitted = _with_span(keys, frames / times / (2 if after == "mirror" else 1))
        rise = keys[-1]["value"] - keys[0]["value"]
        if after == "add" and abs(rise) > 1e-12:
            if not period:
                return "it adds up on and on; let it repeat instead"
            # The rounds of one loop together make whole periods.
            fitted[-1]["value"] = short(
                keys[0]["value"] + whole_periods(rise * times, period) / times
            )
        elif after == "repeat" and abs(rise) > 1e-12:
            if not period and abs(rise) > 0.35 * _reach(keys):
                return "it jumps back at its last key; let it go there and back instead"
            turns = abs(rise) > 0.25 * period if period else False
            way = whole_periods(rise, period) if period and turns else 0.0
            fitted[-1]["value"] = short(keys[0]["value"] + way)
        changed = {**signal, "keys": fitted, "before": after}
        return changed, _spelt(keys), f"{_spelt(fitted)}, {times} × a loop"
    return _fit_held_keys(signal, keys, moving, frames)


def _fit_held_keys(signal: Signal, keys: list[Signal], moving: Moving, frames: int) -> Fitted | str:
    """Keys with nothing but themselves: the last one comes to the loop's end, with the value of
    the first."""
    period, first, last = moving.spec.period, keys[0], keys[-1]
    rise = last["value"] - first["value"]
    near = abs(last["frame"] - frames) <= NEAR_END * frames
    if period and abs(rise) > period * 0.25:
        # Towards whole periods: 499/500 of a turn on the last frame is a whole turn at the end.
        if near and len(keys) > 1:
            before = keys[-2]
            slope = (last["value"] - before["value"]) / (last["frame"] - before["frame"])
            rise += slope * (frames - last["frame"])
        value = first["value"] + whole_periods(rise, period)
    else:
        value = first["value"]
    ending = {**last, "frame": frames, "value": short(value)}
    for side in ("in", "out"):
        ending.pop(side, None)
    # A key that is not the way back stays, and the loop gets one more.
    way_back = near and (abs(rise) <= 0.35 * _reach(keys) or bool(period))
    fitted = [*(keys[:-1] if way_back else keys), ending]
    if not way_back and last["frame"] >= frames:
        return "it goes on beyond the loop; move its last keys inside"
    if first["frame"] > 0:
        fitted = [{**first, "frame": 0}, *fitted]
    join = {"before": "repeat", "after": "repeat"}
    return {**signal, "keys": fitted, **join}, _spelt(keys), _spelt(fitted)


def _reach(keys: list[Signal]) -> float:
    values = [key["value"] for key in keys]
    return max(values) - min(values)


DEFINITION = SignalDefinition(
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
    fit=fit,
    jumps=lambda signal: any(key.get("ease") == "held" for key in signal["keys"]),
    series={"keys": KEYS},
    order=2,
)
