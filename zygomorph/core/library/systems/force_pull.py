"""Pull: points of a system go towards a place, or to the surface or the points of another piece."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import search_other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import placed, transformed
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm, sine
from zygomorph.core.values.value import choice, number, piece, vector


def _targets(places: np.ndarray, values: Resolved, context: Context) -> np.ndarray:
    """(K, 3) or (1, 3) where points are pulled to."""
    towards = values.discrete("towards")
    if towards == "place":
        centre = values.vector("centre")
        if context.parent_motion is not None:
            centre = placed(centre, context.parent_motion)
        return centre[None].astype(np.float32)
    other = context.other(values.discrete("piece"))
    if towards == "surface":
        found, _, _ = search_other(other, context).nearest(places)
        return found.astype(np.float32)
    points = transformed(other.mesh.points, other.matrix)
    if len(points) == 0:
        raise ZygomorphError(f"“{other.name}” has no points.", "Choose another piece.")
    if towards == "middle":
        return points.mean(axis=0, keepdims=True)
    return points[cKDTree(points).query(places)[1]]


def act(
    acting: Acting, moving: Moving, values: Resolved, weights: np.ndarray, context: Context
) -> None:
    ways = _targets(moving.places, values, context) - moving.places
    far = np.linalg.norm(ways, axis=1)
    near = np.maximum(values.array("arrives"), np.float32(1e-6))
    # As fast as it may be from afar, and slower within the distance at which it arrives.
    goal = values.array("speed") * np.minimum(far / near, 1)
    speeds = ways / np.maximum(far, 1e-9)[:, None] * goal[:, None]
    rate = values.array("strength") * weights
    radius = values.array("radius")
    fades = np.where(radius > 0, np.clip(1 - far / np.maximum(radius, 1e-9), 0, 1), 1)
    acting.wants(speeds.astype(np.float32), (rate * fades).astype(np.float32))


DEFINITION = ForceDefinition(
    key="force_pull",
    title="Force: pull",
    group=FORCES,
    help="Draws the points of a system below towards a place, which may be carried by a marker, or "
    "to another piece.",
    also=("attract", "goal", "chase", "follow", "seek", "target", "magnet", "repel"),
    values={
        "towards": choice(
            "place",
            "Towards",
            "A place, the middle of another piece, the nearest of its points, or its surface.",
            {
                "place": "a place",
                "middle": "the middle of a piece",
                "points": "a piece’s points",
                "surface": "a piece’s surface",
            },
        ),
        "centre": vector(
            (0.0, 0.0, 0.0), "Place", "Where they go.", shown_when=("towards", ("place",))
        ),
        "piece": piece(
            "Piece", "That draws them.", shown_when=("towards", ("middle", "points", "surface"))
        ),
        "speed": number(
            1.0,
            "Speed",
            "With which they come; below 0 they flee.",
            "m/s",
            (-5.0, 5.0),
            hard=(-1e4, 1e4),
        ),
        "strength": number(
            2.0,
            "Strength",
            "How fast they take on that speed.",
            "per s",
            (0.0, 20.0),
            hard=(0.0, 1e5),
        ),
        "arrives": number(
            0.3,
            "Slows within",
            "Nearer than this they become slower, and stop at the target.",
            "m",
            (0.0, 2.0),
            hard=(0.0, 1e6),
        ),
        "radius": number(
            0.0,
            "Reach",
            "Farther than this nothing is drawn; 0 is without a limit.",
            "m",
            (0.0, 5.0),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
    },
    sentence="Pull towards {towards} at {speed}",
    act=act,
    grips=(spot("centre"), reach("radius", X, "centre")),
    amounts=("strength",),
    per_element=frozenset({"speed", "strength", "arrives", "radius"}),
    specimen=moving_swarm(
        {"centre": [sine(-0.6, 0.6), 0, 0], "speed": 1.2, "strength": 1.5}, radius=0.07
    ),
    order=220,
)
