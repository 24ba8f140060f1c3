"""The surface where a field on a grid has a level (W. E. Lorensen & H. E. Cline, "Marching Cubes",
SIGGRAPH 1987), slab by slab, with normals from the field.

A grid point owns the edges that go up from it along x, y and z. What is below the level is inside.
"""

from __future__ import annotations

from numba import float32, int32, int64, prange, types

from zygomorph.core.kernels.compiled import F1, F2W, I1, I1W, I2, inline, kernel

F3 = types.Array(types.float32, 3, "C", readonly=True)
I3 = types.Array(types.int32, 3, "C", readonly=True)
I3W = types.int32[:, :, ::1]
I2W = types.int32[:, ::1]


@inline
def _case_of(field, i, j, k, level):  # type: ignore[no-untyped-def]
    """Which of the eight corners of a cube are inside: bit 1 for x, 2 for y and 4 for z of each."""
    case = int32(0)
    if field[i, j, k] < level:
        case |= int32(1)
    if field[i + 1, j, k] < level:
        case |= int32(2)
    if field[i, j + 1, k] < level:
        case |= int32(4)
    if field[i + 1, j + 1, k] < level:
        case |= int32(8)
    if field[i, j, k + 1] < level:
        case |= int32(16)
    if field[i + 1, j, k + 1] < level:
        case |= int32(32)
    if field[i, j + 1, k + 1] < level:
        case |= int32(64)
    if field[i + 1, j + 1, k + 1] < level:
        case |= int32(128)
    return case


@kernel(types.void(F3, float32, I1, I2W), fastmath=False)
def count_slabs(field, level, case_starts, counts):  # type: ignore[no-untyped-def]
    """counts : (X, 2), written: points and triangles of each slab"""
    last_i, last_j, last_k = field.shape[0] - 1, field.shape[1] - 1, field.shape[2] - 1
    for slab in prange(field.shape[0]):
        i = int64(slab)
        points, triangles = int32(0), int32(0)
        for j in range(last_j + 1):
            for k in range(last_k + 1):
                inside = field[i, j, k] < level
                if i < last_i and (field[i + 1, j, k] < level) != inside:
                    points += int32(1)
                if j < last_j and (field[i, j + 1, k] < level) != inside:
                    points += int32(1)
                if k < last_k and (field[i, j, k + 1] < level) != inside:
                    points += int32(1)
        if i < last_i:
            for j in range(last_j):
                for k in range(last_k):
                    case = _case_of(field, i, j, k, level)
                    triangles += case_starts[case + 1] - case_starts[case]
        counts[i, 0], counts[i, 1] = points, triangles


@inline
def _slope(field, i, j, k, axis):  # type: ignore[no-untyped-def]
    """Difference of the field along an axis at a grid point, at its rim one-sided."""
    if axis == 0:
        lo, hi = max(i - 1, 0), min(i + 1, field.shape[0] - 1)
        return (field[hi, j, k] - field[lo, j, k]) / float32(max(hi - lo, 1))
    if axis == 1:
        lo, hi = max(j - 1, 0), min(j + 1, field.shape[1] - 1)
        return (field[i, hi, k] - field[i, lo, k]) / float32(max(hi - lo, 1))
    lo, hi = max(k - 1, 0), min(k + 1, field.shape[2] - 1)
    return (field[i, j, hi] - field[i, j, lo]) / float32(max(hi - lo, 1))


