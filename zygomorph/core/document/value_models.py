"""Declared values as pydantic models: plain, moved by a signal, spread over elements, or one of
each quality."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, Literal, Union

from pydantic import BaseModel, Discriminator, Field, Tag, create_model

from zygomorph.core.values.by_values import GRADIENT
from zygomorph.core.values.colours import COLOUR_AT
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.kinds.kind import Finite, Strict
from zygomorph.core.values.per_element import ORDER_VALUES, STAGGER_VALUES
from zygomorph.core.values.value import Value


def _plain_type(value: Value) -> Any:
    return kind_of(value).type(value)


def model(name: str, fields: dict[str, Any]) -> type[BaseModel]:
    return create_model(name, __base__=Strict, **fields)


@cache
def stagger_model() -> type[BaseModel]:
    """A delay from element to element."""
    fields = {name: (_plain_type(value), value.default) for name, value in STAGGER_VALUES.items()}
    return model("Stagger", fields)


@cache
def spread_model() -> type[BaseModel]:
    """Numbers of a signal at the last element; at the first they are its own."""
    fields = {name: (_plain_type(value), value.default) for name, value in ORDER_VALUES.items()}
    to = Annotated[dict[str, Finite], Field(max_length=12)]
    return model("Spread", fields | {"to": (to, {})})


@cache
def signal_models() -> dict[str, type[BaseModel]]:
    """A model for each signal, by key."""
    made = {}
    for key, definition in definitions("signal").items():
        fields: dict[str, Any] = {"signal": (Literal[key], ...)}
        for name, value in definition.values.items():
            fields[name] = (_plain_type(value), value.default)
        fields |= {
            "stagger": (stagger_model() | None, None),
            "spread": (spread_model() | None, None),
        }
        fields |= definition.series
        made[key] = model(f"{definition.title}Signal", fields)
    return made


def _sort_of_number(value: Any) -> str:
    if isinstance(value, dict):
        signal = value.get("signal")
        if signal is not None:
            return str(signal)
        return "qualities"
    if isinstance(value, BaseModel):
        return str(getattr(value, "signal", "qualities"))
    return "plain"


def _moving_type(value: Value) -> Any:
    """A plain number, or a signal, or one of each quality."""
    plain = _plain_type(value)
    members: list[Any] = [Annotated[plain, Tag("plain")]]
    if value.moves:
        members += [Annotated[m, Tag(k)] for k, m in signal_models().items()]
    if value.draft:
        one = Annotated[Union[tuple(members)], Discriminator(_sort_of_number)]
        pair = model("DraftAndFinal", {"draft": (one, ...), "final": (one, ...)})
        members = [*members, Annotated[pair, Tag("qualities")]]
    if len(members) == 1:
        return plain
    return Annotated[Union[tuple(members)], Discriminator(_sort_of_number)]


@cache
def moving_colour_model() -> type[BaseModel]:
    """A colour that moves as a whole: it is read out of a gradient, at a place that may move."""
    at = _moving_type(COLOUR_AT)
    return model(
        "MovingColour", {"gradient": (kind_of(GRADIENT).type(GRADIENT), ...), "at": (at, ...)}
    )


def _sort_of_colour(value: Any) -> str:
    return "plain" if isinstance(value, str) else "moving"


def value_type(value: Value) -> Any:
    kind = kind_of(value)
    if value.kind == "colour" and value.moves:
        plain = Annotated[kind.type(value), Tag("plain")]
        moving = Annotated[moving_colour_model(), Tag("moving")]
        return Annotated[Union[plain, moving], Discriminator(_sort_of_colour)]
    if not kind.moves:
        return kind.type(value)
    if kind.components == 1:
        return _moving_type(value)
    part = _moving_type(Value("number", 0.0, "", "", hard=value.hard))
    return Annotated[list[part], Field(min_length=kind.components, max_length=kind.components)]


def values_model(name: str, values: dict[str, Value]) -> type[BaseModel]:
    """A model of declared values, each with its default."""
    return model(name, {n: (value_type(v), v.default) for n, v in values.items()})


def values_of(name: str, values: dict[str, Value]) -> Any:
    """A field of a model: declared values, all with their defaults where it is left out."""
    own = values_model(name, values)
    return (own, Field(default_factory=own))
