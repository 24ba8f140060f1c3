"""Blend towards another piece: point by point, or each to the nearest place of its surface."""

from __future__ import annotations

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.others import matching_points, search_other
from zygomorph.core.steps.pushing import carry
from zygomorph.core.values import choice, number, piece


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    other = context.other(values.word("piece"))
    if values.word("by") == "number":
        target = matching_points(mesh, other)
    else:
        target, _, _ = search_other(other).nearest(mesh.points)
    ways = np.ascontiguousarray(target - mesh.points, np.float32)
    share = np.ascontiguousarray(values.numbers["amount"] / 100, np.float32)
    return mesh.moved(carry(mesh.points, ways, share, weights))


DEFINITION = Definition(
    sort="step",
    key="blend",
    title="Blend",
    group="join",
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
    reads=frozenset({"place"}),
    order=20,
)
