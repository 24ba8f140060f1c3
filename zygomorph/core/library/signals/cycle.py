"""A shape repeated a whole number of times in the loop, so that it always closes."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.fitting import Fitted, Signal, short, whole_periods
from zygomorph.core.animation.loop_closure import Moving
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.figures import with_unit
from zygomorph.core.values.value import choice, number, whole


def _share(shape: str, turn: np.ndarray, duty: float) -> np.ndarray:
    """Shape over one turn (0 to 1) as a share from 0 to 1."""
    if shape == "sine":
        return 0.5 - 0.5 * np.cos(2 * np.pi * turn)
    if shape == "triangle":
        return 1.0 - np.abs(2.0 * turn - 1.0)
    if shape == "saw":
        return turn
    return (turn < (0.5 if shape == "square" else duty)).astype(np.float64)


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    turn = np.asarray(times, np.float64) * (values["cycles"] / loop.frames) + values["phase"]
    # A turn that rounding left just short of a whole one is a whole one: frame F is frame 0.
    nearest = np.round(turn)
    turn = np.where(np.abs(turn - nearest) < 1e-9, nearest, turn)
    share = _share(values["shape"], turn - np.floor(turn), values["duty"])
    return values["low"] + (values["high"] - values["low"]) * share


def fit(signal: Signal, moving: Moving, loop: Loop, signals: SignalContext) -> Fitted | str:
    low, high = float(signal.get("low", 0.0)), float(signal.get("high", 1.0))
    period = moving.spec.period
    if signal.get("shape") != "saw" or not period:
        return "it jumps where it begins anew; let it swing instead"
    way = whole_periods(high - low, period)
    after = {**signal, "high": short(low + way)}
    unit = moving.spec.unit
    return after, f"high {with_unit(high, unit)}", f"high {with_unit(after['high'], unit)}"


DEFINITION = SignalDefinition(
    key="cycle",
    title="Cycle",
    help="Goes from low to high and back, a whole number of times in the loop.",
    also=("sine", "oscillate", "wave", "saw", "pulse"),
    values={
        "shape": choice(
            "sine",
            "Shape",
            "How it goes from low to high: softly, evenly both ways, evenly and then back at "
            "once, or at once both ways.",
            {
                "sine": "sine",
                "triangle": "triangle",
                "saw": "saw",
                "square": "square",
                "pulse": "pulse",
            },
        ),
        "cycles": whole(1, "Cycles", "Whole turns in one loop.", (1, 12), "/ loop", hard=(0, 1000)),
        "low": number(0.0, "Low", "The lowest value."),
        "high": number(1.0, "High", "The highest value."),
        "phase": number(0.0, "Phase", "Where in the turn frame 0 is.", "cycle", (0.0, 1.0)),
        "duty": number(
            0.5,
            "Duty",
            "Share of the turn spent high.",
            "share",
            (0.0, 1.0),
            hard=(0.0, 1.0),
            shown_when=("shape", ("pulse",)),
        ),
    },
    sentence="cycles {cycles} × a loop from {low} to {high}",
    apply=sample,
    fit=fit,
    jumps=lambda signal: signal.get("shape") in ("square", "pulse"),
    restarts=lambda signal: signal.get("shape") == "saw",
    order=3,
)
