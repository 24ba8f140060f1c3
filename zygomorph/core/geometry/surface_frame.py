"""A frame of reference that sticks to one place of a surface."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.surface_motion import plane_shares, within
from zygomorph.core.geometry.surface_search import search_of


def nearest_at_rest(mesh: Mesh, place: np.ndarray) -> np.ndarray | None:
    """(3,) on the rest shape: the point of the surface that is nearest to a place now; None where
    there is no surface."""
    triangles = mesh.topology.drawn_triangles
    if not len(triangles):
        return None
    found, _, face = search_of(mesh.points, triangles).nearest(place[None])
    corners = triangles[face[0]]
    shares = _shares(mesh.points[corners].astype(np.float64), found[0])
    at_rest: np.ndarray = shares @ mesh.rest[corners].astype(np.float64)
    return at_rest


def surface_frame(mesh: Mesh, at_rest: np.ndarray, smooth: float = 0.0) -> np.ndarray | None:
    """(4, 4) where a surface is now that was at a place on the rest shape: its origin there, its
    second axis along the normal.

    at_rest : (3,) metres; smooth : metres at rest over which the surface is smoothed, 0 for the one
        triangle nearest to the place, along whose side the first axis goes

    None where there is no surface. Where the topology is the same, so are the points that count.
    """
    if not len(mesh.topology.drawn_triangles):
        return None
    rest = mesh.rest
    find = _near_by if smooth > 0 else _triangle
    # The rest shape is kept beside what was found, so that its address is not another's meanwhile.
    key = ("anchor at rest", at_rest.tobytes(), smooth, id(rest))
    _, near = mesh.topology.derived(key, lambda: (rest, find(mesh, at_rest, smooth)))
    now = mesh.points[near.points].astype(np.float64)
    along = unit(near.along @ now)
    normal = unit(np.cross(along, near.aside @ now))
    frame = np.eye(4)
    frame[:3, 0], frame[:3, 1], frame[:3, 2] = along, normal, np.cross(along, normal)
    frame[:3, 3] = near.place @ now
    return frame


@dataclass(frozen=True)
class Near:
    """Which points of a mesh count at a place of its surface, and how: a place and two directions
    along the surface are fixed mixtures of where they are.

    points : (n,) int; place, along, aside : (n,) shares; those of the directions add up to 0
    """

    points: np.ndarray
    place: np.ndarray
    along: np.ndarray
    aside: np.ndarray


def _triangle(mesh: Mesh, place: np.ndarray, smooth: float) -> Near:
    triangles = mesh.topology.drawn_triangles
    found, _, face = search_of(mesh.rest, triangles).nearest(place[None])
    corners = triangles[face[0]]
    shares = _shares(mesh.rest[corners].astype(np.float64), found[0])
    return Near(corners, shares, np.array([-1.0, 1.0, 0.0]), np.array([-1.0, 0.0, 1.0]))


def _near_by(mesh: Mesh, place: np.ndarray, smooth: float) -> Near:
    """A plane fitted to the points within a radius, in two directions along which they spread most
    at rest."""
    tree = cKDTree(mesh.rest)
    near, reach = within(tree, place, smooth)
    away = mesh.rest[near].astype(np.float64) - place
    _, _, axes = np.linalg.svd(away - away.mean(axis=0), full_matrices=False)
    triangle = _triangle(mesh, place, smooth)
    corners = mesh.rest[triangle.points].astype(np.float64)
    normal = np.cross(triangle.along @ corners, triangle.aside @ corners)
    along, aside = axes[0], axes[min(1, len(axes) - 1)]
    if np.cross(along, aside) @ normal < 0:
        aside = -aside
    return Near(near, *plane_shares(away @ np.stack([along, aside], axis=1), reach))


def _shares(corners: np.ndarray, place: np.ndarray) -> np.ndarray:
    """(3,) barycentric coordinates of a place on a triangle, (3, 3)."""
    sides = np.stack([corners[1] - corners[0], corners[2] - corners[0]], axis=1)
    two, *_ = np.linalg.lstsq(sides, place - corners[0], rcond=None)
    found: np.ndarray = np.array([1 - two.sum(), *two])
    return found
