"""A value that stays."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.loop import Loop
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import number


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, ties: Ties = NO_TIES
) -> np.ndarray:
    return np.broadcast_to(np.asarray(values["value"], np.float64), times.shape)


DEFINITION = Definition(
    sort="signal",
    key="hold",
    title="Hold",
    help="Stays at one value; the same as a plain number.",
    also=("constant", "still"),
    values={"value": number(0.0, "Value", "The value that is kept.")},
    sentence="stays at {value}",
    apply=sample,
    order=1,
)
