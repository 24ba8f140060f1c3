"""Soft balls as steps and layers have them: what they melt by, and which points are balls."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.balls.balls import Balls
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import BALL_RADIUS, BALL_STRENGTH, SIZE, Mesh
from zygomorph.core.values.value import Value, choice, number

MELTING: dict[str, Value] = {
    "threshold": number(
        40.0,
        "Threshold",
        "Of the field in the middle of a ball: lower, balls melt together from farther away. A "
        "ball alone keeps its radius.",
        "%",
        (10.0, 80.0),
        hard=(1.0, 98.0),
    ),
    "falloff": choice(
        "soft_objects",
        "Falloff",
        "How the field of a ball falls off: by Wyvill’s soft objects, round, or as metaballs do, "
        "with a sharper middle.",
        {"soft_objects": "soft objects", "metaballs": "metaballs"},
        main=False,
    ),
}

RADIUS: Value = number(
    0.2,
    "Radius",
    "Of each ball; balls that come with radii of their own keep these.",
    "m",
    (0.01, 1.0),
    scale="log",
    hard=(0.0, 1e4),
)


def melted(
    centres: np.ndarray, radius: np.ndarray, strength: np.ndarray, values: Resolved
) -> Balls:
    """Balls with the threshold and falloff of the values; arrays of one number or as many as
    there are balls."""
    count = len(centres)

    def each(array: np.ndarray) -> np.ndarray:
        full = np.broadcast_to(np.asarray(array, np.float32), (count,))
        return np.ascontiguousarray(full)

    return Balls(
        np.ascontiguousarray(centres, np.float32),
        np.maximum(each(radius), 0),
        each(strength),
        values.discrete("falloff"),
        values.scalar("threshold") / 100,
    )


def balls_of(mesh: Mesh, radius: np.ndarray, values: Resolved) -> Balls:
    """The points of a mesh as balls; radius : of those that do not have one themselves, metres"""
    own, strength = mesh.get("point", BALL_RADIUS), mesh.get("point", BALL_STRENGTH)
    size = mesh.get("point", SIZE)
    if own is None:
        own = radius if size is None else radius * size
    one = np.ones(1, np.float32)
    return melted(mesh.points, own, one if strength is None else strength, values)


def as_balls(geometry: Geometry) -> Mesh:
    """The points of a geometry that are balls: its copies, or those of its mesh."""
    return geometry.mesh if geometry.copies is None else geometry.copies.as_points()


def balls_of_other(other: Other, radius: np.ndarray, values: Resolved) -> Balls:
    """The points or copies of another piece as balls, as this one sees them."""
    mesh = as_balls(other.geometry)
    found = balls_of(mesh, radius, values)
    scale = float(np.cbrt(abs(np.linalg.det(other.matrix[:3, :3]))))
    return melted(
        transformed(found.centres, other.matrix), found.radius * scale, found.strength, values
    )
