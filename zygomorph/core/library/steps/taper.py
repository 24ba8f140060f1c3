"""Taper: sections across an axis grow or shrink along it. A. Barr, SIGGRAPH 1984."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.deform.taper import taper
from zygomorph.core.transforms.axis_frame import (
    AXIS_VALUES,
    axis_frame,
    has_width,
    limits,
    limits_of,
)
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import BEND
from zygomorph.core.values.specimen import BAR, Specimen, sine
from zygomorph.core.values.value import choice, number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    out = np.empty_like(mesh.points)
    ratio = values.array("ratio") / np.float32(100)
    taper(
        mesh.points,
        rows,
        centre,
        *limits(values),
        ratio,
        weights,
        values.discrete("course") == "smooth",
        out,
    )
    return mesh.moved(out)


DEFINITION = DeformDefinition(
    key="taper",
    title="Taper",
    group=BEND,
    help="Narrows or widens the form along its axis; the near end keeps its width.",
    also=("narrow", "pinch", "cone", "shrink"),
    values={
        "ratio": number(
            30.0, "Width", "How wide the end is, against its width before.", "%", (0.0, 200.0)
        ),
        "course": choice(
            "linear",
            "Course",
            "How the width goes from one end to the other.",
            {"linear": "linear", "smooth": "smooth"},
        ),
        **AXIS_VALUES,
    },
    sentence="Taper to {ratio} from {low} to {high}",
    apply=apply,
    per_element=frozenset({"ratio", "low", "high"}),
    pointwise=True,
    suggest=limits_of,
    handle="axis",
    acts_on=has_width,
    specimen=Specimen(BAR, {"ratio": sine(10, 170), "low": -0.8, "high": 0.8}),
    order=30,
)
