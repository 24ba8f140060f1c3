"""Numbers and vectors: all that signals may move."""

from __future__ import annotations

from random import Random
from typing import Annotated, Any

from pydantic import Field

from zygomorph.core.values.kinds.kind import LARGEST, Finite, Kind
from zygomorph.core.values.value import Value

# Counts beyond this make a test slow without making it harder.
MOST = 40


def number_type(value: Value) -> Any:
    """A number within its hard limits."""
    low, high = value.hard
    bounds = Field(
        ge=-LARGEST if low is None else low,
        le=LARGEST if high is None else high,
        allow_inf_nan=False if value.kind == "number" else None,
        strict=True,
    )
    plain: Any = float if value.kind == "number" else int
    return Annotated[plain, bounds]


def _vector_type(value: Value) -> Any:
    return Annotated[list[Finite], Field(min_length=3, max_length=3)]


def _ends(value: Value) -> tuple[float, float]:
    """The ends of a ruler, or the hard limits where those are narrower."""
    (low, high), (hard_low, hard_high) = value.soft, value.hard
    low = low if hard_low is None else max(low, hard_low)
    high = high if hard_high is None else min(high, hard_high)
    return float(low), float(high)


def _whole_ends(value: Value) -> tuple[int, int]:
    low, high = (int(end) for end in _ends(value))
    most = MOST if value.tested_to is None else value.tested_to
    return low, max(low, min(high, most))


def _vector_ends(value: Value) -> tuple[list[float], list[float]]:
    low, high = _ends(value)
    return [low] * 3, [high] * 3


def _any_vector(value: Value, chance: Random) -> list[float]:
    return [chance.uniform(*_ends(value)) for _ in range(3)]


NUMBER = Kind(
    number_type,
    lambda value, chance: chance.uniform(*_ends(value)),
    _ends,
    moves=True,
    components=1,
)
WHOLE = Kind(
    number_type,
    lambda value, chance: chance.randint(*_whole_ends(value)),
    _whole_ends,
    moves=True,
    components=1,
)
VECTOR = Kind(_vector_type, _any_vector, _vector_ends, moves=True, components=3)
