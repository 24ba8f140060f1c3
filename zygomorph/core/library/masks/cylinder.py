"""A cylinder: 1 inside, 0 outside, with a soft shell."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.local_axes import axis_rows, measure
from zygomorph.core.masking.measured import MEASURED
from zygomorph.core.masking.solid_values import axis, box_of_mesh, centre, length, rounded, softness
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.grips import beside, both_ways, spot
from zygomorph.core.values.groups import SOLIDS


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return measure(
        "cylinder",
        mesh,
        values,
        context,
        axis_rows(values),
        values.array("radius"),
        values.array("height") / np.float32(2),
        soft=values.array("softness") / np.float32(100),
    )


def suggest(mesh: Mesh) -> dict[str, object]:
    found = box_of_mesh(mesh)
    if found is None:
        return {}
    middle, size = found
    longest = float(size.max()) or 1.0
    return {
        "centre": rounded(middle),
        "radius": round(longest * 0.35, 3),
        "height": round(float(size[1]) * 1.2 + longest * 0.2, 3),
    }


DEFINITION = MaskDefinition(
    key="cylinder",
    title="Cylinder",
    group=SOLIDS,
    help="1 inside a cylinder, falling to 0 at its radius and its ends.",
    also=("tube", "column", "radius"),
    values={
        "centre": centre("the cylinder"),
        "axis": axis("The direction of its length."),
        "radius": length(0.5, "Radius", "Where the weight has become 0."),
        "height": length(1.0, "Height", "How long it is."),
        "softness": softness("its radius, and of half its height,"),
        "measured": MEASURED,
    },
    sentence="cylinder of {radius}",
    apply=apply,
    per_element=frozenset({"radius", "softness", "height"}),
    reach="pointwise",
    suggest=suggest,
    handle="cylinder",
    grips=(
        spot("centre"),
        beside("radius", "axis", "centre"),
        both_ways("height", "axis", "centre"),
    ),
    order=24,
)
