"""Normals of faces and points.

A face's normal is Newell's vector area, so quads and larger polygons shade alike on both sides
of whatever diagonal they are drawn with; a point's normal is the sum over its faces, weighted by
area. (M. Newell in Sutherland, Sproull & Schumacker 1974; from memory.)
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.geometry.grid_normals import grid_normals
from zygomorph.core.geometry.mesh import NORMAL, Mesh
from zygomorph.core.geometry.one_ring import rings
from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F2, F2W, I1, first_of, inline, kernel
from zygomorph.core.kernels.structure_of_arrays import write_units


@kernel(types.void(F2, I1, I1, F2W), first=200)
def _vector_areas(points, corners, starts, out):  # type: ignore[no-untyped-def]
    flat = points.reshape(-1)
    one, two, three = uint32(1), uint32(2), uint32(3)
    for face in prange(out.shape[0]):
        # Unsigned: a signed index might be negative for all the compiler knows.
        lo = uint32(starts[face])
        hi = uint32(starts[face + one])
        nx = float32(0.0)
        ny = float32(0.0)
        nz = float32(0.0)
        if hi >= lo + three:
            # Relative to the first corner, so that small faces far from the origin keep digits.
            o = three * uint32(corners[lo])
            ox, oy, oz = flat[o], flat[o + one], flat[o + two]
            b = three * uint32(corners[lo + one])
            bx, by, bz = flat[b] - ox, flat[b + one] - oy, flat[b + two] - oz
            for k in range(lo + two, hi):
                c = three * uint32(corners[k])
                cx, cy, cz = flat[c] - ox, flat[c + one] - oy, flat[c + two] - oz
                nx += by * cz - bz * cy
                ny += bz * cx - bx * cz
                nz += bx * cy - by * cx
                bx, by, bz = cx, cy, cz
        out[face, 0] = nx
        out[face, 1] = ny
        out[face, 2] = nz


@kernel(types.void(F2, I1, I1, F2W), first=210)
def _sum_around(areas, starts, faces, out):  # type: ignore[no-untyped-def]
    n = out.shape[0]
    flat, flat_out = areas.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        x, y, z = work[0], work[1], work[2]
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
                    f = uint32(3) * uint32(faces[k])
                    nx += flat[f]
                    ny += flat[f + uint32(1)]
                    nz += flat[f + uint32(2)]
                    k += uint32(1)
                x[i], y[i], z[i] = nx, ny, nz
            write_units(x, y, z, lo, m, flat_out)


@inline
def _two_more(flat, ring, k, px, py, pz, ax, ay, az):  # type: ignore[no-untyped-def]
    """Areas of p a b and p b c, and c - p, where b and c are the next two points of the ring.

    ax, ay, az : the point before them, less p. a × b + b × c = b × (c - a).
    """
    b = uint32(3) * uint32(ring[k])
    c = uint32(3) * uint32(ring[k + uint32(1)])
    bx, by, bz = flat[b] - px, flat[b + uint32(1)] - py, flat[b + uint32(2)] - pz
    cx, cy, cz = flat[c] - px, flat[c + uint32(1)] - py, flat[c + uint32(2)] - pz
    ux, uy, uz = cx - ax, cy - ay, cz - az
    return by * uz - bz * uy, bz * ux - bx * uz, bx * uy - by * ux, cx, cy, cz


@kernel(types.void(F2, I1, I1, F2W), first=50)
def _ring_normals(points, starts, ring, out):  # type: ignore[no-untyped-def]
    """Normals of a triangle mesh in one pass; see :mod:`zygomorph.core.geometry.one_ring`."""
    n = out.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    one, two, three = uint32(1), uint32(2), uint32(3)
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        x, y, z = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            begins = starts[lo : lo + m + 1]
            here = flat[3 * lo : 3 * (lo + m)]
            k = uint32(begins[0])
            for i in range(m):
                end = uint32(begins[i + 1])
                px, py, pz = here[3 * i], here[3 * i + 1], here[3 * i + 2]
                nx = float32(0.0)
                ny = float32(0.0)
                nz = float32(0.0)
                # Most points of a regular mesh have six neighbours; written out, without a loop,
                # they take two thirds of the time.
                if end - k == uint32(6):
                    a = three * uint32(ring[k + uint32(5)])
                    ax, ay, az = flat[a] - px, flat[a + one] - py, flat[a + two] - pz
                    ux, uy, uz, bx, by, bz = _two_more(flat, ring, k, px, py, pz, ax, ay, az)
                    k += two
                    vx, vy, vz, cx, cy, cz = _two_more(flat, ring, k, px, py, pz, bx, by, bz)
                    k += two
                    wx, wy, wz, _, _, _ = _two_more(flat, ring, k, px, py, pz, cx, cy, cz)
                    k += two
                    nx, ny, nz = ux + vx + wx, uy + vy + wy, uz + vz + wz
                elif end > k:
                    a = three * uint32(ring[end - one])
                    ax, ay, az = flat[a] - px, flat[a + one] - py, flat[a + two] - pz
                    while k < end:
                        b = three * uint32(ring[k])
                        bx, by, bz = flat[b] - px, flat[b + one] - py, flat[b + two] - pz
                        nx += ay * bz - az * by
                        ny += az * bx - ax * bz
                        nz += ax * by - ay * bx
                        ax, ay, az = bx, by, bz
                        k += one
                x[i], y[i], z[i] = nx, ny, nz
            write_units(x, y, z, lo, m, flat_out)


def face_vector_areas(mesh: Mesh) -> np.ndarray:
    """(F, 3) float32: twice each face's area times its unit normal, m²."""
    topology = mesh.topology
    out = np.empty((topology.face_count, 3), np.float32)
    _vector_areas(mesh.points, topology.corners, topology.face_starts, out)
    return out


def point_normals(mesh: Mesh) -> np.ndarray:
    """(P, 3) float32 unit normals; points without a face get the one that is known of
    them, or else the up direction.

    Found once and kept with the mesh, so that a mesh from the static head of a recipe does not
    have its normals computed again at every frame.
    """
    kept = mesh.__dict__.get("_normals")
    if kept is None:
        kept = _normals_of(mesh)
        mesh.__dict__["_normals"] = kept
    return kept


def with_normals(mesh: Mesh, normals: np.ndarray) -> Mesh:
    """The mesh, which keeps these (P, 3) float32 normals instead of those of its own faces."""
    mesh.__dict__["_normals"] = np.ascontiguousarray(normals, np.float32)
    return mesh


def _normals_of(mesh: Mesh) -> np.ndarray:
    topology = mesh.topology
    known = mesh.get("point", NORMAL)
    if known is not None and topology.face_count == 0:
        return known
    if topology.grid is not None:
        return grid_normals(mesh.points, topology.grid)
    out = np.empty((len(mesh.points), 3), np.float32)
    if topology.sides == 3:
        _ring_normals(mesh.points, *rings(topology), out)
    else:
        _sum_around(face_vector_areas(mesh), *topology.point_faces, out)
    return out
