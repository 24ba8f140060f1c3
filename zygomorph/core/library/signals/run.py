"""A rate that is added up, so that a change of speed never makes a jump.

The rate goes through keys like any other value; between them it is a cubic (see
:mod:`zygomorph.core.geometry.monotone_cubic`), whose integral is known in closed form.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.fitting import Fitted, Signal, short, whole_periods
from zygomorph.core.animation.loop_closure import Moving, ends_of
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.geometry.monotone_cubic import monotone_slopes
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.keys import RATES
from zygomorph.core.values.value import number


def _added_up(times: np.ndarray, t: np.ndarray, v: np.ndarray) -> np.ndarray:
    """Integral from frame 0 of the smooth curve through v at t, level beyond its ends."""
    slopes = monotone_slopes(t, v, periodic=False)

    def from_first(at: np.ndarray) -> np.ndarray:
        inside = np.clip(at, t[0], t[-1])
        k = np.clip(np.searchsorted(t, inside, side="right") - 1, 0, len(t) - 2)
        h = np.diff(t)
        whole = h * (v[:-1] + v[1:]) / 2 + h * h * (slopes[:-1] - slopes[1:]) / 12
        before = np.concatenate([[0.0], np.cumsum(whole)])
        s = (inside - t[k]) / h[k]
        part = h[k] * (
            v[k] * (s - s**3 + s**4 / 2)
            + h[k] * slopes[k] * (s**2 / 2 - 2 * s**3 / 3 + s**4 / 4)
            + v[k + 1] * (s**3 - s**4 / 2)
            + h[k] * slopes[k + 1] * (s**4 / 4 - s**3 / 3)
        )
        early = np.minimum(at - t[0], 0) * v[0]
        late = np.maximum(at - t[-1], 0) * v[-1]
        return before[k] + part + early + late

    return from_first(times) - from_first(np.zeros(1))


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    way = values["rate"] * times
    rates = sorted(values.get("rates") or [], key=lambda key: key["frame"])
    if rates:
        t = np.array([key["frame"] for key in rates], np.float64)
        v = np.array([key["value"] for key in rates], np.float64)
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
