"""How thick a solid is at places of its surface."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.geometry.surface_search import search_of

# Where a ray starts below the surface, as a share of the size.
BELOW = 1e-5


def thicknesses(mesh: Mesh, most: int = 600) -> np.ndarray:
    """(n,) metres from evenly chosen faces straight through to the other side."""
    topology = mesh.topology
    triangles = topology.triangles(mesh.points)
    if len(triangles) == 0:
        return np.zeros(0)
    chosen = np.unique(np.linspace(0, topology.face_count - 1, most).astype(int))
    areas = face_vector_areas(mesh)[chosen].astype(np.float64)
    length = np.linalg.norm(areas, axis=1)
    chosen, areas, length = chosen[length > 0], areas[length > 0], length[length > 0]
    starts = topology.face_starts[chosen]
    corners = np.stack([topology.corners[starts + k] for k in range(3)], axis=1)
    middle = mesh.points.astype(np.float64)[corners].mean(axis=1)
    ways = -areas / length[:, None]
    size = float(np.ptp(mesh.points, axis=0).max())
    away, face = search_of(mesh.points, triangles).cast(middle + BELOW * size * ways, ways)
    found: np.ndarray = away[face >= 0]
    return found
