"""Level circle, a closed curve."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.geometry.mesh import Mesh, make_curves
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, reach
from zygomorph.core.values.groups import CURVES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import number, whole


def apply(values: Resolved, context: Context) -> Mesh:
    count = values.count("count")
    within_budget(count, LOOSE_BYTES)
    angle = np.arange(count) * (2 * np.pi / count)
    # Right-handed about the upright axis: x goes towards -z.
    ring = np.stack([np.cos(angle), np.zeros(count), -np.sin(angle)], axis=1)
    return make_curves([values.scalar("radius") * ring], [True])


DEFINITION = FormDefinition(
    key="circle",
    title="Circle",
    group=CURVES,
    help="A level, closed curve of evenly spaced points.",
    also=("ring", "hoop", "loop", "curve"),
    values={
        "radius": number(
            0.8, "Radius", "From the middle to the curve.", "m", (0.05, 4.0), hard=(1e-6, 1e6)
        ),
        "count": whole(
            200,
            "Points",
            "Points of the circle; 3 make a triangle.",
            (3, 2000),
            hard=(3, 1_000_000),
            scale="log",
            draft=True,
        ),
    },
    sentence="Circle of {radius}, {count} points",
    apply=apply,
    grips=(reach("radius", X),),
    specimen=Specimen(thickness=0.05),
    order=41,
)
