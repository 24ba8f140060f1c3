"""Where something is on the stage over time, and what carries it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.animation.resolve import Prepared
from zygomorph.core.transforms.parents import MatricesAt


@dataclass(frozen=True)
class WorldTransform:
    """The world transform of a piece, marker or camera. Functions take times, (T,) frames, to
    (T, 4, 4).

    own : its own move, turn and scale
    matrices : its place on the stage
    unscaled : its place without its scale, which is what children follow
    parent : from its own move and turn to the stage; the identity where it has no parent
    attached : whether the document gives it a parent
    moves : whether it differs from frame to frame
    jumps : whether it goes from place to place at once
    """

    own: Prepared
    matrices: MatricesAt
    unscaled: MatricesAt
    parent: MatricesAt
    attached: bool
    moves: bool
    jumps: bool

    def at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) its place at a moment, (1,) frames."""
        found: np.ndarray = self.matrices(times)[0]
        return found

    def unscaled_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) its place without its scale at a moment, (1,) frames."""
        found: np.ndarray = self.unscaled(times)[0]
        return found

    def parent_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) from its own move and turn to the stage at a moment, (1,) frames."""
        found: np.ndarray = self.parent(times)[0]
        return found


@dataclass(frozen=True)
class MovingParent:
    """What carries something on the stage.

    motion : from times, (T,) frames, to (T, 4, 4), how it has moved since its child was attached
    """

    motion: MatricesAt
    moves: bool
    jumps: bool
