"""Point light: a small ball that shines to all sides."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import PointLamp
from zygomorph.core.shared.lamp_values import COLOUR_VALUES, SHADOW, lamp_colour, place, power
from zygomorph.core.values.definitions import LightDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.value import number


def apply(values: Resolved) -> tuple[PointLamp]:
    return (
        PointLamp(
            values.vector("position"),
            lamp_colour(values),
            values.scalar("strength"),
            values.scalar("radius"),
            values.discrete("shadow"),
        ),
    )


DEFINITION = LightDefinition(
    key="point",
    title="Point light",
    help="A small lamp that shines to all sides.",
    also=("bulb", "lamp", "omni", "lantern", "candle"),
    values={
        "position": place(0.8, 1.0, 0.8),
        **COLOUR_VALUES,
        "strength": power(60.0, "What it sends out to all sides."),
        "radius": number(
            0.05, "Radius", "The larger, the softer its shadows.", "m", (0.0, 0.5), hard=(0.0, 1e3)
        ),
        "shadow": SHADOW,
    },
    sentence="Point light of {strength}",
    apply=apply,
    grips=(spot("position"),),
    order=30,
)
