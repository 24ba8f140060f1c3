"""Patches of noise: the pattern from -1 to 1 read as a weight from 0 to 1."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.pattern_values import PATTERN_VALUES, sample_pattern
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import REPEATING


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    pattern = sample_pattern(mesh, values, context)
    height = pattern * values.array("contrast") + values.array("brightness")
    return np.float32(0.5) + np.float32(0.5) * height


DEFINITION = MaskDefinition(
    key="noise",
    title="Noise",
    group=REPEATING,
    help="Patches that come and go.",
    also=("patches", "clouds", "random", "fractal"),
    values={
        **PATTERN_VALUES,
        "octaves": replace(PATTERN_VALUES["octaves"], default=2.0),
        "contrast": replace(PATTERN_VALUES["contrast"], default=2.0, soft=(0.0, 6.0), main=True),
        "brightness": replace(
            PATTERN_VALUES["brightness"],
            help="Above 0 the patches grow, below 0 they shrink.",
            main=True,
        ),
    },
    version=3,
    sentence="{noise} patches of {size}",
    apply=apply,
    per_element=frozenset(
        {
            "size",
            "octaves",
            "travel",
            "evolve",
            "gain",
            "lacunarity",
            "period",
            "brightness",
            "contrast",
        }
    ),
    reach="pointwise",
    grips=(spot("offset"), reach("size", X, "offset")),
    order=30,
)
