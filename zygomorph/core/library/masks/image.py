"""A picture's brightness as a weight."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.picture_places import PICTURE_GRIPS, PICTURE_VALUES, brightness, suited
from zygomorph.core.resolve import Resolved


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return brightness(mesh, values, context).astype(np.float32)


DEFINITION = Definition(
    sort="layer",
    key="image",
    title="Picture",
    group="drawn",
    help="White is 1, black is 0; laid by the UVs or seen along a direction.",
    also=("image", "texture", "photo", "UV"),
    values={**PICTURE_VALUES, "times": replace(PICTURE_VALUES["times"], default=1.0)},
    sentence="a picture",
    apply=apply,
    each=frozenset({"width", "times", "across", "upward", "turn"}),
    alone=True,
    reads=frozenset({"place"}),
    suggest=suited,
    handle="arrows",
    grips=PICTURE_GRIPS,
    order=62,
)
