"""Area light: a rectangle or a disc that shines from its front."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import AreaLamp
from zygomorph.core.shared.lamp_values import (
    COLOUR_VALUES,
    SHADOW,
    aim,
    lamp_colour,
    place,
    power,
)
from zygomorph.core.values.definitions import LightDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.value import Value, choice, number


def apply(values: Resolved) -> tuple[AreaLamp]:
    disc = values.discrete("shape") == "disc"
    width = values.scalar("diameter" if disc else "width")
    height = width if disc else values.scalar("height")
    return (
        AreaLamp(
            values.vector("position"),
            values.vector("target"),
            width,
            height,
            disc,
            lamp_colour(values),
            values.scalar("strength"),
            values.discrete("shadow"),
        ),
    )


_RECTANGLE, _DISC = ("shape", ("rectangle",)), ("shape", ("disc",))


def _side(label: str, help: str, shown_when: tuple[str, tuple[str, ...]]) -> Value:
    return number(
        1.0, label, help, "m", (0.05, 4.0), hard=(0.001, 1e4), scale="log", shown_when=shown_when
    )


DEFINITION = LightDefinition(
    key="area",
    title="Area light",
    help="A rectangle or a disc that shines softly from its front, and is seen in what is shiny.",
    also=("softbox", "window", "panel", "soft", "rectangle", "disc"),
    values={
        "position": place(-1.4, 1.6, 1.2),
        "target": aim(),
        "shape": choice(
            "rectangle",
            "Shape",
            "What it shines from.",
            {"rectangle": "a rectangle", "disc": "a disc"},
        ),
        "width": _side("Width", "From its left to its right side.", _RECTANGLE),
        "height": _side("Height", "From its lower to its upper side.", _RECTANGLE),
        "diameter": _side("Diameter", "Across the disc.", _DISC),
        **COLOUR_VALUES,
        "strength": power(40.0, "What all of it sends out, however large it is."),
        "shadow": SHADOW,
    },
    sentence="Area light of {strength}",
    apply=apply,
    grips=(spot("position"), spot("target")),
    order=25,
)
