"""Arithmetic over time."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.value import formula

# t : seconds, f : frame, p : share of the loop
NAMES = frozenset({"t", "f", "p"})


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    written = read_formula(values["text"], NAMES)
    with np.errstate(all="ignore"):
        found = written.run({"t": times / loop.rate, "f": times, "p": times / loop.frames})
    found = np.broadcast_to(np.asarray(found, np.float64), times.shape)
    return np.where(np.isfinite(found), found, 0.0)


DEFINITION = SignalDefinition(
    key="formula",
    title="Formula",
    help="Arithmetic of t (seconds), f (frame) and p (share of the loop, 0 to 1).",
    also=("expression", "code", "math"),
    values={
        "text": formula(
            "0.5 + 0.5 * sin(tau * p)", "Formula", "What it gives at each moment.", known=NAMES
        )
    },
    sentence="is {text}",
    apply=sample,
    fit=lambda *_: "its formula is not the same after a loop",
    order=7,
)
