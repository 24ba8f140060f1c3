"""How loud a sound is, or a band of its frequencies, softened by attack and release."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.fitting import Fitted, Signal
from zygomorph.core.animation.loop_closure import Moving
from zygomorph.core.animation.sound.hearing import (
    BAND_VALUES,
    GAIN,
    SOFTENING_VALUES,
    SOURCE_VALUES,
    band_of,
    levels_at,
    track_of,
)
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.value import number


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    track = track_of(values, signals.sound)
    if track is None:
        return np.broadcast_to(values["low"], times.shape).astype(np.float64)
    share = levels_at(values, track, band_of(values), times / loop.rate, loop)
    return values["low"] + (values["high"] - values["low"]) * share


def fit(signal: Signal, moving: Moving, loop: Loop, signals: SignalContext) -> Fitted | str:
    if signal.get("track") == "live":
        return "a live input never comes back"
    return {**signal, "looped": True}, "the sound goes on", "the sound comes again each loop"


DEFINITION = SignalDefinition(
    key="sound",
    title="Sound",
    help="Follows how loud a sound is, or a band of its frequencies.",
    also=("music", "audio", "beat", "volume"),
    values={
        **SOURCE_VALUES,
        **BAND_VALUES,
        "low": number(0.0, "Low", "The value in silence."),
        "high": number(1.0, "High", "The value at the loudest."),
        "gain": GAIN,
        **SOFTENING_VALUES,
    },
    sentence="follows {track} from {low} to {high}",
    apply=sample,
    fit=fit,
    order=6,
)
