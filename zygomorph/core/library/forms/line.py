"""Straight line of points between two ends."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.geometry.mesh import Mesh, make_curves
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.groups import CURVES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import vector, whole


def apply(values: Resolved, context: Context) -> Mesh:
    count = values.count("count")
    within_budget(count, LOOSE_BYTES)
    begin, end = values.vector("begin"), values.vector("end")
    share = np.linspace(0, 1, count)[:, None]
    return make_curves([begin + share * (end - begin)], [False])


DEFINITION = FormDefinition(
    key="line",
    title="Line",
    group=CURVES,
    help="A straight curve of evenly spaced points.",
    also=("segment", "stroke", "curve"),
    values={
        "begin": vector((-1.0, 0.0, 0.0), "From", "Where the line begins."),
        "end": vector((1.0, 0.0, 0.0), "To", "Where the line ends."),
        "count": whole(
            200,
            "Points",
            "Points along the line, both ends included.",
            (2, 2000),
            hard=(2, 1_000_000),
            scale="log",
            draft=True,
        ),
    },
    sentence="Line of {count} points",
    apply=apply,
    grips=(spot("begin"), spot("end")),
    specimen=Specimen(values={"begin": [-1.0, -0.3, 0.0], "end": [1.0, 0.4, 0.0]}, thickness=0.05),
    order=40,
)
