"""Places that were clicked on a surface, as arrays."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np


def clicked_places(stored: Sequence[Mapping[str, Any]]) -> tuple[np.ndarray, np.ndarray]:
    """Where each is, (K, 3) float64 metres, and its normal, (K, 3) units; upwards where it has
    none.

    stored : the places as a document has them
    """
    at = np.array([place["at"] for place in stored], np.float64).reshape(-1, 3)
    normals = np.array([place["normal"] for place in stored], np.float64).reshape(-1, 3)
    length = np.linalg.norm(normals, axis=1, keepdims=True)
    up = np.array([0.0, 1.0, 0.0])
    return at, np.where(length > 1e-12, normals / np.maximum(length, 1e-12), up)
