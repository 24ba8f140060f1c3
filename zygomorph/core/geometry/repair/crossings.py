"""Where a surface goes through itself."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.surface_search import search_of

# An edge is followed from and to so near its ends, as a share of its length: what meets it there
# is joined to it.
CLEAR = 1e-3
# What goes less far beyond a face than this share of the size only touches it.
TOUCHING = 1e-5


def crossing_edges(mesh: Mesh) -> np.ndarray:
    """(n,) numbers of edges that another part of the surface goes through."""
    topology = mesh.topology
    triangles = topology.triangles(mesh.points)
    if len(triangles) == 0:
        return np.zeros(0, np.int64)
    points = mesh.points.astype(np.float64)
    least = TOUCHING * float(np.ptp(points, axis=0).max())
    begin, end = points[topology.edges.T]
    ways = end - begin
    length = np.linalg.norm(ways, axis=1)
    usable = np.flatnonzero(length > 0)
    begin, ways, length = begin[usable], ways[usable] / length[usable, None], length[usable]
    away, face = search_of(mesh.points, triangles).cast(
        begin + CLEAR * length[:, None] * ways, ways
    )
    hit = (face >= 0) & (away < length * (1 - 2 * CLEAR))
    ends = topology.edges[usable]
    # A face that has an end of the edge is joined to it, however flat they lie.
    met = triangles[np.maximum(face, 0)]
    joined = (met[:, :, None] == ends[:, None, :]).any(axis=(1, 2))
    # What only touches, as shards do that have not moved apart, is on one side of the face.
    corners = points[met]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-30)
    sides = np.stack([np.einsum("ij,ij->i", at - corners[:, 0], normal) for at in points[ends.T]])
    through = (sides.min(axis=0) < -least) & (sides.max(axis=0) > least)
    found: np.ndarray = usable[hit & ~joined & through]
    return found
