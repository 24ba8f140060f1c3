"""A soft step whose mean is the share that it is asked for."""

from __future__ import annotations

import numpy as np


def middle_of_ramp(share: np.ndarray, edge: np.ndarray) -> np.ndarray:
    """Where the weight is one half, 0 to 1, so that the weight over 0 to 1 has a given mean.

    The weight falls from 1 to 0 within ``edge`` about the middle; where a part of that lies
    outside 0 to 1 and is cut off, the middle is further in (the area of a cut triangle, derived).

    share, edge : (1,) or (P,) float32, 0 to 1
    """
    edge = np.maximum(edge, np.float32(1e-6))
    half = edge / 2
    begins = np.sqrt(2 * edge * np.maximum(share, 0)) - half
    ends = 1 + half - np.sqrt(2 * edge * np.maximum(1 - share, 0))
    found = np.where(share < half, begins, np.where(share > 1 - half, ends, share))
    return found.astype(np.float32)


def ramp(place: np.ndarray, share: np.ndarray, edge: np.ndarray) -> np.ndarray:
    """The weight at places from 0 to 1, (P,) float32; not yet limited to 0 to 1."""
    edge = np.maximum(edge, np.float32(1e-6))
    return np.float32(0.5) + (middle_of_ramp(share, edge) - place) / edge
