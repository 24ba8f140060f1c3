"""Soft balls of another piece: 1 inside of them, 0 where none reaches."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.ball_values import MELTING, RADIUS, balls_of_other
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SOLIDS
from zygomorph.core.values.value import piece


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    other = context.other(values.discrete("piece"))
    balls = balls_of_other(other, values.array("radius"), values)
    found: np.ndarray = balls.at(mesh.points) / np.float32(balls.threshold)
    return found


DEFINITION = MaskDefinition(
    key="soft_balls",
    title="Soft balls",
    group=SOLIDS,
    help="1 inside of soft balls around another piece’s points or copies, fading out where they "
    "reach; where they are near they melt together.",
    also=("metaballs", "blobs", "points", "swarm"),
    values={
        "piece": piece("Of", "The piece whose points or copies are the balls."),
        "radius": RADIUS,
        **MELTING,
    },
    sentence="inside soft balls of {piece}",
    apply=apply,
    begins_empty=True,
    reach="pointwise",
    order=54,
)
