"""Stretch along an axis between limits: A. Barr, SIGGRAPH 1984.

Between the limits lengths along the axis are multiplied; what lies beyond moves along unchanged.
With its volume kept, the part between becomes thinner as it becomes longer. Beyond each limit its
width comes back to what it was within a share RAMP of the way between them, in a straight line, so
that there is no ledge, and each slice there is as much longer as it is thinner too.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.deform.stretch import stretch
from zygomorph.core.transforms.axis_frame import AXIS_VALUES, axis_frame, limits, limits_of
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import BEND
from zygomorph.core.values.specimen import BAR, Specimen, sine
from zygomorph.core.values.value import number, switch


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    out = np.empty_like(mesh.points)
    ratio = values.array("ratio") / np.float32(100)
    keeps = values.discrete("keeps_volume")
    stretch(mesh.points, rows, centre, *limits(values), ratio, weights, keeps, out)
    return mesh.moved(out)


DEFINITION = DeformDefinition(
    key="stretch",
    title="Stretch",
    group=BEND,
    help="Makes the form longer or shorter along its axis; the point of the axis nearest to the "
    "centre stays.",
    also=("squash", "lengthen", "squeeze", "pull"),
    values={
        "ratio": number(
            150.0,
            "Length",
            "How long it becomes, against its length before.",
            "%",
            (10.0, 400.0),
            hard=(0.0, None),
            scale="log",
        ),
        "keeps_volume": switch(False, "Keep volume", "Thinner as it becomes longer."),
        **AXIS_VALUES,
    },
    sentence="Stretch to {ratio} from {low} to {high}",
    apply=apply,
    per_element=frozenset({"ratio", "low", "high"}),
    pointwise=True,
    version=2,
    suggest=limits_of,
    handle="axis",
    specimen=Specimen(BAR, {"ratio": sine(55, 125), "low": -0.85, "high": 0.85}),
    order=40,
)
