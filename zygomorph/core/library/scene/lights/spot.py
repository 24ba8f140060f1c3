"""Spot light: a cone of light from a place to another."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import SpotLamp
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
from zygomorph.core.values.value import number


def apply(values: Resolved) -> tuple[SpotLamp]:
    return (
        SpotLamp(
            values.vector("position"),
            values.vector("target"),
            lamp_colour(values),
            values.scalar("strength"),
            values.scalar("radius"),
            values.scalar("angle"),
            values.scalar("edge") / 100,
            values.discrete("shadow"),
        ),
    )


DEFINITION = LightDefinition(
    key="spot",
    title="Spot light",
    help="A cone of light from a place to another.",
    also=("beam", "torch", "cone", "stage light"),
    values={
        "position": place(1.2, 2.2, 1.4),
        "target": aim(),
        **COLOUR_VALUES,
        "strength": power(
            200.0, "What it would send out to all sides; the cone lets a part of that through."
        ),
        "angle": number(40.0, "Angle", "Across the cone.", "°", (5.0, 120.0), hard=(0.5, 175.0)),
        "edge": number(
            30.0,
            "Soft edge",
            "Over how much of it the light falls off.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "radius": number(
            0.1, "Radius", "The larger, the softer its shadows.", "m", (0.0, 0.5), hard=(0.0, 1e3)
        ),
        "shadow": SHADOW,
    },
    sentence="Spot of {angle}, {strength}",
    apply=apply,
    grips=(spot("position"), spot("target")),
    order=40,
)
