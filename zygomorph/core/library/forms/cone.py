"""Upright cone, pointed or cut off."""

from __future__ import annotations

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.upright import UPRIGHT_VALUES, upright
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Y, both_ways, reach
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import number


def apply(values: Resolved, context: Context) -> Mesh:
    return upright(values.scalar("top"), values.scalar("bottom"), values, context)


DEFINITION = FormDefinition(
    key="cone",
    title="Cone",
    group=SURFACES,
    help="An upright cone, with a point or cut off.",
    also=("spike", "funnel"),
    values={
        "bottom": number(
            0.5, "Bottom radius", "Radius at the bottom.", "m", (0.02, 2.0), hard=(1e-6, 1e6)
        ),
        "top": number(
            0.0,
            "Top radius",
            "Radius at the top; 0 makes a point.",
            "m",
            (0.0, 2.0),
            hard=(0.0, 1e6),
        ),
        **UPRIGHT_VALUES,
    },
    sentence="Cone of {bottom} to {top}, {height} high",
    apply=apply,
    grips=(
        reach("bottom", X, ("height", (0.0, -0.5, 0.0))),
        reach("top", X, ("height", (0.0, 0.5, 0.0))),
        both_ways("height", Y),
    ),
    specimen=Specimen(values={"around": 20, "rows": 4, "cap_rings": 2}),
    order=26,
)
