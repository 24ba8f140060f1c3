"""Blend towards another piece: point by point, or each to the nearest place of its surface."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import matching_points, search_other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.along_directions import carry
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, piece


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    other = context.other(values.discrete("piece"))
    if values.discrete("by") == "number":
        target = matching_points(mesh, other)
    else:
        target, _, _ = search_other(other, context).nearest(mesh.points)
    ways = np.ascontiguousarray(target - mesh.points, np.float32)
    share = np.ascontiguousarray(values.numbers["amount"] / 100, np.float32)
    return mesh.moved(carry(mesh.points, ways, share, weights))


DEFINITION = DeformDefinition(
    key="blend",
    title="Blend",
    group=JOIN,
    help="Turns the shape into that of another piece, a share of the way or all of it.",
    also=("morph", "mix", "shape", "target", "become"),
    values={
        "piece": piece("Towards", "The piece to become."),
        "amount": number(
            50.0,
            "Amount",
            "0 is this shape, 100 the other; beyond it overshoots.",
            "%",
            (0.0, 100.0),
        ),
        "by": choice(
            "nearest",
            "Points meet",
            "The nearest place of the other's surface, or the point of the same number.",
            {"nearest": "at the nearest place", "number": "by number"},
        ),
    },
    sentence="Blend {amount} towards {piece}, {by}",
    apply=apply,
    amounts=("amount",),
    specimen=Specimen(
        values={"piece": "o", "amount": sine(0, 100)}, other=("box", {"size": [1.1, 1.1, 1.1]})
    ),
    order=20,
)
