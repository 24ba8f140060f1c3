"""A rate that is added up, so that a change of speed never makes a jump.

The rate goes through keys like any other value; between them it is a monotone cubic, which is
integrated exactly.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
from scipy.interpolate import PPoly

from zygomorph.core.animation.fitting import Fitted, Signal, short, whole_periods
from zygomorph.core.animation.loop_closure import Moving, ends_of
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.geometry.monotone_cubic import distinct, monotone_curve
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.keys import RATES
from zygomorph.core.values.value import number


@lru_cache(maxsize=1024)
def _integral(t: tuple[float, ...], v: tuple[float, ...]) -> PPoly:
    return monotone_curve(np.array(t), np.array(v)).antiderivative()


def _added_up(times: np.ndarray, t: np.ndarray, v: np.ndarray) -> np.ndarray:
    """Integral from frame 0 of the smooth curve through v at t, level beyond its ends."""
    integral = _integral(tuple(t.tolist()), tuple(v.tolist()))

    def from_first(at: np.ndarray) -> np.ndarray:
        early = np.minimum(at - t[0], 0) * v[0]
        late = np.maximum(at - t[-1], 0) * v[-1]
        inside: np.ndarray = integral(np.clip(at, t[0], t[-1]))
        return inside + early + late

    return from_first(times) - from_first(np.zeros(1))


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    way = values["rate"] * times
    given = values.get("rates") or []
    rates = distinct((key["frame"] for key in given), (key["value"] for key in given))
    if rates:
        t, v = np.array(rates, np.float64).T
        way = v[0] * times if len(t) == 1 else _added_up(times, t, v)
        # A rate that is spread over elements makes all of it faster or slower.
        way = way * values.get("faster", 1.0)
    return values["start"] + way / loop.frames


def fit(signal: Signal, moving: Moving, loop: Loop, signals: SignalContext) -> Fitted | str:
    period = moving.spec.period
    if not period:
        return "it runs on and on; let it cycle or swing instead"
    ends = ends_of(signal, loop, signals)
    way = ends.last - ends.first
    if abs(way) < 1e-12:
        return "its rate adds up to nothing"
    factor = whole_periods(way, period) / way
    changed = {**signal, "rate": short(float(signal.get("rate", 1.0)) * factor)}
    if signal.get("rates"):
        changed["rates"] = [{**r, "value": r["value"] * factor} for r in signal["rates"]]
    unit = f"{moving.spec.unit} a loop".strip()
    return changed, f"{short(way)} {unit}", f"{short(way * factor)} {unit}"


DEFINITION = SignalDefinition(
    key="run",
    title="Run",
    help="Goes on at a rate, which may change without a jump; whole numbers a loop close a phase.",
    also=("speed", "constant speed", "linear", "rate"),
    values={
        "rate": number(1.0, "Rate", "How far it goes in one loop.", "/ loop", (-4.0, 4.0)),
        "start": number(0.0, "Start", "Where it is at frame 0."),
    },
    sentence="runs {rate} a loop",
    apply=sample,
    fit=fit,
    series={"rates": RATES},
    order=5,
)
