"""A picture's brightness as a weight."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.image_projection import (
    PICTURE_VALUES,
    brightness,
    colours_at,
    printed_picture,
)
from zygomorph.core.shared.laying import LAID_LAYER, suited
from zygomorph.core.values.definitions import MaskDefinition, Print
from zygomorph.core.values.groups import DRAWN


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return brightness(mesh, values, context, values.discrete("picture"))


def coloured(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return colours_at(mesh, values, context, values.discrete("picture"))


def printed(values: Resolved, context: Context) -> Print:
    return printed_picture(values, context, values.discrete("picture"))


DEFINITION = MaskDefinition(
    key="image",
    title="Picture",
    group=DRAWN,
    help="White is 1, black is 0; laid by the UVs, along a direction, by the camera, or wrapped "
    "round. A look can have its colours.",
    also=("image", "texture", "photo", "UV"),
    values={**PICTURE_VALUES, "times": replace(PICTURE_VALUES["times"], default=1.0)},
    sentence="a picture",
    apply=apply,
    per_element=frozenset({"width", "times", "across", "upward", "turn"}),
    suggest=lambda mesh: {"soft": 0.0, **suited(mesh)},
    printed=printed,
    coloured=coloured,
    **LAID_LAYER,
    order=62,
)
