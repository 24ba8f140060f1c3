"""Speed: how fast the points move on the stage."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.span import between
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    velocity = context.velocity(mesh)
    fast = np.sqrt(np.einsum("ij,ij->i", velocity, velocity)).astype(np.float32)
    return between(fast, values.array("low"), values.array("high"))


DEFINITION = MaskDefinition(
    key="speed",
    title="Speed",
    group=SURFACE,
    help="Rises with how fast the points move on the stage.",
    also=("velocity", "motion", "fast", "moving"),
    values={
        "low": number(
            0.0, "From", "As slow as this the weight is 0.", "m/s", (0.0, 3.0), hard=(0.0, 1e6)
        ),
        "high": number(
            1.0, "To", "As fast as this the weight is 1.", "m/s", (0.0, 3.0), hard=(0.0, 1e6)
        ),
    },
    sentence="speed from {low} to {high}",
    apply=apply,
    by_time=lambda discrete: True,
    per_element=frozenset({"low", "high"}),
    reach="whole",
    on_copies="base",
    in_looks=True,
    order=58,
)
