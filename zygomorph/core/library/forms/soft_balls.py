"""Soft balls: a few balls that melt into each other, each moved for itself."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import (
    BALL_RADIUS,
    BALL_STRENGTH,
    Mesh,
    loose_points,
    make_mesh,
    uniform_faces,
)
from zygomorph.core.geometry.normals import with_normals
from zygomorph.core.shared.ball_values import MELTING, melted
from zygomorph.core.shared.solid_values import VOXEL
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import Value, choice, number, vector

MOST = 8
# Where balls stand in a new piece, and their radii, metres.
BEGINS = (
    ((-0.32, 0.0, 0.0), 0.4),
    ((0.3, 0.12, 0.05), 0.34),
    ((0.05, -0.34, 0.1), 0.26),
    ((0.02, 0.5, -0.06), 0.22),
    ((-0.6, 0.4, 0.0), 0.18),
    ((0.7, -0.2, 0.0), 0.18),
    ((-0.5, -0.45, 0.0), 0.16),
    ((0.5, 0.6, 0.0), 0.16),
)


def apply(values: Resolved, context: Context) -> Mesh:
    count = int(values.discrete("count"))
    numbers = range(1, count + 1)
    centres = np.array([values.vector(f"centre_{k}") for k in numbers], np.float32)
    radius = np.array([values.scalar(f"radius_{k}") for k in numbers], np.float32)
    strength = np.array([values.scalar(f"strength_{k}") / 100 for k in numbers], np.float32)
    if values.discrete("shown") == "points":
        made = loose_points(centres).with_attribute("point", BALL_RADIUS, radius)
        return made.with_attribute("point", BALL_STRENGTH, strength)
    skin = melted(centres, radius, strength, values).skin(values.scalar("voxel"))
    return with_normals(make_mesh(skin.points, *uniform_faces(skin.triangles)), skin.normals)


def _of_a_ball(k: int) -> dict[str, Value]:
    where, radius = BEGINS[k - 1]
    # A count of so many or more has this one.
    shown = ("count", tuple(str(n) for n in range(max(k, 1), MOST + 1)))
    return {
        f"centre_{k}": vector(where, f"Ball {k}", "Where its middle is.", shown_when=shown),
        f"radius_{k}": number(
            radius,
            f"Radius {k}",
            "Of this ball alone.",
            "m",
            (0.02, 1.0),
            hard=(0.0, 1e4),
            shown_when=shown,
        ),
        f"strength_{k}": number(
            100.0,
            f"Strength {k}",
            "Stronger it swells; below 0 it eats into the others.",
            "%",
            (-200.0, 200.0),
            hard=(-1e4, 1e4),
            shown_when=shown,
            main=False,
        ),
    }


_VALUES: dict[str, Any] = {
    "count": choice("3", "Balls", "How many there are.", {str(n): str(n) for n in range(1, 9)}),
    **MELTING,
    "voxel": VOXEL,
    "shown": choice(
        "skin",
        "Becomes",
        "One skin around all, or loose points that other steps and pieces take as balls.",
        {"skin": "a skin", "points": "points"},
        main=False,
    ),
}

DEFINITION = FormDefinition(
    key="soft_balls",
    title="Soft balls",
    group=SURFACES,
    help="Balls that melt into each other where they are near; each is moved for itself.",
    also=("metaballs", "blobs", "blobby", "soft objects", "drops", "goo", "slime", "isosurface"),
    values={
        **{name: _VALUES[name] for name in ("count", "threshold")},
        **{name: value for k in range(1, MOST + 1) for name, value in _of_a_ball(k).items()},
        **{name: _VALUES[name] for name in ("voxel", "falloff", "shown")},
    },
    sentence="Soft balls, {count} of them, {shown}, voxels of {voxel}",
    apply=apply,
    grips=tuple(
        grip
        for k in range(1, MOST + 1)
        for grip in (spot(f"centre_{k}"), reach(f"radius_{k}", X, f"centre_{k}"))
    ),
    specimen=Specimen(values={"count": "3", "centre_1": [sine(-0.5, -0.1), 0, 0], "voxel": 0.05}),
    order=55,
)
