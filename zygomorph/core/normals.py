"""Normals of faces and points.

A face's normal is Newell's vector area, so quads and larger polygons shade alike on both sides
of whatever diagonal they are drawn with; a point's normal is the sum over its faces, weighted by
area. (M. Newell in Sutherland, Sproull & Schumacker 1974; from memory.)
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.compiled import F2, F2W, I1, kernel
from zygomorph.core.mesh import Mesh


@kernel(types.void(F2, I1, I1, F2W))
def _vector_areas(points, corners, starts, out):  # type: ignore[no-untyped-def]
    for face in prange(out.shape[0]):
        # Unsigned: a signed index might be negative for all the compiler knows.
        lo = uint32(starts[face])
        hi = uint32(starts[face + uint32(1)])
        nx = float32(0.0)
        ny = float32(0.0)
        nz = float32(0.0)
        if hi >= lo + uint32(3):
            # Relative to the first corner, so that small faces far from the origin keep digits.
            o = uint32(corners[lo])
            ox, oy, oz = points[o, 0], points[o, 1], points[o, 2]
            b = uint32(corners[lo + uint32(1)])
            bx, by, bz = points[b, 0] - ox, points[b, 1] - oy, points[b, 2] - oz
            for k in range(lo + uint32(2), hi):
                c = uint32(corners[k])
                cx, cy, cz = points[c, 0] - ox, points[c, 1] - oy, points[c, 2] - oz
                nx += by * cz - bz * cy
                ny += bz * cx - bx * cz
                nz += bx * cy - by * cx
                bx, by, bz = cx, cy, cz
        out[face, 0] = nx
        out[face, 1] = ny
        out[face, 2] = nz


@kernel(types.void(F2, I1, I1, F2W))
def _sum_around(areas, starts, faces, out):  # type: ignore[no-untyped-def]
    for point in prange(out.shape[0]):
        nx = float32(0.0)
        ny = float32(0.0)
        nz = float32(0.0)
        for k in range(uint32(starts[point]), uint32(starts[point + uint32(1)])):
            f = uint32(faces[k])
            nx += areas[f, 0]
            ny += areas[f, 1]
            nz += areas[f, 2]
        length = np.sqrt(nx * nx + ny * ny + nz * nz)
        if length > float32(1e-30):
            scale = float32(1.0) / length
            out[point, 0] = nx * scale
            out[point, 1] = ny * scale
            out[point, 2] = nz * scale
        else:
            out[point, 0] = float32(0.0)
            out[point, 1] = float32(1.0)
            out[point, 2] = float32(0.0)


def face_vector_areas(mesh: Mesh) -> np.ndarray:
    """(F, 3) float32: twice each face's area times its unit normal, m²."""
    out = np.empty((mesh.topology.face_count, 3), np.float32)
    _vector_areas(mesh.points, mesh.topology.corners, mesh.topology.face_starts, out)
    return out


def point_normals(mesh: Mesh) -> np.ndarray:
    """(P, 3) float32 unit normals; points without a face get the up direction.

    Found once and kept with the mesh, so that a mesh from the static head of a recipe does not
    have its normals computed again at every frame.
    """
    kept = mesh.__dict__.get("_normals")
    if kept is None:
        kept = np.empty((len(mesh.points), 3), np.float32)
        starts, faces = mesh.topology.point_faces
        _sum_around(face_vector_areas(mesh), starts, faces, kept)
        mesh.__dict__["_normals"] = kept
    return kept
