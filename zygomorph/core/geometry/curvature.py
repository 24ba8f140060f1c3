"""Mean curvature at the points of a surface, and the bend of curves.

Half the length of the Laplacian of position, with cotangent weights over each point's share of the
area: M. Meyer, M. Desbrun, P. Schröder & A. Barr, "Discrete Differential-Geometry Operators for
Triangulated 2-Manifolds", 2003.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals

TINY = 1e-20


def _shares(
    triangles: np.ndarray,
    cotangents: list[np.ndarray],
    squares: list[np.ndarray],
    double: np.ndarray,
    count: int,
) -> np.ndarray:
    """(P,) each point's part of the area: its Voronoi cell, or, of an obtuse triangle, half of it
    at the obtuse corner and a quarter at each other one (Meyer et al., section 3.3)."""
    obtuse = [c < 0 for c in cotangents]
    any_obtuse = obtuse[0] | obtuse[1] | obtuse[2]
    shares = np.zeros(count)
    for k in range(3):
        a, b = (k + 1) % 3, (k + 2) % 3
        cell = (squares[a] * cotangents[a] + squares[b] * cotangents[b]) / 8
        part = np.where(any_obtuse, np.where(obtuse[k], double / 4, double / 8), cell)
        shares += np.bincount(triangles[:, k], part, count)
    return shares


def _of_triangles(mesh: Mesh, triangles: np.ndarray) -> np.ndarray:
    count = len(mesh.points)
    points = mesh.points.astype(np.float64)
    corner = points[triangles]
    sums = np.zeros((count, 3))
    double = np.linalg.norm(
        np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1
    )
    sides = [corner[:, (k + 2) % 3] - corner[:, (k + 1) % 3] for k in range(3)]
    squares = [np.einsum("ij,ij->i", side, side) for side in sides]
    cotangents = [
        -np.einsum("ij,ij->i", sides[(k + 1) % 3], sides[(k + 2) % 3]) / np.maximum(double, TINY)
        for k in range(3)
    ]
    shares = _shares(triangles, cotangents, squares, double, count)
    for k in range(3):
        a, b = (k + 1) % 3, (k + 2) % 3
        pull = cotangents[k][:, None] * sides[k]
        for axis in range(3):
            sums[:, axis] += np.bincount(triangles[:, a], pull[:, axis], count)
            sums[:, axis] -= np.bincount(triangles[:, b], pull[:, axis], count)
    # The Laplacian is the sum over twice the area, and its length twice the mean curvature.
    bend = -np.einsum("ij,ij->i", sums, point_normals(mesh)) / np.maximum(4 * shares, TINY)
    return np.where(shares > TINY, bend, 0.0)


def _of_curves(mesh: Mesh) -> np.ndarray:
    """One over the radius of the circle through each point of a curve and its neighbours."""
    found = np.zeros(len(mesh.points))
    segments = mesh.topology.curve_segments
    before = np.full(len(mesh.points), -1)
    after = np.full(len(mesh.points), -1)
    after[segments[:, 0]], before[segments[:, 1]] = segments[:, 1], segments[:, 0]
    inner = np.flatnonzero((before >= 0) & (after >= 0))
    points = mesh.points.astype(np.float64)
    a, b, c = points[before[inner]], points[inner], points[after[inner]]
    double_area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    sides = [np.linalg.norm(p - q, axis=1) for p, q in ((a, b), (b, c), (a, c))]
    found[inner] = 2 * double_area / np.maximum(sides[0] * sides[1] * sides[2], TINY)
    return found


def mean_curvature(mesh: Mesh) -> np.ndarray:
    """(P,) float64, 1/m: above 0 where the surface bulges outwards, below 0 where it is hollow;
    of curves how far they bend; 0 at a border, where half of the surface is missing."""
    triangles = mesh.topology.triangles(mesh.points).reshape(-1, 3)
    found = _of_triangles(mesh, triangles) if len(triangles) else np.zeros(len(mesh.points))
    if mesh.topology.curve_count:
        bent = _of_curves(mesh)
        found = np.where(bent > 0, bent, found)
    elif mesh.topology.face_count:
        found[mesh.topology.border] = 0
    return found
