"""Move, turn and scale the points themselves, as a step of the recipe."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import placement, transformed
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import gimbal, spot
from zygomorph.core.values.groups import PLACE
from zygomorph.core.values.place_values import PLACE_VALUES
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import vector


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    centre = values.vector("centre")
    matrix = placement(values.vector("move"), values.vector("turn"), values.vector("scale"))
    matrix[:3, 3] += centre - matrix[:3, :3] @ centre
    placed = transformed(mesh.points, matrix)
    if len(weights) > 1 or weights[0] != 1.0:
        placed = np.ascontiguousarray(
            mesh.points + weights[:, None] * (placed - mesh.points), np.float32
        )
    return mesh.moved(placed)


def suggest(mesh: Mesh) -> dict[str, list[float]]:
    if len(mesh.points) == 0:
        return {}
    middle = (mesh.points.min(axis=0) + mesh.points.max(axis=0)) / 2
    return {"centre": [round(float(m), 4) for m in middle]}


DEFINITION = DeformDefinition(
    key="place",
    title="Place",
    group=PLACE,
    help="Moves, turns and scales the points; with a mask, only where it allows.",
    also=("move", "rotate", "turn", "scale", "transform", "translate"),
    values={
        "move": vector((0.0, 0.0, 0.0), "Move", "How far along each axis.", idle=[0.0] * 3),
        "turn": replace(PLACE_VALUES["turn"], default=[0.0, 30.0, 0.0]),
        "scale": PLACE_VALUES["scale"],
        "centre": vector(
            (0.0, 0.0, 0.0),
            "Centre",
            "The point that turning and scaling leave where it is.",
            main=False,
        ),
    },
    sentence="Place[ moved {move}][ turned {turn}][ scaled {scale}]",
    apply=apply,
    pointwise=True,
    # Copies turn and grow along with their places.
    resizes=lambda discrete: True,
    suggest=suggest,
    grips=(spot("move", "centre"), gimbal("turn", "centre", "move"), spot("centre")),
    specimen=Specimen(("box", {"size": [0.9, 0.9, 0.9]}), {"turn": [20, saw(0, 90), 0]}),
    order=10,
)
