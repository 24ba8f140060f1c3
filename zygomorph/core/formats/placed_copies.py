"""Copies for files: their placements over time as moves, turns and sizes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.geometry import Geometry

CopiesAs = Literal["nodes", "instances"]
# How far from a right angle the axes of a copy may be, as a cosine, before that is told.
SQUARE = 1e-3


@dataclass(frozen=True)
class PlacedCopies:
    """T moments of K copies.

    times : (T,) frames
    move : (T, K, 3) metres
    turn : (T, K, 4) quaternions x y z w, each on the same side as the one before it
    size : (T, K, 3); of a mirrored copy the first is negative
    held : whether each moment lasts until the next
    """

    times: np.ndarray
    move: np.ndarray
    turn: np.ndarray
    size: np.ndarray
    held: bool = False

    @property
    def moves(self) -> bool:
        return any(np.ptp(part, axis=0).any() for part in (self.move, self.turn, self.size))


def taken_apart(placements: np.ndarray, name: str) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Moves (K, 3), quaternions (K, 4) and sizes (K, 3) of placements, (K, 3, 4).

    Raises ZygomorphError where a copy is sheared, which these three cannot say; name : of the piece
    """
    linear = placements[:, :, :3].astype(np.float64)
    size = np.linalg.norm(linear, axis=1)
    whole = (size > 1e-9).all(axis=1)
    axes = np.where(whole[:, None, None], linear / np.maximum(size, 1e-9)[:, None, :], np.eye(3))
    off = axes.transpose(0, 2, 1) @ axes - np.eye(3)
    if np.abs(off).max(initial=0) > SQUARE:
        raise ZygomorphError(
            f"Copies of {name!r} are sheared, which files with copies cannot say.",
            "Let a step act on their points, which writes them out.",
        )
    mirrored = np.linalg.det(axes) < 0
    axes[mirrored, :, 0] *= -1
    size[mirrored, 0] *= -1
    turn = Rotation.from_matrix(axes).as_quat() if len(axes) else np.zeros((0, 4))
    return placements[:, :, 3].astype(np.float64), turn, size


def placed_over_time(
    times: np.ndarray, geometries: Sequence[Geometry], name: str, held: bool
) -> PlacedCopies:
    """The copies of a piece at times; all geometries have as many.

    Raises ZygomorphError where a copy is sheared.
    """
    parts = [taken_apart(g.copies.placements, name) for g in geometries if g.copies is not None]
    move, turn, size = (np.stack([part[k] for part in parts]) for k in range(3))
    for k in range(1, len(turn)):
        flipped = np.einsum("kj,kj->k", turn[k], turn[k - 1]) < 0
        turn[k, flipped] *= -1
    return PlacedCopies(times, move, turn, size, held)
