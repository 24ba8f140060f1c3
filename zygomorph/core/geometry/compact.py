"""Points that no face and no curve uses any more are left out."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.topology import Topology


def used_points(topology: Topology, corners: np.ndarray, count: int) -> np.ndarray:
    """(count,) bool: points that new faces use, or that had no face before either.

    corners : of the new faces; count : of points, the old ones first
    """
    used = np.zeros(count, bool)
    used[: topology.point_count] = True
    used[topology.corners] = False
    used[topology.curve_points] = True
    used[corners] = True
    return used


def renumbered(used: np.ndarray) -> np.ndarray:
    """(count,) int: the new number of each point that stays."""
    return np.cumsum(used) - 1
