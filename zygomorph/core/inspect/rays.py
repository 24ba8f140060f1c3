"""Where a ray on the stage, such as a click, meets the surface of a piece."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.solids.pieces import shares_in
from zygomorph.core.geometry.surface_search import FAR, search_of


@dataclass(frozen=True)
class Ray:
    """A click: from the eye, (3,) metres on the stage, along a direction."""

    origin: np.ndarray
    direction: np.ndarray

    def seen_from(self, place: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Its origin, and its direction as a unit, in the space of what stands at a place,
        (4, 4)."""
        back = np.linalg.pinv(place)
        way = back[:3, :3] @ self.direction
        return (back @ np.append(self.origin, 1.0))[:3], way / max(
            float(np.linalg.norm(way)), 1e-12
        )


@dataclass(frozen=True)
class Hit:
    """The triangle of a mesh that a ray meets.

    corners : (3,) of the mesh; shares : (3,) of their points at the place that is met
    points : (3,) those points
    """

    corners: np.ndarray
    points: np.ndarray
    shares: np.ndarray

    def on(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The place, (3,), and the normal there, where the points of the mesh are these, (P, 3)."""
        a, b, c = points[self.points].astype(np.float64)
        normal = np.cross(b - a, c - a)
        return self.shares @ np.stack([a, b, c]), normal / max(np.linalg.norm(normal), 1e-30)


def hit_of(mesh: Mesh, place: np.ndarray, ray: Ray) -> Hit | None:
    """What a ray meets first of a mesh that stands at a place, (4, 4); None where it misses."""
    corners = mesh.topology.triangle_corners(mesh.points)
    if len(corners) == 0 or not np.any(ray.direction):
        return None
    origin, way = ray.seen_from(place)
    triangles = mesh.topology.triangles(mesh.points)
    distance, found = search_of(mesh.points, triangles).cast(origin[None], way[None], FAR)
    if found[0] < 0:
        return None
    own = triangles[found[0]]
    met = (origin + distance[0] * way)[None]
    shares = shares_in(met, mesh.points[own].astype(np.float64)[None])[0]
    return Hit(corners[found[0]], own, shares)
