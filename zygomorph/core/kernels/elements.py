"""Faces and shards as units: their centres, and points that follow them.

Sums are in a fixed order (without ``fastmath``), so that one thread and many, and what stands in
for a kernel until it is compiled, give the same bytes.
"""

from __future__ import annotations

from numba import float32, prange, types, uint32

from zygomorph.core.kernels.compiled import CHUNKS, F2, F2W, I1, first_of, kernel

# The vector areas of a solid's faces cancel out but for this share of their lengths.
SOLID = float32(1e-3)


@kernel(types.void(F2, I1, I1, F2W), fastmath=False)
def means_of_faces(points, corners, starts, out):  # type: ignore[no-untyped-def]
    """points : (P, 3); corners, starts : the faces; out : (F, 3), the mean of each one's corners"""
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    one, two, three = uint32(1), uint32(2), uint32(3)
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for face in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo, hi = uint32(starts[face]), uint32(starts[face + 1])
            x, y, z = float32(0.0), float32(0.0), float32(0.0)
            for k in range(lo, hi):
                a = three * uint32(corners[k])
                x += flat[a]
                y += flat[a + one]
                z += flat[a + two]
            share = float32(1.0) / float32(max(hi - lo, one))
            flat_out[3 * face] = x * share
            flat_out[3 * face + 1] = y * share
            flat_out[3 * face + 2] = z * share


@kernel(types.void(I1, I1, F2, F2, F2, F2, F2, F2W), fastmath=False)
def move_with_elements(starts, elements, points, centres, axes, spins, moves, out):  # type: ignore[no-untyped-def]
    """Each point where its elements take it in the mean; one of none stays.

    starts, elements : the elements around each point
    points, out : (P, 3)
    centres, axes, moves : (K, 3)
    spins : (K, 3) size, cosine and sine of the turn about the axis
    """
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            px, py, pz = points[p, 0], points[p, 1], points[p, 2]
            lo, hi = starts[p], starts[p + 1]
            sx, sy, sz = float32(0.0), float32(0.0), float32(0.0)
            for k in range(lo, hi):
                e = elements[k]
                x, y, z = px - centres[e, 0], py - centres[e, 1], pz - centres[e, 2]
                ax, ay, az = axes[e, 0], axes[e, 1], axes[e, 2]
                size, c, s = spins[e, 0], spins[e, 1], spins[e, 2]
                # Rodrigues' formula.
                along = (ax * x + ay * y + az * z) * (float32(1.0) - c)
                tx = x * c + (ay * z - az * y) * s + ax * along
                ty = y * c + (az * x - ax * z) * s + ay * along
                tz = z * c + (ax * y - ay * x) * s + az * along
                # Differences, so that what stays is exactly where it was.
                sx += (size * tx - x) + moves[e, 0]
                sy += (size * ty - y) + moves[e, 1]
                sz += (size * tz - z) + moves[e, 2]
            share = float32(1.0) / float32(max(hi - lo, 1))
            out[p, 0] = px + sx * share
            out[p, 1] = py + sy * share
            out[p, 2] = pz + sz * share


@kernel(types.void(F2, F2W), fastmath=False)
def units_or_up(vectors, out):  # type: ignore[no-untyped-def]
    """Unit vectors, (n, 3); what has no length points upwards, so that it points somewhere."""
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            x, y, z = vectors[k, 0], vectors[k, 1], vectors[k, 2]
            length = (x * x + y * y + z * z) ** float32(0.5)
            if length > float32(1e-18):
                out[k, 0], out[k, 1], out[k, 2] = x / length, y / length, z / length
            else:
                out[k, 0], out[k, 1], out[k, 2] = float32(0.0), float32(1.0), float32(0.0)


@kernel(types.void(I1, I1, F2, F2W), fastmath=False)
def normals_of_shards(starts, faces, areas, out):  # type: ignore[no-untyped-def]
    """Where each shard looks: the sum of its faces' vector areas, or, where these cancel out as
    those of a solid do, that of its first face; units, upwards where there is none.

    starts, faces : the faces of each shard, (K + 1,) and (F,); areas : (F, 3); out : (K, 3)
    """
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo, hi = starts[k], starts[k + 1]
            sx, sy, sz, total = float32(0.0), float32(0.0), float32(0.0), float32(0.0)
            for i in range(lo, hi):
                f = faces[i]
                x, y, z = areas[f, 0], areas[f, 1], areas[f, 2]
                sx += x
                sy += y
                sz += z
                total += (x * x + y * y + z * z) ** float32(0.5)
            length = (sx * sx + sy * sy + sz * sz) ** float32(0.5)
            if hi > lo and length < SOLID * total:
                f = faces[lo]
                sx, sy, sz = areas[f, 0], areas[f, 1], areas[f, 2]
                length = (sx * sx + sy * sy + sz * sz) ** float32(0.5)
            if length > float32(1e-18):
                out[k, 0], out[k, 1], out[k, 2] = sx / length, sy / length, sz / length
            else:
                out[k, 0], out[k, 1], out[k, 2] = float32(0.0), float32(1.0), float32(0.0)


@kernel(types.void(I1, I1, F2, F2, F2W), fastmath=False)
def carry_with_elements(starts, elements, points, moves, out):  # type: ignore[no-untyped-def]
    """As :func:`move_with_elements`, where the elements, (K,), only move."""
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo, hi = starts[p], starts[p + 1]
            sx, sy, sz = float32(0.0), float32(0.0), float32(0.0)
            for k in range(lo, hi):
                e = elements[k]
                sx += moves[e, 0]
                sy += moves[e, 1]
                sz += moves[e, 2]
            share = float32(1.0) / float32(max(hi - lo, 1))
            out[p, 0] = points[p, 0] + sx * share
            out[p, 1] = points[p, 1] + sy * share
            out[p, 2] = points[p, 2] + sz * share
