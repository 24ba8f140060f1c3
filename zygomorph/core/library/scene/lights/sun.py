"""Sun: parallel light from far away, with a shadow."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.shared.drawn_scene import SunLamp
from zygomorph.core.shared.lamp_values import COLOUR_VALUES, SHADOW, lamp_colour
from zygomorph.core.values.definitions import LightDefinition
from zygomorph.core.values.value import direction, number


def apply(values: Resolved) -> tuple[SunLamp]:
    return (
        SunLamp(
            unit(values.vector("towards")),
            lamp_colour(values),
            values.scalar("strength"),
            values.discrete("shadow"),
        ),
    )


DEFINITION = LightDefinition(
    key="sun",
    title="Sun",
    help="Parallel light from far away.",
    also=("directional", "key", "rim"),
    values={
        "towards": direction(
            (0.5, 0.85, 0.6), "Stands towards", "The direction from the stage to it."
        ),
        **COLOUR_VALUES,
        "strength": number(
            2.5,
            "Strength",
            "On a surface that faces it; at 3.14 a white matt one is just white.",
            "W/m²",
            (0.0, 10.0),
            hard=(0.0, 1e6),
        ),
        "shadow": SHADOW,
    },
    sentence="Sun of {strength}",
    apply=apply,
    begins=(
        {"id": "sun", "name": "Sun"},
        {
            "id": "rim",
            "name": "Light from behind",
            "values": {
                "towards": [-4.0, 1.6, -3.4],
                "colour": "#9fb4ff",
                "strength": 1.5,
                "shadow": False,
            },
        },
    ),
    order=10,
)
