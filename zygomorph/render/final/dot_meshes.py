"""Loose points as triangles: balls, or polygons that face the viewer.

Triangles are intersected exactly, however small. Mitsuba's analytic ellipsoids are not: they are
missed, or hit beside them, when they measure a thousandth of their distance.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zygomorph.core.geometry.icosphere import unit_icosphere
from zygomorph.render.final.things import Dots

# Halvings of the icosahedron for balls of at most so many sides.
HALVINGS = ((6, 1), (16, 2), (32, 3))
FINEST = 4

Triangles = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]


def dot_mesh(dots: Dots) -> Triangles:
    """All dots as one mesh. Each covers the area of a disc of its radius, however few its sides.

    Returns points (P, 3) and unit normals (P, 3) float32, triangles (T, 3) uint32, and for each
    triangle the number of its dot, (T,).
    """
    shape, normals, triangles = (
        _ball(dots.sides) if dots.axes is None else _polygon(dots.sides, dots.axes)
    )
    count, corners = len(dots.centres), len(shape)
    points = dots.centres[:, None] + dots.radii[:, None, None] * shape
    numbers = triangles + np.uint32(corners) * np.arange(count, dtype=np.uint32)[:, None, None]
    return (
        points.reshape(-1, 3).astype(np.float32),
        np.tile(normals, (count, 1)),
        numbers.reshape(-1, 3),
        np.repeat(np.arange(count, dtype=np.uint32), len(triangles)),
    )


@lru_cache(maxsize=8)
def _ball(sides: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """An icosphere whose mean outline has the area of a unit disc: a quarter of its surface is that
    of a unit ball (A. Cauchy, 1832: the mean shadow of a convex body is a quarter of its surface).
    """
    mesh = unit_icosphere(next((own for most, own in HALVINGS if sides <= most), FINEST))
    triangles = mesh.topology.drawn_triangles.astype(np.uint32)
    a, b, c = np.moveaxis(mesh.points.astype(np.float64)[triangles], 1, 0)
    surface = np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2
    size = np.sqrt(4 * np.pi / surface)
    return (mesh.points * size).astype(np.float32), mesh.points.astype(np.float32), triangles


def _polygon(sides: int, axes: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A regular polygon with the area of a unit disc; one of four sides stands upright."""
    angle = (np.arange(sides) + 0.5) * (2 * np.pi / sides)
    size = np.sqrt(2 * np.pi / (sides * np.sin(2 * np.pi / sides)))
    corners = size * (np.cos(angle)[:, None] * axes[:, 0] + np.sin(angle)[:, None] * axes[:, 1])
    later = np.arange(1, sides - 1, dtype=np.uint32)
    triangles = np.stack([np.zeros_like(later), later, later + 1], axis=1)
    normals = np.tile(axes[:, 2].astype(np.float32), (sides, 1))
    return corners.astype(np.float32), normals, triangles
