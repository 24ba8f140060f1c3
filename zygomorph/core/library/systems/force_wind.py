"""Wind: points of a system take on the speeds of a noise without sources and of a steady wind."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.kernels.noise.fractal import curl
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.shared.pattern_values import PATTERN_VALUES, pattern_of
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm, saw
from zygomorph.core.values.value import direction, number

# Of the pattern: how it is folded and sampled does not matter to a flow.
SHAPE = ("size", "evolve", "travel", "octaves", "gain", "lacunarity", "stretch", "pattern_turn")
MORE = ("offset", "travel_axis", "period", "seed")


def act(
    acting: Acting, moving: Moving, values: Resolved, weights: np.ndarray, context: Context
) -> None:
    swirls = curl(moving.places, pattern_of(values, "curl", "sum"))
    steady = unit(values.vector("direction")).astype(np.float32) * values.array("steady")[:, None]
    speeds = swirls * values.array("speed")[:, None] + steady
    acting.wants(speeds, values.array("grip") * weights)


DEFINITION = ForceDefinition(
    key="force_wind",
    title="Force: wind",
    group=FORCES,
    help="Swirls of noise and a steady wind carry the points of a system below.",
    also=("turbulence", "curl noise", "air", "flow", "gust", "storm"),
    values={
        "speed": number(0.5, "Swirls", "The speed of the noise.", "m/s", (0.0, 4.0)),
        "steady": number(
            0.0, "Steady", "The speed of the steady wind.", "m/s", (-4.0, 4.0), idle=0.0
        ),
        "direction": direction((1.0, 0.0, 0.0), "Direction", "Of the steady wind."),
        "grip": number(
            3.0,
            "Grip",
            "How fast points take on the speed of the wind.",
            "per s",
            (0.0, 20.0),
            hard=(0.0, 1e5),
        ),
        **{name: PATTERN_VALUES[name] for name in (*SHAPE, *MORE)},
    },
    sentence="Wind with swirls of {speed}[, {steady} steady]",
    act=act,
    handle="arrows",
    amounts=("speed", "steady"),
    per_element=frozenset({"speed", "steady", "grip"}),
    specimen=moving_swarm({"speed": 0.7, "size": 0.7, "evolve": saw(0, 1)}),
    order=210,
)
