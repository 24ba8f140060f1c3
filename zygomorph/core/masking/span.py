"""A measure between two ends as a weight."""

from __future__ import annotations

import numpy as np

# Ends that are nearer to one another than this are one, metres or degrees.
LEAST = 1e-6


def between(measured: np.ndarray, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """0 at ``low`` and 1 at ``high``, which may be the lower one; not yet limited to 0 to 1.

    measured : (P,) float32; low, high : (1,) or (P,) float32 in the same unit
    """
    span = high - low
    found: np.ndarray = (measured - low) / np.where(np.abs(span) < LEAST, np.float32(LEAST), span)
    return found
