"""Copies in a row: each a step further than the one before, turned and sized a little more."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.affine import placement
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.placements import COPY_BYTES
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, switch, vector, whole

# From one copy to the next a size may not grow so far that the last is beyond all numbers.
LARGEST = 1e6


def powers(matrix: np.ndarray, count: int) -> np.ndarray:
    """(count, 4, 4): the powers 0, 1, 2, … of a (4, 4) matrix, by doubling."""
    found = np.eye(4)[None]
    while len(found) < count:
        found = np.concatenate([found, found @ (found[-1] @ matrix)])
    return found[:count]


def in_a_line(count: int, move: np.ndarray, turn: np.ndarray, size: float) -> np.ndarray:
    """(count, 4, 4): each so much further, turned and sized, in the piece's own axes."""
    k = np.arange(count)[:, None]
    sizes = np.clip(float(size) ** k.astype(float), 0, LARGEST)
    return placement(k * move, k * turn, np.repeat(sizes, 3, axis=1))


def apply(geometry: Geometry, values: Resolved, context: Context) -> np.ndarray:
    count = values.count("count")
    within_budget(count, COPY_BYTES, unit="copies", hint="Make fewer of them")
    move, turn, size = values.vector("move"), values.vector("turn"), values.scalar("size") / 100
    if values.discrete("way") == "line":
        made = in_a_line(count, move, turn, size)
    else:
        made = np.clip(powers(placement(move, turn, np.full(3, size)), count), -LARGEST, LARGEST)
    if values.discrete("centred"):
        made[:, :3, 3] -= made[:, :3, 3].mean(axis=0)
    return made[:, :3]


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Side by side, with a gap between."""
    if len(mesh.points) == 0:
        return {}
    width = float(np.ptp(mesh.points[:, 0]))
    return {"move": [round(max(width * 1.15, 0.01), 3), 0.0, 0.0]}


DEFINITION = CopiesDefinition(
    key="row",
    title="Copies in a row",
    group=REPEAT,
    help="Copies one after the other; a mask makes them smaller, down to nothing.",
    also=("array", "repeat", "duplicate", "instances", "clone", "line"),
    values={
        "count": whole(
            5, "Copies", "How many there are.", (1, 100), hard=(1, 1_000_000), scale="log"
        ),
        "move": vector((0.5, 0.0, 0.0), "Move", "From each copy to the next."),
        "turn": vector(
            (0.0, 0.0, 0.0),
            "Turn",
            "From each copy to the next, about x, then y, then z.",
            "°",
            (-180.0, 180.0),
            idle=[0.0] * 3,
            period=360.0,
        ),
        "size": number(
            100.0,
            "Size",
            "Of each copy against the one before.",
            "%",
            (50.0, 150.0),
            hard=(0.0, 1000.0),
            idle=100.0,
        ),
        "way": choice(
            "line",
            "Way",
            "In a straight line, or each as seen from the one before, so that turns wind the row.",
            {"line": "in a line", "chain": "each from the one before"},
        ),
        "centred": switch(True, "Centred", "The middle of the row is where the piece is."),
    },
    sentence="Row of {count}, {move} apart[, turned {turn}][, each {size} of the one before]",
    apply=apply,
    suggest=suggest,
    acts_on=lambda mesh: len(mesh.points) > 0,
    grips=(spot("move"),),
    specimen=Specimen(
        ("box", {"size": [0.34, 0.34, 0.34]}),
        {
            "count": 14,
            "move": [0.3, 0.06, 0.0],
            "turn": [0.0, sine(10.0, 34.0), 0.0],
            "size": 94.0,
            "way": "chain",
        },
    ),
    order=10,
)
