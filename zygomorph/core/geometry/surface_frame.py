"""A frame of reference that sticks to one point of a surface."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.mesh import Mesh
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


def surface_frame(mesh: Mesh, at_rest: np.ndarray) -> np.ndarray | None:
    """(4, 4) where the point of the surface is now that lies nearest to a place on the rest shape:
    its origin there, its second axis along the normal, its first along a side of the triangle.

    None where there is no surface. Where the topology is the same, so is the triangle.
    """
    triangles = mesh.topology.drawn_triangles
    if not len(triangles):
        return None
    rest = mesh.rest
    # The rest shape is kept beside what was found, so that its address is not another's meanwhile.
    key = ("anchor at rest", at_rest.tobytes(), id(rest))
    _, corners, shares = mesh.topology.derived(
        key, lambda: (rest, *_found(rest, triangles, at_rest))
    )
    now = mesh.points[corners].astype(np.float64)
    along = unit(now[1] - now[0])
    normal = unit(np.cross(along, now[2] - now[0]))
    frame = np.eye(4)
    frame[:3, 0], frame[:3, 1], frame[:3, 2] = along, normal, np.cross(along, normal)
    frame[:3, 3] = shares @ now
    return frame


def _found(
    rest: np.ndarray, triangles: np.ndarray, place: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    found, _, face = search_of(rest, triangles).nearest(place[None])
    corners = triangles[face[0]]
    return corners, _shares(rest[corners].astype(np.float64), found[0])


def _shares(corners: np.ndarray, place: np.ndarray) -> np.ndarray:
    """(3,) barycentric coordinates of a place on a triangle, (3, 3)."""
    sides = np.stack([corners[1] - corners[0], corners[2] - corners[0]], axis=1)
    two, *_ = np.linalg.lstsq(sides, place - corners[0], rcond=None)
    found: np.ndarray = np.array([1 - two.sum(), *two])
    return found
