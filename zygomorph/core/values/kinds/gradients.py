"""Gradients: one that comes with the program, by its name, or stops of one's own."""

from __future__ import annotations

from random import Random
from typing import Annotated, Any, Literal

from pydantic import Field

from zygomorph.core.values.gradients import STOPS
from zygomorph.core.values.kinds.kind import Kind, Names, Strict
from zygomorph.core.values.value import Value

MOST_STOPS = 64
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]


class Stop(Strict):
    """at : from 0 to 1"""

    at: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1)]
    colour: Colour


class OwnGradient(Strict):
    """Stops in any order.

    join : whether colours go over into each other, or each is held up to the next stop
    mix : what is interpolated between two stops: OKLab, where equal steps look equal, or linear
        light
    """

    stops: Annotated[list[Stop], Field(min_length=1, max_length=MOST_STOPS)]
    join: Literal["smooth", "held"] = "smooth"
    mix: Literal["perceptual", "linear"] = "perceptual"


def _any_stop(chance: Random) -> dict[str, Any]:
    return {"at": chance.random(), "colour": f"#{chance.randrange(1 << 24):06x}"}


def _any_gradient(value: Value, chance: Random) -> Any:
    if chance.random() < 0.4:
        return chance.choice(list(STOPS))
    return {
        "stops": [_any_stop(chance) for _ in range(chance.randint(1, 6))],
        "join": chance.choice(["smooth", "held"]),
        "mix": chance.choice(["perceptual", "linear"]),
    }


def _words(given: Any, value: Value, names: Names) -> str:
    return given if isinstance(given, str) else "colours of its own"


GRADIENT = Kind(
    type=lambda value: Literal[tuple(STOPS)] | OwnGradient,
    random=_any_gradient,
    ends=lambda value: (
        {"stops": [{"at": 0.5, "colour": "#000000"}]},
        {"stops": [{"at": k / 63, "colour": "#ffffff"} for k in range(64)], "join": "held"},
    ),
    words=_words,
)
