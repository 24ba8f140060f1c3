"""What a layer remembers: once reached it stays, fades, or spreads along the surface.

Memory goes from whole frame to whole frame; between two frames what it gives goes on from the
earlier one. What is remembered is the layer's weight after its profile, before its strength.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.geodesic import march
from zygomorph.core.geometry.mesh import Mesh

# From this weight on a point is reached, and spreads.
REACHED = 0.5


@dataclass(frozen=True)
class Memory:
    """How one layer remembers; its values do not move.

    begins : the first frame of which it knows
    rate : frames a second
    """

    way: str
    fade: int
    speed: float
    rim: float
    begins: int
    rate: float

    def advance(
        self, state: np.ndarray | None, frame: int, weights: np.ndarray, mesh: Mesh
    ) -> np.ndarray:
        """The state at a whole frame, from that at the frame before.

        state : None before the first frame; of what stays or fades (P,) float32 weights, of what
            spreads (P,) float64 frames at which each point is reached
        weights : (P,) the layer's weight at this frame
        """
        if state is not None and len(state) != len(weights):
            raise ZygomorphError(
                f"A mask layer remembers {len(state):,} points, and at frame {frame} there are "
                f"{len(weights):,}.",
                "Let the form's counts stand still, or let the layer remember nothing.",
            )
        if self.way == "spreads":
            return self._spread(state, frame, weights, mesh)
        if state is None:
            return weights
        fallen = np.float32(0) if self.way == "stays" else np.float32(1 / self.fade)
        return np.maximum(weights, state - fallen)

    def emit(self, state: np.ndarray | None, frame: float, weights: np.ndarray) -> np.ndarray:
        """The remembered weight at a frame, from the state at the whole frame before it."""
        if state is None:
            return weights
        if len(state) != len(weights):
            return weights
        if self.way == "spreads":
            ways = (frame - state) * (self.speed / self.rate / self.rim)
            return np.maximum(weights, np.clip(ways, 0, 1).astype(np.float32))
        since = np.float32(0 if self.way == "stays" else (frame - np.floor(frame)) / self.fade)
        return np.maximum(weights, state - since)

    def _spread(
        self, state: np.ndarray | None, frame: int, weights: np.ndarray, mesh: Mesh
    ) -> np.ndarray:
        arrival = np.full(len(weights), np.inf) if state is None else state
        seeds = np.flatnonzero((weights >= REACHED) & (arrival > frame))
        if len(seeds) == 0:
            return arrival
        found = arrival.copy()
        found[seeds] = frame
        a_frame = self.speed / self.rate
        if a_frame <= 0:
            return found
        return march(mesh.topology, mesh.rest, seeds, found * a_frame, lines=True) / a_frame
