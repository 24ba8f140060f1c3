"""Follows another value of the study, with a factor and an offset."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.fitting import Fitted, Signal, short, whole_periods
from zygomorph.core.animation.loop_closure import Moving, ends_of
from zygomorph.core.animation.resolve import Sampler, sampler
from zygomorph.core.document.addresses import number_at
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.value import address, number


def followed(address: str, loop: Loop, signals: SignalContext) -> Sampler | None:
    """The value at an address of the study as a function of time; None where it leads nowhere, or
    to itself."""
    if not address or address in signals.trail:
        return None
    value = number_at(signals.document, address)
    return None if value is None else sampler(value, loop, signals.final, signals.beyond(address))


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    delay = np.asarray(values["delay"], np.float64)
    found = followed(values["to"], loop, signals)
    # What leads nowhere, or round in a circle, is nothing.
    other = np.zeros(times.shape) if found is None else found(times - delay)
    return values["factor"] * other + values["offset"]


def fit(signal: Signal, moving: Moving, loop: Loop, signals: SignalContext) -> Fitted | str:
    """What it follows has been fitted by then; a factor may make a part of a period of it."""
    period = moving.spec.period
    ends = ends_of(signal, loop, signals)
    way = ends.last - ends.first
    if not period or abs(way) < 1e-12:
        return "what it follows does not close"
    factor = float(signal.get("factor", 1.0))
    changed = {**signal, "factor": short(factor * whole_periods(way, period) / way)}
    return changed, f"factor {short(factor)}", f"factor {changed['factor']}"


DEFINITION = SignalDefinition(
    key="link",
    title="Link",
    help="Follows another value, times a factor, plus an offset.",
    also=("follow", "connect", "drive", "copy"),
    values={
        "to": address("Follows", "The value that it follows."),
        "factor": number(1.0, "Factor", "Times the other value.", "×", (-4.0, 4.0)),
        "offset": number(0.0, "Offset", "Added to it."),
        "delay": number(
            0.0, "Delay", "How much later it follows.", "frames", (0.0, 120.0), main=False
        ),
    },
    sentence="follows another value",
    apply=sample,
    fit=fit,
    order=8,
)
