"""What signals share that say how they are made to close: see ``SignalDefinition.fit``."""

from __future__ import annotations

from typing import Any

Signal = dict[str, Any]
# The signal after it, and what is changed, in words before and after.
Fitted = tuple[Signal, str, str]


def short(value: float) -> float:
    """A number without digits that nobody reads."""
    return float(f"{value:.6g}")


def whole_periods(way: float, period: float) -> float:
    """The nearest whole number of periods that goes somewhere."""
    turns = round(way / period)
    return period * (turns or (1 if way > 0 else -1))
