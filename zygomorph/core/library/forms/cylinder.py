"""Upright tube between two radii: a cylinder, a cone, or a cut-off cone."""

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
    radius = values.scalar("radius")
    return upright(radius, radius, values, context)


DEFINITION = FormDefinition(
    key="cylinder",
    title="Cylinder",
    group=SURFACES,
    help="An upright tube, closed at its ends or open.",
    also=("pipe", "column", "can", "drum"),
    values={
        "radius": number(
            0.4, "Radius", "From the axis to the side.", "m", (0.02, 2.0), hard=(1e-6, 1e6)
        ),
        **UPRIGHT_VALUES,
    },
    sentence="Cylinder of {radius}, {height} high",
    apply=apply,
    grips=(reach("radius", X), both_ways("height", Y)),
    specimen=Specimen(values={"around": 20, "rows": 4, "cap_rings": 2}),
    order=24,
)
