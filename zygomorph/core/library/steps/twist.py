"""Twist about an axis: A. Barr, "Global and Local Deformations of Solid Primitives", SIGGRAPH 1984.

Every plane across the axis turns by an angle that grows from one limit to the other; outside the
limits it stays. Volume is kept: the Jacobian's determinant is 1.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.deform.twist import twist
from zygomorph.core.transforms.axis_frame import (
    AXIS_VALUES,
    axis_frame,
    has_width,
    limits,
    limits_of,
)
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import turn
from zygomorph.core.values.groups import BEND
from zygomorph.core.values.specimen import BAR, Specimen, sine
from zygomorph.core.values.value import number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    out = np.empty_like(mesh.points)
    twist(
        mesh.points, rows, centre, *limits(values), np.radians(values.array("angle")), weights, out
    )
    return mesh.moved(out)


DEFINITION = DeformDefinition(
    key="twist",
    title="Twist",
    group=BEND,
    help="Turns the far end against the near end, which stays, like wringing a cloth.",
    also=("wring", "spiral", "screw", "turn"),
    values={
        "angle": number(
            90.0, "Angle", "How far the end is turned against the beginning.", "°", (-720.0, 720.0)
        ),
        **AXIS_VALUES,
    },
    sentence="Twist {angle} from {low} to {high}",
    apply=apply,
    per_element=frozenset({"angle", "low", "high"}),
    pointwise=True,
    suggest=limits_of,
    handle="axis",
    grips=(turn("angle", "axis", "centre"),),
    acts_on=has_width,
    amounts=("angle",),
    specimen=Specimen(BAR, {"angle": sine(-200, 200), "low": -0.85, "high": 0.85}),
    order=20,
)
