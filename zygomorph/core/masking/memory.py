"""What a layer remembers: once reached it stays, fades, or spreads along the surface.

Memory goes from whole frame to whole frame; between two frames what it gives goes on from the
earlier one. What is remembered is the layer's weight after its profile, before its strength. Where
the points are others at the next frame, what is known goes over to them by where they are at rest.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from zygomorph.core.geometry.geodesic import march
from zygomorph.core.geometry.mesh import Mesh

# From this weight on a point is reached, and spreads.
REACHED = 0.5


@dataclass(frozen=True)
class Remembered:
    """values : (P,) float32 weights of what stays or fades, (P,) float64 frames at which each point
    is reached of what spreads; rest : (P, 3) where these points are at rest"""

    values: np.ndarray
    rest: np.ndarray

    def at(self, mesh: Mesh) -> np.ndarray:
        """The values at the points of a mesh: the same points, or those nearest to them at rest."""
        rest = mesh.rest
        if rest is self.rest or len(rest) == len(self.rest):
            return self.values
        if len(self.rest) == 0:
            return np.zeros(len(rest), self.values.dtype)
        _, nearest = scipy.spatial.cKDTree(self.rest).query(rest)
        found: np.ndarray = self.values[nearest]
        return found


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

    def start(self, frame: int, weights: np.ndarray, mesh: Mesh) -> Remembered:
        """The state at the first frame; weights : (P,) the layer's weight there"""
        if self.way != "spreads":
            return Remembered(weights, mesh.rest)
        return self._spread(np.full(len(weights), np.inf), frame, weights, mesh)

    def advance(
        self, state: Remembered, frame: int, frames: int, weights: np.ndarray, mesh: Mesh
    ) -> Remembered:
        """The state at a whole frame, from that so many frames before; weights : (P,) there"""
        known = state.at(mesh)
        if self.way == "spreads":
            return self._spread(known, frame, weights, mesh)
        fallen = np.float32(0) if self.way == "stays" else np.float32(frames / self.fade)
        return Remembered(np.maximum(weights, known - fallen), mesh.rest)

    def emit(
        self, state: Remembered | None, frame: float, weights: np.ndarray, mesh: Mesh
    ) -> np.ndarray:
        """The remembered weight at a frame, from the state at the whole frame before it."""
        if state is None:
            return weights
        known = state.at(mesh)
        if self.way == "spreads":
            ways = (frame - known) * (self.speed / self.rate / self.rim)
            return np.maximum(weights, np.clip(ways, 0, 1).astype(np.float32))
        since = np.float32(0 if self.way == "stays" else (frame - np.floor(frame)) / self.fade)
        return np.maximum(weights, known - since)

    def _spread(
        self, arrival: np.ndarray, frame: int, weights: np.ndarray, mesh: Mesh
    ) -> Remembered:
        seeds = np.flatnonzero((weights >= REACHED) & (arrival > frame))
        if len(seeds) == 0:
            return Remembered(arrival, mesh.rest)
        found = arrival.copy()
        found[seeds] = frame
        a_frame = self.speed / self.rate
        if a_frame > 0:
            way = march(mesh.topology, mesh.rest, seeds, found * a_frame, lines=True)
            found = way / a_frame
        return Remembered(found, mesh.rest)
