"""A ball: 1 inside, 0 outside, with a soft shell."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.masks.ball import inside
from zygomorph.core.masking.measured import MEASURED, measured_points
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SOLIDS
from zygomorph.core.values.value import number, vector


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    radius = values.array("radius")
    shell = np.maximum(radius * values.array("softness") / np.float32(100), np.float32(1e-6))
    out = np.empty(len(mesh.points), np.float32)
    points = measured_points(mesh, values, context)
    centre = values.vector("centre").astype(np.float32)
    inside(points, centre, radius, shell, out)
    return out


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    middle = (low + high) / 2
    centre = [float(middle[0]), float(high[1]), float(middle[2])]
    return {
        "centre": [round(c, 3) for c in centre],
        "radius": round(float((high - low).max()) / 2, 3) or 0.5,
    }


DEFINITION = MaskDefinition(
    key="ball",
    title="Ball",
    group=SOLIDS,
    help="1 inside a ball, falling to 0 at its radius.",
    also=("sphere", "radius", "around"),
    values={
        "centre": vector((0.0, 0.0, 0.0), "Centre", "The middle of the ball."),
        "radius": number(
            0.5, "Radius", "Where the weight has become 0.", "m", (0.01, 3.0), hard=(0.0, 1e6)
        ),
        "softness": number(
            60.0,
            "Softness",
            "Share of the radius over which it falls off.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "measured": MEASURED,
    },
    sentence="ball of {radius}",
    apply=apply,
    per_element=frozenset({"radius", "softness"}),
    reach="pointwise",
    suggest=suggest,
    handle="ball",
    order=20,
)
