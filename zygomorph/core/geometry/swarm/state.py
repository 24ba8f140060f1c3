"""A swarm at a whole frame."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class SwarmState:
    """places, speeds : (K, 3) float32, metres and m/s
    born : (K, 3) float32, where each was born
    age : (K,) float32 seconds, below 0 of those that are not born yet
    generation : (K,) int64, how often each was born before
    held : (K,) bool, those that stay where they are
    trail : (n, K, 3) float32, where they were at the frames before, the last first
    """

    places: np.ndarray
    speeds: np.ndarray
    born: np.ndarray
    age: np.ndarray
    generation: np.ndarray
    held: np.ndarray
    trail: np.ndarray

    @property
    def alive(self) -> np.ndarray:
        """(K,) bool"""
        found: np.ndarray = self.age >= 0
        return found
