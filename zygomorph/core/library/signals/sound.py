"""How loud a sound is, or a band of its frequencies, softened by attack and release."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.loop import Loop
from zygomorph.core.sound.hearing import (
    BAND_VALUES,
    GAIN,
    SOFTENING_VALUES,
    SOURCE_VALUES,
    band_of,
    levels_at,
    track_of,
)
from zygomorph.core.sound.track import Track
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import number


def peaks_of(
    values: Mapping[str, Any], loop: Loop, ties: Ties, count: int = 300
) -> list[list[float]]:
    """Least and greatest sample of each stretch of the part that lasts one loop."""
    track = track_of(values, ties.sound)
    if track is None:
        return []
    first = round(float(values.get("begin", 0.0)) * track.rate)
    length = max(1, round(loop.seconds * track.rate))
    part = np.take(track.samples, np.arange(first, first + length), mode="wrap")
    return Track(part, track.rate).peaks(count)


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, ties: Ties = NO_TIES
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    track = track_of(values, ties.sound)
    if track is None:
        return np.broadcast_to(values["low"], times.shape).astype(np.float64)
    share = levels_at(values, track, band_of(values), times / loop.rate, loop)
    return values["low"] + (values["high"] - values["low"]) * share


DEFINITION = Definition(
    sort="signal",
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
    order=6,
)
