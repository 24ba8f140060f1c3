"""Figures beside their references, and how times are taken.

Machines are shared and noisy, so figures are medians, and what is compared is timed in turns.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

import numpy as np

ROUNDS = 21

Result = dict[str, Any]


def result(
    name: str, value: float | None, unit: str, goal: float | None, reference: float | None = None
) -> Result:
    """One figure; the ratio is value over reference. Smaller is better, but for rates."""
    more = unit == "/s"
    return {
        "name": name,
        "value": None if value is None else round(value, 4),
        "unit": unit,
        "reference": None if reference is None else round(reference, 4),
        "ratio": round(value / reference, 3) if value is not None and reference else None,
        "goal": goal,
        "met": None
        if goal is None or value is None
        else bool(value >= goal if more else value <= goal),
    }


def timed(work: Callable[[], Any]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def in_turns(*works: Callable[[], Any], rounds: int = ROUNDS) -> list[float]:
    """Median seconds of each, measured A B A B so that a drift of the machine hits all alike."""
    for work in works:
        work()
    times = np.array([[timed(work) for work in works] for _ in range(rounds)])
    return [float(t) for t in np.median(times, axis=0)]
