"""Tilt: how far the surface has turned away from lying upright, all of it or one part of it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.levelness import is_level
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import choice, direction, number

AXES = {"x": 0, "y": 1, "z": 2}


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    normals = point_normals(mesh)
    most = np.maximum(values.array("most"), np.float32(1e-6))
    part = values.discrete("part")
    if part != "all":
        # Leaning as far one way as the other is 0 and 1, upright one half.
        leans = np.degrees(np.arcsin(np.clip(normals[:, AXES[part]], -1, 1))).astype(np.float32)
        return np.float32(0.5) + leans / (2 * most)
    up = np.clip(normals @ unit(values.vector("upright")).astype(np.float32), -1, 1)
    found: np.ndarray = np.degrees(np.arccos(up)).astype(np.float32) / most
    return found


DEFINITION = MaskDefinition(
    key="tilt",
    title="Tilt",
    group=SURFACE,
    help="Rises with the angle by which the surface, a tile or a copy has tilted.",
    also=("slope", "lean", "angle", "steep"),
    values={
        "part": choice(
            "all",
            "Part",
            "All of the tilt, or how far it leans along one axis of the piece.",
            {"all": "all of it", "x": "towards x", "y": "towards y", "z": "towards z"},
        ),
        "most": number(
            45.0,
            "Most tilt",
            "Tilted this far, the weight is 1.",
            "°",
            (1.0, 90.0),
            hard=(0.01, 180.0),
        ),
        "upright": direction(
            (0.0, 1.0, 0.0),
            "Upright",
            "What faces this way, in the piece, has no tilt.",
            shown_when=("part", ("all",)),
        ),
    },
    sentence="tilt up to {most}",
    apply=apply,
    acts_on=lambda mesh: not is_level(mesh),
    per_element=frozenset({"most"}),
    handle="arrows",
    order=51,
)
