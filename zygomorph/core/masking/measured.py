"""Where a spatial layer is measured: in the piece, on the stage, or on the rest shape."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.value import Value, choice

MEASURED = choice(
    "piece",
    "Measured",
    "Against the piece as it is here, where it stands on the stage, or its rest shape.",
    {"piece": "in the piece", "space": "in space", "rest": "on the rest shape"},
    main=False,
    reads=(("space", "place"),),
)


def now_or_at_rest(default: str) -> Value:
    """For what is found on the surface itself: as it is here, or on its rest shape."""
    return choice(
        default,
        "Measured",
        "As the piece is here, or on its rest shape.",
        {"piece": "in the piece", "rest": "on the rest shape"},
        main=False,
    )


def measured_points(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """(P, 3) float32, metres; in the space of the layer's parent, where it has one."""
    where = values.discrete("measured")
    points = mesh.rest if where == "rest" else mesh.points
    if where == "space":
        points = transformed(points, context.place)
    return points if context.undo_parent is None else transformed(points, context.undo_parent)
