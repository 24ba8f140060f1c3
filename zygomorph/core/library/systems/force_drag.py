"""Drag: points of a system lose speed, some more than others."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm
from zygomorph.core.values.value import SEED, number


def act(
    acting: Acting, moving: Moving, values: Resolved, weights: np.ndarray, context: Context
) -> None:
    low, high = values.array("least"), values.array("most")
    share = by_chance(values.count("seed"), moving.mesh.ids("point")).astype(np.float32)
    rate = (low + (high - low) * share) * weights
    acting.wants(np.zeros_like(moving.speeds), np.asarray(rate, np.float32))


DEFINITION = ForceDefinition(
    key="force_drag",
    title="Force: drag",
    group=FORCES,
    help="Slows the points of a system below, each by its own share between two.",
    also=("friction", "air", "damping", "slow down", "resistance"),
    values={
        "least": number(0.5, "Least", "Speed lost.", "per s", (0.0, 10.0), hard=(0.0, 1e5)),
        "most": number(1.5, "Most", "Speed lost.", "per s", (0.0, 10.0), hard=(0.0, 1e5)),
        "seed": SEED,
    },
    sentence="Drag from {least} to {most}",
    act=act,
    amounts=("least", "most"),
    per_element=frozenset({"least", "most"}),
    specimen=moving_swarm({"least": 1.0, "most": 6.0}, leaves=1.0, born="surface"),
    order=240,
)
