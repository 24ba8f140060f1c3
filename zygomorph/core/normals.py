"""Normals of faces and points.

A face's normal is Newell's vector area, so quads and larger polygons shade alike on both sides
of whatever diagonal they are drawn with; a point's normal is the sum over its faces, weighted by
area. (M. Newell in Sutherland, Sproull & Schumacker 1974; from memory.)
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, F2, F2W, I1, I2, first_of, kernel
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


@kernel(types.void(F2, I2, F2W))
def _triangle_areas(points, corners, out):  # type: ignore[no-untyped-def]
    """The same for triangles, without the search for each face's corners."""
    for face in prange(out.shape[0]):
        o = uint32(corners[face, 0])
        b = uint32(corners[face, 1])
        c = uint32(corners[face, 2])
        ox, oy, oz = points[o, 0], points[o, 1], points[o, 2]
        bx, by, bz = points[b, 0] - ox, points[b, 1] - oy, points[b, 2] - oz
        cx, cy, cz = points[c, 0] - ox, points[c, 1] - oy, points[c, 2] - oz
        out[face, 0] = by * cz - bz * cy
        out[face, 1] = bz * cx - bx * cz
        out[face, 2] = bx * cy - by * cx


@kernel(types.void(F2, I1, I1, F2W))
def _sum_around(areas, starts, faces, out):  # type: ignore[no-untyped-def]
    n = out.shape[0]
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        sx, sy, sz = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            begins = starts[lo : lo + m + 1]
            k = uint32(begins[0])
            for i in range(m):
                nx = float32(0.0)
                ny = float32(0.0)
                nz = float32(0.0)
                end = uint32(begins[i + 1])
                while k < end:
                    f = uint32(faces[k])
                    nx += areas[f, 0]
                    ny += areas[f, 1]
                    nz += areas[f, 2]
                    k += uint32(1)
                sx[i] = nx
                sy[i] = ny
                sz[i] = nz
            # Apart from the sums, so that the roots and divisions become SIMD.
            for i in range(m):
                length = np.sqrt(sx[i] * sx[i] + sy[i] * sy[i] + sz[i] * sz[i])
                found = float32(1.0) if length > float32(1e-30) else float32(0.0)
                scale = found / max(length, float32(1e-30))
                sx[i] = sx[i] * scale
                sy[i] = sy[i] * scale + (float32(1.0) - found)
                sz[i] = sz[i] * scale
            normals = out[lo : lo + m]
            for i in range(m):
                normals[i, 0] = sx[i]
                normals[i, 1] = sy[i]
                normals[i, 2] = sz[i]


def face_vector_areas(mesh: Mesh) -> np.ndarray:
    """(F, 3) float32: twice each face's area times its unit normal, m²."""
    topology = mesh.topology
    out = np.empty((topology.face_count, 3), np.float32)
    if topology.sides == 3:
        _triangle_areas(mesh.points, topology.corners.reshape(-1, 3), out)
    else:
        _vector_areas(mesh.points, topology.corners, topology.face_starts, out)
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
