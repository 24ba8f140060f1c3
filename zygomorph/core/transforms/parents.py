"""Parents of mask layers and steps: a piece, a marker, or another layer of the same mask.

What is attached keeps the place it had at that moment, and from then on moves with its parent:
points are measured where they would be had the parent not moved since.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from zygomorph.core.animation.resolve import Prepared
from zygomorph.core.geometry.affine import inverse
from zygomorph.core.kernels.rotation import rotation

# Where a layer is: of the values it may have, the first that is there.
PLACES = ("centre", "position", "middle", "offset")
# From a moment, (1,) frames, to (4, 4); from times, (T,) frames, to (T, 4, 4).
MatrixAt = Callable[[np.ndarray], np.ndarray]
MatricesAt = Callable[[np.ndarray], np.ndarray]
# From a moment, the piece's world transform, and whether the result is in stage coordinates
# (otherwise in those of the piece), to (4, 4).
LocalAt = Callable[[np.ndarray, np.ndarray, bool], np.ndarray]


@dataclass(frozen=True)
class Parent:
    """start : (4, 4) where the parent was when the child was attached
    local : where it is at a moment, (4, 4), in coordinates of the piece or of the stage
    moves : whether that differs from frame to frame
    in_piece : whether it is defined in the piece's own coordinates, or else on the stage
    world : its world transform, where it is defined on the stage
    """

    start: np.ndarray
    local: LocalAt
    moves: bool
    in_piece: bool
    world: MatricesAt | None = None

    def motion(self, times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        """(4, 4) how it has moved since the child was attached."""
        moved: np.ndarray = self.local(times, place, in_space) @ inverse(self.start)
        return moved

    def to_stage(self, times: np.ndarray, places: np.ndarray, in_space: bool) -> np.ndarray:
        """(T, 4, 4) from the coordinates in which the child has its values to the stage, where
        they are seen and dragged.

        places : (T, 4, 4) the piece's world transform
        """
        if self.world is not None:
            # The piece's own transform cancels out.
            moved: np.ndarray = self.world(times) @ inverse(self.start)
            return moved
        found = []
        for k, place in enumerate(places):
            motion = self.motion(times[k : k + 1], place, in_space)
            found.append(motion if in_space else place @ motion)
        return np.stack(found)

    def undone(self, times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        """(4, 4) that takes points to where they would be had the parent not moved.

        place : (4, 4) from the piece to the stage
        in_space : whether the points are in stage coordinates
        """
        return inverse(self.motion(times, place, in_space))


def on_the_stage(at: MatrixAt) -> LocalAt:
    """A place on the stage, such as that of a piece."""

    def local(times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        return at(times) if in_space else inverse(place) @ at(times)

    return local


def by_a_layer(at: MatrixAt, itself_in_space: bool, above: Parent | None) -> LocalAt:
    """The place of a layer, which may have a parent in turn."""

    def local(times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        now = at(times)
        if above is not None:
            now = above.motion(times, place, itself_in_space) @ now
        if in_space == itself_in_space:
            return now
        return place @ now if in_space else inverse(place) @ now

    return local


def layer_place(own: Prepared) -> MatrixAt:
    """Where a layer is by its own values, as a function of time."""

    def at(times: np.ndarray) -> np.ndarray:
        values = own.at(times)
        matrix = np.eye(4)
        name = next((n for n in PLACES if n in values.numbers), None)
        if name is not None:
            matrix[:3, 3] = values.vector(name)
        if "turn" in values.numbers and values.numbers["turn"].ndim == 2:
            matrix[:3, :3] = rotation(values.vector("turn"))
        return matrix

    return at
