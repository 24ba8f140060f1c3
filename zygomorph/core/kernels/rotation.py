"""Rotation matrices of turns about the axes."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation


def rotation(degrees: np.ndarray) -> np.ndarray:
    """(3, 3), or (T, 3, 3) for (T, 3): turns about x, then y, then z, right-handed."""
    matrix: np.ndarray = Rotation.from_euler("xyz", degrees, degrees=True).as_matrix()
    return matrix
