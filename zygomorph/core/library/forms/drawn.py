"""Paths that are drawn on the stage, with a depth, filled, or as curves."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.outlines.contour import Contour
from zygomorph.core.geometry.outlines.region import area_of
from zygomorph.core.geometry.outlines.solid import curve_mesh
from zygomorph.core.geometry.outlines.spline import smooth_curve
from zygomorph.core.shared.outline_values import MADE, made_of
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import Z, both_ways
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.value import choice, paths, whole

# A leaf with a hole.
LEAF = [
    {
        "closed": True,
        "knots": [
            [0.0, -0.8],
            [0.14, -0.48],
            [0.5, -0.12],
            [0.44, 0.36],
            [0.0, 0.85],
            [-0.42, 0.4],
            [-0.5, -0.14],
            [-0.12, -0.46],
        ],
    },
    {"closed": True, "knots": [[0.0, -0.16], [0.16, 0.06], [0.0, 0.34], [-0.16, 0.06]]},
]


def contours_of(values: Resolved) -> list[Contour]:
    """The drawn paths as contours; a path of a single knot is none."""
    drawn = []
    pieces = values.count("pieces") if values.discrete("corners") == "round" else 1
    within_budget(pieces * sum(len(path["knots"]) for path in values.discrete("paths")))
    for path in values.discrete("paths"):
        closed = bool(path["closed"])
        points = smooth_curve(np.array(path["knots"], np.float64), closed, pieces)
        # Two knots cannot close around anything.
        if len(points) >= (3 if closed else 2):
            drawn.append(Contour(points, closed))
    return drawn


def apply(values: Resolved, context: Context) -> Mesh:
    contours = contours_of(values)
    if not contours:
        raise ZygomorphError("Nothing is drawn yet.", "Choose “Draw”, and click on the stage.")
    closed = [contour for contour in contours if contour.closed]
    if not closed:
        # So that a path is seen while it is drawn.
        return curve_mesh(contours)
    parts = area_of(closed, "evenodd") if values.discrete("make") != "curves" else []
    return made_of([(shard, [part]) for shard, part in enumerate(parts)], contours, values)


DEFINITION = FormDefinition(
    key="drawn",
    title="Drawn outline",
    group=SURFACES,
    help="Paths that you draw on the stage; a path within another is a hole, open ones are curves.",
    also=("pen", "path", "draw", "shape", "spline"),
    values={
        "paths": paths(LEAF, "Paths", "Drawn on the stage, seen from the front."),
        "corners": choice(
            "round",
            "Knots",
            "How the path goes through them.",
            {"round": "smooth", "sharp": "straight from one to the next"},
        ),
        "pieces": whole(
            12,
            "Detail",
            "Points from one knot to the next.",
            (2, 40),
            hard=(1, 500),
            draft=True,
            main=False,
            shown_when=("corners", ("round",)),
        ),
        **MADE,
    },
    sentence="Drawn outline, {make}",
    apply=apply,
    handle="paths",
    grips=(both_ways("depth", Z),),
    order=92,
)
