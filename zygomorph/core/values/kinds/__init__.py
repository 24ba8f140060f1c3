"""Kinds of values by their keys. A new kind is one entry here, and its editor in the interface."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from zygomorph.core.values.by_values import by_values
from zygomorph.core.values.kinds.choices import CHOICE, COLOUR, SWITCH
from zygomorph.core.values.kinds.drawn import CURVE, PATHS, PICKED, PLACES, STROKES
from zygomorph.core.values.kinds.gradients import GRADIENT
from zygomorph.core.values.kinds.kind import Kind
from zygomorph.core.values.kinds.numbers import NUMBER, VECTOR, WHOLE
from zygomorph.core.values.kinds.references import ADDRESS, ANCHOR, FILE, PIECE
from zygomorph.core.values.kinds.written import FORMULA, FRAMES, TEXT
from zygomorph.core.values.value import Value

KINDS: dict[str, Kind] = {
    "number": NUMBER,
    "whole": WHOLE,
    "vector": VECTOR,
    "direction": VECTOR,
    "choice": CHOICE,
    "switch": SWITCH,
    "colour": COLOUR,
    "gradient": GRADIENT,
    "asset": FILE,
    "image": FILE,
    "film": FILE,
    "sound": FILE,
    "paths": PATHS,
    "curve": CURVE,
    "picked": PICKED,
    "places": PLACES,
    "strokes": STROKES,
    "address": ADDRESS,
    "piece": PIECE,
    "anchor": ANCHOR,
    "frames": FRAMES,
    "text": TEXT,
    "formula": FORMULA,
}


def kind_of(value: Value) -> Kind:
    """The kind of a declared value."""
    return KINDS[value.kind]


def describe_value(value: Value) -> dict[str, Any]:
    """JSON for interface, API, command line and docs."""
    described = asdict(value)
    del described["tested_to"], described["reads"], described["by"], described["own"]
    described["by_values"] = (
        {name: describe_value(each) for name, each in by_values(value).items()}
        if value.by
        else None
    )
    described["options"] = [{"key": key, "label": label} for key, label in value.options]
    described["moves"] = value.moves and kind_of(value).moves
    return described
