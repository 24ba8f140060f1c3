"""A ring, as thick as a tube: 1 in its middle line, 0 outside."""

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
        "ring",
        mesh,
        values,
        context,
        axis_rows(values),
        values.array("radius"),
        values.array("thickness") / np.float32(2),
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
        "radius": round(longest * 0.45, 3),
        "thickness": round(longest * 0.3, 3),
    }


DEFINITION = MaskDefinition(
    key="ring",
    title="Ring",
    group=SOLIDS,
    help="1 along a circle, falling to 0 round it; its radius moved makes a ring that spreads.",
    also=("torus", "shock", "circle"),
    values={
        "centre": centre("the ring"),
        "axis": axis("What the ring lies round."),
        "radius": length(0.5, "Radius", "From the centre to the middle of the ring."),
        "thickness": length(0.3, "Thickness", "Across the ring, from weight 0 to weight 0."),
        "softness": softness("half its thickness"),
        "measured": MEASURED,
    },
    sentence="ring of {radius}",
    apply=apply,
    per_element=frozenset({"radius", "thickness", "softness"}),
    reach="pointwise",
    suggest=suggest,
    handle="ring",
    grips=(
        spot("centre"),
        beside("radius", "axis", "centre"),
        both_ways("thickness", "axis", "centre"),
    ),
    order=26,
)
