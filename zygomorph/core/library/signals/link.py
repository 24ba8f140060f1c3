"""Follows another value of the study, with a factor and an offset."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.addresses import number_at
from zygomorph.core.catalogue import Definition
from zygomorph.core.loop import Loop
from zygomorph.core.resolve import Sampler, sampler
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import address, number


def followed(address: str, loop: Loop, ties: Ties) -> Sampler | None:
    """The value at an address of the study as a function of time; None where it leads nowhere, or
    to itself."""
    if not address or address in ties.trail:
        return None
    value = number_at(ties.document, address)
    return None if value is None else sampler(value, loop, ties.final, ties.beyond(address))


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, ties: Ties = NO_TIES
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    delay = np.asarray(values["delay"], np.float64)
    found = followed(values["to"], loop, ties)
    # What leads nowhere, or round in a circle, is nothing.
    other = np.zeros(times.shape) if found is None else found(times - delay)
    return values["factor"] * other + values["offset"]


DEFINITION = Definition(
    sort="signal",
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
    order=8,
)
