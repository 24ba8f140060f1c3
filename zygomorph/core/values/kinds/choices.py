"""What is one of a few: choices, switches and colours."""

from __future__ import annotations

from random import Random
from typing import Annotated, Any, Literal

from pydantic import Field

from zygomorph.core.values.kinds.kind import Kind, Names
from zygomorph.core.values.value import Value


def _options(value: Value) -> list[str]:
    return [key for key, _ in value.options]


def _label(given: Any, value: Value, names: Names) -> str:
    return dict(value.options).get(given, str(given))


CHOICE = Kind(
    type=lambda value: Literal[tuple(_options(value))],
    random=lambda value, chance: chance.choice(_options(value)),
    ends=lambda value: (_options(value)[0], _options(value)[-1]),
    words=_label,
)
SWITCH = Kind(
    type=lambda value: Annotated[bool, Field(strict=True)],
    random=lambda value, chance: chance.random() < 0.5,
    ends=lambda value: (False, True),
)


def _any_colour(value: Value, chance: Random) -> str:
    return f"#{chance.randrange(1 << 24):06x}"


def _colour_words(given: Any, value: Value, names: Names) -> str:
    return given if isinstance(given, str) else "that moves"


COLOUR = Kind(
    type=lambda value: Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")],
    random=_any_colour,
    ends=lambda value: ("#000000", "#ffffff"),
    words=_colour_words,
)
