"""Loose points as squares that face the eye."""

from __future__ import annotations

import numpy as np

CORNERS = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
HALVES = np.array([[0, 1, 2], [0, 2, 3]])


def facing_squares(
    points: np.ndarray, radii: np.ndarray, axes: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """A square about each point, with upright sides.

    points : (P, 3) metres; radii : (P,) metres, half of a side
    axes : (3, 3) columns: to the right, upwards, and towards the eye

    Returns points (4 P, 3), normals, triangles (2 P, 3), and for each corner of the squares its
    point among those given.
    """
    way = CORNERS @ axes[:, :2].T
    corners = points[:, None] + radii[:, None, None] * way
    triangles = 4 * np.arange(len(points))[:, None, None] + HALVES
    normals = np.broadcast_to(axes[:, 2].astype(np.float32), (4 * len(points), 3))
    return (
        corners.reshape(-1, 3).astype(np.float32),
        np.ascontiguousarray(normals),
        triangles.reshape(-1, 3).astype(np.uint32),
        np.repeat(np.arange(len(points)), 4),
    )
