"""Whirl: points of a system are carried round an axis, as by a Lamb–Oseen vortex."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import placed, turned, unit
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm
from zygomorph.core.values.value import direction, number, vector


def act(
    acting: Acting, moving: Moving, values: Resolved, weights: np.ndarray, context: Context
) -> None:
    axis, centre = unit(values.vector("axis")), values.vector("centre")
    if context.parent_motion is not None:
        axis = turned(axis, context.parent_motion)
        centre = placed(centre, context.parent_motion)
    away = moving.places - centre.astype(np.float32)
    out = away - (away @ axis)[:, None] * axis
    far = np.maximum(np.linalg.norm(out, axis=1), 1e-9)
    # v = Γ / 2π r (1 - exp(-r² / r_c²)), here by the speed at the core radius.
    core = np.maximum(values.array("core"), 1e-6)
    shape = -np.expm1(-((far / core) ** 2)) * core / far / -np.expm1(-1.0)
    round_ = np.cross(axis, out / far[:, None])
    speeds = round_ * (values.array("speed") * shape)[:, None]
    speeds += axis * values.array("lift")[:, None]
    speeds -= out / far[:, None] * values.array("draws")[:, None]
    acting.wants(speeds.astype(np.float32), values.array("grip") * weights)


DEFINITION = ForceDefinition(
    key="force_vortex",
    title="Force: whirl",
    group=FORCES,
    help="Carries the points of a system below round an axis, up along it and towards it.",
    also=("vortex", "tornado", "spin", "swirl", "orbit"),
    values={
        "speed": number(1.0, "Speed", "Round the axis, at the core.", "m/s", (-5.0, 5.0)),
        "core": number(
            0.3, "Core radius", "Where it is fastest.", "m", (0.02, 3.0), hard=(0.0, 1e6)
        ),
        "lift": number(0.0, "Lift", "Along the axis.", "m/s", (-3.0, 3.0), idle=0.0),
        "draws": number(0.0, "Draws in", "Towards the axis.", "m/s", (-3.0, 3.0), idle=0.0),
        "grip": number(
            3.0,
            "Grip",
            "How fast points take on these speeds.",
            "per s",
            (0.0, 20.0),
            hard=(0.0, 1e5),
        ),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "Of the whirl.", main=False),
        "centre": vector((0.0, 0.0, 0.0), "Centre", "A point on the axis.", main=False),
    },
    sentence="Whirl at {speed}[, lifts {lift}][, draws in {draws}]",
    act=act,
    grips=(spot("centre"), reach("core", X, "centre")),
    amounts=("speed", "lift", "draws"),
    per_element=frozenset({"speed", "core", "lift", "draws", "grip"}),
    specimen=moving_swarm({"speed": 0.9, "core": 0.4}),
    order=260,
)
