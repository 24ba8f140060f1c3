"""Whether a value is at the end of the loop where it was at its beginning.

Some values are the same after a period: a phase after a cycle, a turn after 360°, the place of a
camera over a sea after a whole tile.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import at_quality, is_moving, sampler
from zygomorph.core.animation.tiles import travel_period
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parts import parts
from zygomorph.core.document.signal_context import SignalContext
from zygomorph.core.document.study import Study
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.value import Value

# Shares of the range of a value, and of its fastest change, below which nothing is seen.
SAME_VALUE = 1e-4
SAME_SLOPE = 0.05
STEP = 1e-3


@dataclass(frozen=True)
class Moving:
    """A number of a study that a signal moves.

    address : as edits have it
    label : of the value, with its component
    piece, step, layer : ids of what it belongs to; "" where there is none
    """

    piece: str
    step: str
    address: str
    label: str
    spec: Value
    signal: Mapping[str, Any]
    layer: str = ""


def moving_numbers(study: Study) -> Iterator[Moving]:
    """Every number of a study that moves, of what is switched on."""
    for part in parts(study.document):
        if not part.on:
            continue
        for number in (each for value in part.values() for each in value.numbers()):
            given, address = number.given, number.address
            signal = at_quality(given, False)
            if not (isinstance(signal, Mapping) and is_moving(signal)):
                continue
            spec = number.spec
            if spec.period is None and spec.unit == "m":
                spec = replace(spec, period=travel_period(study, part, address))
            if isinstance(given, Mapping) and "signal" not in given:
                address += "/draft"
            yield Moving(
                part.within("piece"),
                part.within("step"),
                address,
                number.label,
                spec,
                signal,
                part.within("layer"),
            )


@dataclass(frozen=True)
class Ends:
    """A signal at both ends of the loop.

    first, last : its value at frame 0 and at frame F
    begins, ends : its slope there, per frame, seen from inside the loop
    span : between its least and its greatest value
    fastest : its greatest slope
    """

    first: float
    last: float
    begins: float
    ends: float
    span: float
    fastest: float

    def apart(self, period: float | None) -> float:
        """How far the end is from the beginning; whole periods are nothing."""
        away = self.last - self.first
        return away if not period else away - round(away / period) * period

    def meets(self, period: float | None) -> bool:
        return abs(self.apart(period)) <= SAME_VALUE * max(self.span, 1e-9)

    def flows(self) -> bool:
        """Whether the speed at the end is that at the beginning."""
        return abs(self.ends - self.begins) <= SAME_SLOPE * max(self.fastest, 1e-12)


def ends_of(signal: Mapping[str, Any], loop: Loop, signals: SignalContext) -> Ends:
    """A signal at both ends of the loop, and between."""
    at = sampler(signal, loop, False, signals)
    frames = float(loop.frames)
    samples = at(np.linspace(0, frames, 4 * loop.frames + 1))
    near = at(np.array([0.0, STEP, 2 * STEP, frames, frames - STEP, frames - 2 * STEP]))
    begins = (-3 * near[0] + 4 * near[1] - near[2]) / (2 * STEP)
    last = near[3]
    if definitions("signal")[signal["signal"]].restarts(signal):
        # At the very end it has begun anew; what is seen before is where it was going.
        last = at(np.array([frames - 1e-6]))[0]
        near[3] = last
    ends = -(-3 * near[3] + 4 * near[4] - near[5]) / (2 * STEP)
    return Ends(
        float(near[0]),
        float(last),
        float(begins),
        float(ends),
        float(np.ptp(samples)),
        float(np.abs(np.diff(samples)).max() * 4),
    )
