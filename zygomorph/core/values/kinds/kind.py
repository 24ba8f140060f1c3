"""What is to be known of a kind of value, in one place."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from random import Random
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from zygomorph.core.values.value import Value

LARGEST = 1e9
Finite = Annotated[float, Field(allow_inf_nan=False, ge=-LARGEST, le=LARGEST, strict=True)]
# Of pieces, by their ids.
Names = Mapping[str, str]


class Strict(BaseModel):
    """Keys that are not declared are errors."""

    model_config = ConfigDict(extra="forbid")


def _as_text(given: Any, value: Value, names: Names) -> str:
    return str(given)


@dataclass(frozen=True)
class Kind:
    """A kind of value; functions take the declared value that is of it.

    type : what pydantic checks a given value by
    random : any allowed value, for tests
    ends : what lies at both ends of the ruler, or the least and the most there can be, for tests
    words : a given value as sentences say it; numbers that may move are said by their range
    moves : whether signals may move it
    components : how many numbers it is; 0 of what is no number
    """

    type: Callable[[Value], Any]
    random: Callable[[Value, Random], Any]
    ends: Callable[[Value], tuple[Any, Any]]
    words: Callable[[Any, Value, Names], str] = _as_text
    moves: bool = False
    components: int = 0
