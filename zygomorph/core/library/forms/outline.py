"""A drawing's outlines, with a depth, filled, or as curves."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.outlines.contour import Contour
from zygomorph.core.geometry.outlines.region import area_of
from zygomorph.core.shared.outline_values import MADE, made_of, scaled
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Z, both_ways
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.value import asset, choice, number


def contours_of(drawing: Mesh) -> list[Contour]:
    """The curves of a mesh as contours in the plane of x and y."""
    topology = drawing.topology
    runs = np.split(topology.curve_points, topology.curve_starts[1:-1])
    return [
        Contour(drawing.points[run, :2].astype(np.float64), bool(closed))
        for run, closed in zip(runs, topology.curve_closed, strict=True)
        if len(run)
    ]


def apply(values: Resolved, context: Context) -> Mesh:
    contours = contours_of(context.asset(values.discrete("drawing")))
    if not contours:
        raise ZygomorphError("The file holds no outlines.", "Bring in a drawing, as SVG.")
    every = np.concatenate([c.points for c in contours])
    extent = float(np.ptp(every, axis=0).max())
    drawn = scaled(contours, values.scalar("size") / extent if extent > 0 else 1.0)
    parts = []
    if values.discrete("make") != "curves":
        parts = area_of(drawn, str(values.discrete("rule")))
    return made_of([(shard, [part]) for shard, part in enumerate(parts)], drawn, values)


DEFINITION = FormDefinition(
    key="outline",
    title="Outline",
    group=SURFACES,
    help="The paths of an SVG drawing, upright; each part is a shard.",
    also=("SVG", "drawing", "shape", "path", "vector"),
    values={
        "drawing": asset("Drawing", "The file that was brought in.", main=False),
        "size": number(
            1.5, "Size", "Its largest side.", "m", (0.1, 6.0), hard=(1e-3, 1e4), scale="log"
        ),
        **MADE,
        "rule": choice(
            "nonzero",
            "Inside",
            "What counts as inside where outlines lie in or over each other.",
            {"nonzero": "by direction", "evenodd": "every other"},
            shown_when=("make", ("solid", "filled")),
        ),
    },
    sentence="Outline of {size}, {make}",
    apply=apply,
    grips=(both_ways("size", X), both_ways("depth", Z)),
    order=91,
)