@inline
def _place(field, level, origin, cell, i, j, k, axis, at, points, normals, source):  # type: ignore[no-untyped-def]
    """Write the point where the level is met on the edge that goes up from a grid point."""
    di = 1 if axis == 0 else 0
    dj = 1 if axis == 1 else 0
    dk = 1 if axis == 2 else 0
    low, high = field[i, j, k], field[i + di, j + dj, k + dk]
    share = (level - low) / (high - low)
    share = min(max(share, float32(0.0)), float32(1.0))
    points[at, 0] = origin[0] + cell * (float32(i) + share * float32(di))
    points[at, 1] = origin[1] + cell * (float32(j) + share * float32(dj))
    points[at, 2] = origin[2] + cell * (float32(k) + share * float32(dk))
    rest = float32(1.0) - share
    nx = rest * _slope(field, i, j, k, 0) + share * _slope(field, i + di, j + dj, k + dk, 0)
    ny = rest * _slope(field, i, j, k, 1) + share * _slope(field, i + di, j + dj, k + dk, 1)
    nz = rest * _slope(field, i, j, k, 2) + share * _slope(field, i + di, j + dj, k + dk, 2)
    length = (nx * nx + ny * ny + nz * nz) ** float32(0.5)
    if length > float32(1e-20):
        scale = float32(1.0) / length
        normals[at, 0], normals[at, 1], normals[at, 2] = nx * scale, ny * scale, nz * scale
    else:
        normals[at, 0], normals[at, 1], normals[at, 2] = float32(0), float32(1), float32(0)
    if share > float32(0.5):
        i, j, k = i + di, j + dj, k + dk
    source[at] = int32((i * field.shape[1] + j) * field.shape[2] + k)


@kernel(types.void(F3, float32, I1, F1, float32, I3W, F2W, F2W, I1W), fastmath=False)
def write_points(field, level, starts, origin, cell, first, points, normals, source):  # type: ignore[no-untyped-def]
    """The points of each slab, from ``starts`` on.

    origin : (3,) metres of the first grid point; cell : metres
    first : (X, Y, Z), written: of each grid point the number of its first edge's point
    points, normals : (P, 3), written
    source : (P,), written: the grid point, by its flat number, that each is nearest to
    """
    last_i, last_j, last_k = field.shape[0] - 1, field.shape[1] - 1, field.shape[2] - 1
    for slab in prange(field.shape[0]):
        i = int64(slab)
        at = starts[i]
        for j in range(last_j + 1):
            for k in range(last_k + 1):
                inside = field[i, j, k] < level
                first[i, j, k] = at
                if i < last_i and (field[i + 1, j, k] < level) != inside:
                    _place(field, level, origin, cell, i, j, k, 0, at, points, normals, source)
                    at += 1
                if j < last_j and (field[i, j + 1, k] < level) != inside:
                    _place(field, level, origin, cell, i, j, k, 1, at, points, normals, source)
                    at += 1
                if k < last_k and (field[i, j, k + 1] < level) != inside:
                    _place(field, level, origin, cell, i, j, k, 2, at, points, normals, source)
                    at += 1


@inline
def _point_of(field, level, first, i, j, k, edge):  # type: ignore[no-untyped-def]
    """The number of the point on an edge of a cube; the edge is 4 times its axis plus the two other
    coordinates of where it begins, as bits."""
    axis, at = edge // 4, edge % 4
    one, two = at & 1, at >> 1
    if axis == 0:
        j, k = j + one, k + two
    elif axis == 1:
        i, k = i + one, k + two
    else:
        i, j = i + one, j + two
    found = first[i, j, k]
    inside = field[i, j, k] < level
    if axis > 0 and i < field.shape[0] - 1 and (field[i + 1, j, k] < level) != inside:
        found += 1
    if axis > 1 and j < field.shape[1] - 1 and (field[i, j + 1, k] < level) != inside:
        found += 1
    return found


@kernel(types.void(F3, float32, I1, I1, I2, I3, I2W), fastmath=False)
def write_triangles(field, level, starts, case_starts, case_edges, first, triangles):  # type: ignore[no-untyped-def]
    """The triangles of each slab, from ``starts`` on, as points; triangles : (T, 3), written"""
    for slab in prange(field.shape[0] - 1):
        i = int64(slab)
        at = starts[i]
        for j in range(field.shape[1] - 1):
            for k in range(field.shape[2] - 1):
                case = _case_of(field, i, j, k, level)
                for n in range(case_starts[case], case_starts[case + 1]):
                    for corner in range(3):
                        triangles[at, corner] = _point_of(
                            field, level, first, i, j, k, case_edges[n, corner]
                        )
                    at += 1
