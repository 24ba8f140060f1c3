"""Gravity: a steady acceleration."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm
from zygomorph.core.values.value import direction, number


def act(
    acting: Acting, moving: Moving, values: Resolved, weights: np.ndarray, context: Context
) -> None:
    way = unit(values.vector("direction")).astype(np.float32)
    acting.pushes(way * values.array("strength")[:, None], weights)


DEFINITION = ForceDefinition(
    key="force_gravity",
    title="Force: gravity",
    group=FORCES,
    help="Lets the points of a system below fall, or rise.",
    also=("fall", "weight", "buoyancy", "rise", "heat"),
    values={
        "strength": number(1.0, "Strength", "Below 0 it rises.", "m/s²", (-10.0, 10.0)),
        "direction": direction((0.0, -1.0, 0.0), "Direction", "The way it pulls."),
    },
    sentence="Gravity of {strength}",
    act=act,
    handle="arrows",
    amounts=("strength",),
    per_element=frozenset({"strength"}),
    specimen=moving_swarm({"strength": 0.8}, scatter=0.6),
    order=250,
)
