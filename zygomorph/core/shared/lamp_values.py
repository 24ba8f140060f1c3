"""Values that several lights have: their colour, strength, aim and shadow."""

from __future__ import annotations

from collections.abc import Mapping

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.values.black_body import colour_of_kelvin
from zygomorph.core.values.value import Value, choice, colour, number, switch, vector

COLOUR_VALUES: Mapping[str, Value] = {
    "coloured": choice(
        "colour",
        "Coloured",
        "By a colour, or as a body that glows at a temperature.",
        {"colour": "by a colour", "kelvin": "by its temperature"},
    ),
    "colour": colour(
        "#fff1dc", "Colour", "The colour of its light.", shown_when=("coloured", ("colour",))
    ),
    "kelvin": number(
        3200.0,
        "Temperature",
        "Candle 1900, lamp 2800, noon 5600, shade 8000.",
        "K",
        (1500.0, 12000.0),
        hard=(800.0, 40000.0),
        scale="log",
        shown_when=("coloured", ("kelvin",)),
    ),
}
SHADOW = switch(True, "Shadow", "What stands in its light throws a shadow.")


def lamp_colour(values: Resolved) -> str:
    """ "#rrggbb" """
    if values.discrete("coloured") == "kelvin":
        return colour_of_kelvin(round(values.scalar("kelvin"), 1))
    found: str = values.discrete("colour")
    return found


def place(x: float, y: float, z: float) -> Value:
    return vector((x, y, z), "Place", "Where it stands on the stage.")


def aim() -> Value:
    return vector((0.0, 0.0, 0.0), "Shines at", "The place on the stage that it faces.")


def power(default: float, help: str) -> Value:
    return number(default, "Strength", help, "W", (0.1, 400.0), hard=(0.0, 1e7), scale="log")
