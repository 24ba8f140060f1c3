"""A value that stays."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.value import number


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    return np.broadcast_to(np.asarray(values["value"], np.float64), times.shape)


DEFINITION = SignalDefinition(
    key="hold",
    title="Hold",
    help="Stays at one value; the same as a plain number.",
    also=("constant", "still"),
    values={"value": number(0.0, "Value", "The value that is kept.")},
    sentence="stays at {value}",
    apply=sample,
    moves=False,
    order=1,
)
