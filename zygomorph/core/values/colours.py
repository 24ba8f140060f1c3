"""Colours that move: read out of a gradient, at a place that a signal moves."""

from __future__ import annotations

from typing import Any

from zygomorph.core.values.value import number

# What of a moving colour is a number.
AT = "at"
COLOUR_AT = number(
    0.0,
    "Place in its colours",
    "0 is the first colour, 1 the last.",
    "",
    (0.0, 1.0),
    hard=(0.0, 1.0),
)


def is_moving_colour(value: Any) -> bool:
    """Whether a document value is a colour out of a gradient, and not one by itself."""
    return isinstance(value, dict) and "gradient" in value and AT in value
