"""Dome: light from a picture all round, which shiny surfaces throw back."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.domes import DOMES
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.shared.drawn_scene import DomeLamp
from zygomorph.core.values.definitions import LightDefinition
from zygomorph.core.values.value import choice, image, number


def apply(values: Resolved) -> tuple[DomeLamp]:
    chosen = values.discrete("around")
    picture = values.discrete("picture") if chosen == "own" else chosen
    turn = rotation(np.array([0.0, values.scalar("turn"), 0.0]))
    return (DomeLamp(picture, values.scalar("strength"), turn),)


DEFINITION = LightDefinition(
    key="dome",
    title="Dome",
    help="Light from a picture all round; shiny things show it.",
    also=("environment", "HDR", "HDRI", "image-based", "reflection", "surroundings"),
    values={
        "around": choice(
            "glasshouse",
            "All round",
            "What is around.",
            {**DOMES, "own": "a picture of your own"},
        ),
        "picture": image(
            "Picture",
            "Twice as wide as high, all round; HDR, or any other picture.",
            shown_when=("around", ("own",)),
        ),
        "strength": number(
            1.5,
            "Strength",
            "On the mean of surfaces that face all ways; at 3.14 a white matt one is just white.",
            "W/m²",
            (0.0, 5.0),
            hard=(0.0, 1e6),
        ),
        "turn": number(
            0.0,
            "Turn",
            "Turns it about the height.",
            "°",
            (-180.0, 180.0),
            period=360.0,
        ),
    },
    sentence="Dome of {strength}, {around}",
    apply=apply,
    order=25,
)
