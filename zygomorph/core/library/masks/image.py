"""A picture's brightness as a weight."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.image_projection import PICTURE_GRIPS, PICTURE_VALUES, brightness, suited
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import DRAWN


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return brightness(mesh, values, context).astype(np.float32)


DEFINITION = MaskDefinition(
    key="image",
    title="Picture",
    group=DRAWN,
    help="White is 1, black is 0; laid by the UVs or seen along a direction.",
    also=("image", "texture", "photo", "UV"),
    values={**PICTURE_VALUES, "times": replace(PICTURE_VALUES["times"], default=1.0)},
    sentence="a picture",
    apply=apply,
    per_element=frozenset({"width", "times", "across", "upward", "turn"}),
    reach="pointwise",
    suggest=suited,
    handle="arrows",
    grips=PICTURE_GRIPS,
    order=62,
)
