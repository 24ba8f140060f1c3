"""A piece's place on the stage: move, turn, scale. Applied by the viewer, not to the points."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.resolve import Resolved, is_moving
from zygomorph.core.values import vector

PLACE_VALUES = {
    "move": vector((0.0, 0.0, 0.0), "Move", "Where the piece stands on the stage.", idle=[0.0] * 3),
    "turn": vector(
        (0.0, 0.0, 0.0),
        "Turn",
        "Turned about x, then y, then z.",
        "°",
        (-180.0, 180.0),
        idle=[0.0] * 3,
    ),
    "scale": vector(
        (1.0, 1.0, 1.0), "Scale", "Larger or smaller by axis.", "×", (0.1, 3.0), idle=[1.0] * 3
    ),
}


def rotation(degrees: np.ndarray) -> np.ndarray:
    """(3, 3): turns about x, then y, then z, right-handed."""
    (cx, cy, cz), (sx, sy, sz) = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    about_x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    about_y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    about_z = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    return about_z @ about_y @ about_x


def placement(move: np.ndarray, turn: np.ndarray, scale: np.ndarray) -> np.ndarray:
    """(4, 4) matrix: scale, then turn (°), then move (m)."""
    matrix = np.eye(4)
    matrix[:3, :3] = rotation(turn) * scale[None, :]
    matrix[:3, 3] = move
    return matrix


def matrix_of(values: Resolved) -> np.ndarray:
    """(4, 4) float64 from the piece to the stage, of the values of its place at a moment."""
    return placement(values.vector("move"), values.vector("turn"), values.vector("scale"))


def place_moves(place: Mapping[str, Any]) -> bool:
    return any(is_moving(value) for value in place.values())


def transformed(points: np.ndarray, matrix: np.ndarray) -> np.ndarray:
    """Points carried by a (4, 4) matrix, (P, 3) float32."""
    moved = points @ matrix[:3, :3].T.astype(np.float32) + matrix[:3, 3].astype(np.float32)
    return np.ascontiguousarray(moved, np.float32)
