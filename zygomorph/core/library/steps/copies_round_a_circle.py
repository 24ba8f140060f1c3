"""Copies round a circle, or on a helix where each stands higher than the one before."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.placements import COPY_BYTES
from zygomorph.core.shared.copy_places import placed, upright
from zygomorph.core.transforms.axis_frame import spine_rows
from zygomorph.core.values.copy_values import UNEVEN_VALUES
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.grips import beside
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import choice, direction, number, whole


def apply(geometry: Geometry, values: Resolved, context: Context) -> np.ndarray:
    count = values.count("count")
    within_budget(count, COPY_BYTES, unit="copies", hint="Make fewer of them")
    sweep = values.scalar("sweep")
    # Round the whole circle the last stands before the first, else at the end.
    whole_round = abs(sweep) % 360 < 1e-9 and sweep != 0
    steps = count if whole_round else max(count - 1, 1)
    k = np.arange(count)
    degrees = values.scalar("begin") + sweep * k / steps
    angle = np.radians(degrees)
    side, axis, beyond = spine_rows(tuple(values.vector("axis").tolist())).astype(np.float64)
    # A quarter turn on, right-handed about the axis.
    other = -beyond
    outwards = np.cos(angle)[:, None] * side + np.sin(angle)[:, None] * other
    ahead = -np.sin(angle)[:, None] * side + np.cos(angle)[:, None] * other
    rise = values.scalar("rise") * (degrees - values.scalar("begin")) / 360
    places = values.scalar("radius") * outwards + rise[:, None] * axis
    way = values.discrete("facing")
    linear = None
    if way == "out":
        linear = upright(outwards, ahead)
    elif way == "round":
        linear = upright(np.broadcast_to(axis, outwards.shape), outwards)
    return placed(places, linear, k, values)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """A few, as wide as they need to stand beside each other, so that they stay in view."""
    if len(mesh.points) == 0:
        return {}
    width = float(np.ptp(mesh.points, axis=0).max())
    return {"count": 6, "radius": round(max(width * 0.75, 0.01), 3)}


DEFINITION = CopiesDefinition(
    key="round",
    title="Copies round a circle",
    group=REPEAT,
    help="Copies evenly round a circle or a part of it; a mask makes them smaller.",
    also=("array", "radial", "ring", "polar", "helix", "wheel", "petals", "instances"),
    values={
        "count": whole(
            12, "Copies", "How many there are.", (1, 100), hard=(1, 1_000_000), scale="log"
        ),
        "radius": number(1.0, "Radius", "From the axis to the copies.", "m", (0.0, 3.0)),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "What the circle goes round."),
        "facing": choice(
            "round",
            "Facing",
            "How each copy stands.",
            {
                "round": "turned round the axis",
                "out": "its top outwards",
                "same": "as the first one",
            },
        ),
        "begin": number(
            0.0, "Begins at", "Where the first stands.", "°", (-180.0, 180.0), period=360.0
        ),
        "sweep": number(
            360.0, "Sweep", "How far round they reach; several turns wind on.", "°", (0.0, 1080.0)
        ),
        "rise": number(
            0.0, "Rise", "How much higher after a turn.", "m", (-1.0, 1.0), idle=0.0, main=False
        ),
        **UNEVEN_VALUES,
    },
    sentence="Circle of {count}, radius {radius}[, rising {rise} a turn][, sizes from {smallest}]",
    apply=apply,
    suggest=suggest,
    acts_on=lambda mesh: len(mesh.points) > 0,
    handle="arrows",
    grips=(beside("radius", "axis"),),
    specimen=Specimen(
        ("box", {"size": [0.16, 0.5, 0.1]}),
        {"count": 16, "radius": 0.62, "facing": "round", "begin": saw(0.0, 360.0)},
    ),
    order=30,
)
