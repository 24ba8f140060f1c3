"""A low-discrepancy sequence: additive recurrence by the generalised golden ratio (M. Roberts, "The
unreasonable effectiveness of quasirandom sequences", 2018; from memory)."""

from __future__ import annotations

from typing import Any

import mitsuba as mi

# What a path begins with: its place on the pixel, its place on the lens, and one chance.
DIMENSIONS = 5


def unit_of(bits: Any) -> Any:
    """Uniform number in [0, 1) from 32 random bits."""
    return mi.Float(bits >> 8) * (1 / (1 << 24))


def _steps(count: int) -> tuple[float, ...]:
    """Increments of the sequence for so many dimensions: powers of the inverse ratio."""
    ratio = 2.0
    for _ in range(64):
        ratio = (1 + ratio) ** (1 / (count + 1))
    return tuple((1 / ratio) ** (k + 1) % 1 for k in range(count))


STEPS = _steps(DIMENSIONS)
