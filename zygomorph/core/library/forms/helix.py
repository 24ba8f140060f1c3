"""Upright helix, a curve that winds round an axis while it rises."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.geometry.mesh import Mesh, make_curves
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Y, both_ways, reach
from zygomorph.core.values.groups import CURVES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import number, whole


def apply(values: Resolved, context: Context) -> Mesh:
    count = values.count("count")
    within_budget(count, LOOSE_BYTES)
    share = np.linspace(0, 1, count)
    angle = 2 * np.pi * values.scalar("turns") * share
    low, high = values.scalar("radius"), values.scalar("end_radius")
    radius = low + (high - low) * share
    height = values.scalar("height") * (share - 0.5)
    points = np.stack([radius * np.cos(angle), height, -radius * np.sin(angle)], axis=1)
    return make_curves([points], [False])


DEFINITION = FormDefinition(
    key="helix",
    title="Helix",
    group=CURVES,
    help="A curve that winds up round an axis; level it is a spiral.",
    also=("spiral", "spring", "coil", "screw"),
    values={
        "radius": number(
            0.5, "Radius", "Radius where it begins.", "m", (0.0, 2.0), hard=(0.0, 1e6)
        ),
        "end_radius": number(
            0.5, "End radius", "Radius where it ends.", "m", (0.0, 2.0), hard=(0.0, 1e6)
        ),
        "height": number(1.2, "Height", "From its beginning to its end.", "m", (0.0, 4.0)),
        "turns": number(
            4.0, "Turns", "Below 0 it winds the other way.", "", (-20.0, 20.0), hard=(-1e4, 1e4)
        ),
        "count": whole(
            400,
            "Points",
            "Points along the curve, both ends included.",
            (2, 4000),
            hard=(2, 1_000_000),
            scale="log",
            draft=True,
        ),
    },
    sentence="Helix of {radius}, {turns} turns over {height}",
    apply=apply,
    grips=(
        reach("radius", X, ("height", (0.0, -0.5, 0.0))),
        reach("end_radius", X, ("height", (0.0, 0.5, 0.0))),
        both_ways("height", Y),
    ),
    specimen=Specimen(thickness=0.05),
    order=42,
)
