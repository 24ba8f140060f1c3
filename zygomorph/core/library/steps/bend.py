"""Bend a spine into a circular arc: A. Barr, SIGGRAPH 1984.

Between the limits the spine becomes an arc of constant curvature and keeps its length; beyond
them the form goes on straight. The closed form is written with sin θ / θ and (1 - cos θ) / θ, so
that it passes smoothly through no bend at all.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.deform.bend import bend
from zygomorph.core.transforms.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import turn
from zygomorph.core.values.groups import BEND
from zygomorph.core.values.specimen import BAR, Specimen, sine
from zygomorph.core.values.value import number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values, values.scalar("towards"))
    out = np.empty_like(mesh.points)
    bend(
        mesh.points, rows, centre, *limits(values), np.radians(values.array("angle")), weights, out
    )
    return mesh.moved(out)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Limits that hold the mesh; a form that lies flat bends upwards, not within its own plane."""
    found = limits_of(mesh)
    upright = not found or found["axis"][1] == 1.0
    return found if upright else {**found, "towards": 90.0}


DEFINITION = DeformDefinition(
    key="bend",
    title="Bend",
    group=BEND,
    help="Curves the form along its axis into an arc; the point of the axis nearest to the centre "
    "stays.",
    also=("arc", "arch", "fold", "curl up"),
    values={
        "angle": number(60.0, "Angle", "Angle of the whole arc.", "°", (-360.0, 360.0)),
        "towards": number(
            0.0,
            "Towards",
            "The side it bends to, turned about the axis, right-handed.",
            "°",
            (-180.0, 180.0),
            period=360.0,
        ),
        **AXIS_VALUES,
    },
    sentence="Bend {angle} from {low} to {high}",
    apply=apply,
    per_element=frozenset({"angle", "low", "high"}),
    pointwise=True,
    version=2,
    suggest=suggest,
    handle="axis",
    grips=(turn("towards", "axis", "centre"),),
    amounts=("angle",),
    specimen=Specimen(BAR, {"angle": sine(-110, 110), "low": -0.8, "high": 0.8}),
    order=10,
)
