"""A mask drawn on the stage with a brush."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import NORMAL, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.masking.at_rest import once_at_rest
from zygomorph.core.masking.brush import drawn_weights
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import DRAWN
from zygomorph.core.values.value import strokes


def rest_normals(mesh: Mesh) -> np.ndarray:
    """(P, 3) float32 units of the rest shape; none, as 0, where there are no faces."""
    known = mesh.get("point", NORMAL)
    if known is not None:
        return known
    if mesh.topology.face_count == 0:
        return np.zeros((len(mesh.points), 3), np.float32)
    return point_normals(replace(mesh, points=mesh.rest))


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    drawn = values.discrete("strokes")
    return once_at_rest(
        mesh,
        ("drawn",),
        lambda: drawn_weights(drawn, mesh.rest.astype(np.float64), rest_normals(mesh)),
        of=drawn,
    )


DEFINITION = MaskDefinition(
    key="drawn",
    title="Drawn",
    group=DRAWN,
    help="What you draw on the stage with a brush; it stays on the surface, at every resolution.",
    also=("paint", "brush", "draw"),
    values={"strokes": strokes("Strokes", "Drawn on the rest shape.")},
    sentence="drawn",
    apply=apply,
    begins_empty=True,
    reach="neighbourhood",
    handle="brush",
    order=66,
)
