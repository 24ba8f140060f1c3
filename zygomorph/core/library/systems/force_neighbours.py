"""Neighbours: points of a system keep apart, match the speeds of those near, or gather.

(C. Reynolds, "Flocks, Herds, and Schools: A Distributed Behavioral Model", SIGGRAPH 1987: collision
avoidance, velocity matching, flock centering.)
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.swarm.neighbours import around
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm
from zygomorph.core.values.value import choice, number


def act(
    acting: Acting, moving: Moving, values: Resolved, weights: np.ndarray, context: Context
) -> None:
    rule, strength = values.discrete("rule"), values.array("strength") * weights
    found = around(moving.places, moving.speeds, values.scalar("distance"), rule)
    total, weight = found[:, :3], found[:, 3]
    if rule == "apart":
        acting.pushes(total, strength)
        return
    mean = total / np.maximum(weight, 1)[:, None]
    some = (weight > 0).astype(np.float32)
    if rule == "match":
        acting.wants(mean, strength * some)
    else:
        acting.pushes(mean, strength)


DEFINITION = ForceDefinition(
    key="force_neighbours",
    title="Force: neighbours",
    group=FORCES,
    help="Points of a system below keep apart from those near, take on their speed, or gather "
    "around them.",
    also=("boids", "flock", "keep apart", "separation", "alignment", "cohesion", "school", "crowd"),
    values={
        "rule": choice(
            "apart",
            "They",
            "What they do to each other.",
            {"apart": "keep apart", "match": "match their speeds", "gather": "gather"},
        ),
        "distance": number(
            0.2,
            "Within",
            "Farther ones do not count.",
            "m",
            (0.01, 2.0),
            scale="log",
            hard=(0.0, 1e6),
        ),
        "strength": number(
            4.0,
            "Strength",
            "m/s² where they keep apart, per s where they match, and m/s² for each metre where "
            "they gather.",
            "",
            (0.0, 40.0),
            hard=(0.0, 1e5),
        ),
    },
    sentence="Neighbours within {distance} {rule}",
    act=act,
    amounts=("strength",),
    per_element=frozenset({"strength"}),
    specimen=moving_swarm({"distance": 0.25, "strength": 6.0}, scatter=0.8),
    order=230,
)
