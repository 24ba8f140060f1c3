"""Sky: light from all sides, of one colour from above and of another from below."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import SkyLamp
from zygomorph.core.values.definitions import LightDefinition
from zygomorph.core.values.value import colour, number

UP = np.array([0.0, 1.0, 0.0])


def apply(values: Resolved) -> tuple[SkyLamp]:
    above, below = values.discrete("above"), values.discrete("below")
    return (SkyLamp(UP, above, below, values.scalar("strength")),)


DEFINITION = LightDefinition(
    key="sky",
    title="Sky",
    help="Light from all sides.",
    also=("ambient", "hemisphere", "fill"),
    values={
        "above": colour("#dcd6f2", "From above", "The colour of light from above."),
        "below": colour("#4a3c34", "From below", "The colour of light from the ground."),
        "strength": number(
            1.05,
            "Strength",
            "On a surface that faces up; at 3.14 a white matt one is just white.",
            "W/m²",
            (0.0, 5.0),
            hard=(0.0, 1e6),
        ),
    },
    sentence="Sky of {strength}",
    apply=apply,
    begins=({"id": "sky", "name": "Sky"},),
    order=20,
)
