"""Distances and insides on a regular grid, slab by slab.

Everything is in units of the grid: a place (x, y, z) lies at the grid point of these numbers, and
cells are 1 wide. Slabs are independent, so that one thread and many give the same bytes.
"""

from __future__ import annotations

from numba import float32, float64, int32, int64, prange, types

from zygomorph.core.kernels.compiled import F2, I1, I2, inline, kernel

I3 = types.Array(types.int32, 3, "C", readonly=True)
F3W = types.float32[:, :, ::1]
I3W = types.int32[:, :, ::1]
S3W = types.int16[:, :, ::1]
# Rays go a little beside the grid points, so that none meets a point of a mesh that lies on them.
ASIDE_X = 1.3717e-4
ASIDE_Y = 2.9131e-4


@inline
def _turn(points, low, high, x, y):  # type: ignore[no-untyped-def]
    """Above 0 where (x, y) lies left of the way from one point to another."""
    lx, ly = float64(points[low, 0]), float64(points[low, 1])
    hx, hy = float64(points[high, 0]), float64(points[high, 1])
    return (hx - lx) * (y - ly) - (hy - ly) * (x - lx)


@inline
def _left_of(points, a, b, x, y):  # type: ignore[no-untyped-def]
    """Whether (x, y) lies left of the way from a to b; the same answer turned about for b to a, so
    that of two faces at an edge one alone has what lies on it."""
    if a < b:
        return _turn(points, a, b, x, y) >= 0.0
    return not _turn(points, b, a, x, y) >= 0.0


@kernel(types.void(F2, I2, I1, I1, S3W), fastmath=False)
def wind_slabs(points, triangles, starts, listed, winding):  # type: ignore[no-untyped-def]
    """How many times the surface goes around each grid point: of a closed one that looks outward,
    1 inside and 0 outside.

    points : (P, 3); triangles : (T, 3)
    starts, listed : for each slab x the triangles that reach it
    winding : (X, Y, Z), written
    """
    rows, columns = winding.shape[1], winding.shape[2]
    for slab in prange(winding.shape[0]):
        i = int64(slab)
        x = float64(i) + ASIDE_X
        winding[i] = 0
        for n in range(starts[i], starts[i + 1]):
            t = listed[n]
            a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
            ya, yb, yc = points[a, 1], points[b, 1], points[c, 1]
            lo = max(int32(min(ya, yb, yc)), 0)
            hi = min(int32(max(ya, yb, yc)) + 1, rows - 1)
            for j in range(lo, hi + 1):
                y = float64(j) + ASIDE_Y
                ab = _left_of(points, a, b, x, y)
                bc = _left_of(points, b, c, x, y)
                ca = _left_of(points, c, a, x, y)
                if ab != bc or bc != ca:
                    continue
                wa = _turn(points, b, c, x, y)
                wb = _turn(points, c, a, x, y)
                wc = _turn(points, a, b, x, y)
                whole = wa + wb + wc
                if whole == 0.0:
                    continue
                z = (wa * points[a, 2] + wb * points[b, 2] + wc * points[c, 2]) / whole
                k = int32(z) + 1 if z >= 0.0 else int32(0)
                if k < columns:
                    # A surface that looks down is entered on the way up.
                    winding[i, j, k] += -1 if ab else 1
        for j in range(rows):
            total = int32(0)
            for k in range(columns):
                total += winding[i, j, k]
                winding[i, j, k] = total


@inline
def _squared_distance(px, py, pz, c, t):  # type: ignore[no-untyped-def]
    """To triangle t of c, (T, 9); C. Ericson, "Real-Time Collision Detection", section 5.1.5."""
    ax, ay, az = c[t, 0], c[t, 1], c[t, 2]
    abx, aby, abz = c[t, 3] - ax, c[t, 4] - ay, c[t, 5] - az
    acx, acy, acz = c[t, 6] - ax, c[t, 7] - ay, c[t, 8] - az
    apx, apy, apz = px - ax, py - ay, pz - az
    d1 = abx * apx + aby * apy + abz * apz
    d2 = acx * apx + acy * apy + acz * apz
    bpx, bpy, bpz = apx - abx, apy - aby, apz - abz
    d3 = abx * bpx + aby * bpy + abz * bpz
    d4 = acx * bpx + acy * bpy + acz * bpz
    cpx, cpy, cpz = apx - acx, apy - acy, apz - acz
    d5 = abx * cpx + aby * cpy + abz * cpz
    d6 = acx * cpx + acy * cpy + acz * cpz
    vc = d1 * d4 - d3 * d2
    vb = d5 * d2 - d1 * d6
    va = d3 * d6 - d5 * d4
    zero, one = float32(0.0), float32(1.0)
    if d1 <= zero and d2 <= zero:
        v, w = zero, zero
    elif d3 >= zero and d4 <= d3:
        v, w = one, zero
    elif d6 >= zero and d5 <= d6:
        v, w = zero, one
    elif vc <= zero and d1 >= zero and d3 <= zero:
        v, w = d1 / (d1 - d3), zero
    elif vb <= zero and d2 >= zero and d6 <= zero:
        v, w = zero, d2 / (d2 - d6)
    elif va <= zero and d4 - d3 >= zero and d5 - d6 >= zero:
        w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
        v = one - w
    else:
        whole = one / (va + vb + vc)
        v, w = vb * whole, vc * whole
    x, y, z = apx - v * abx - w * acx, apy - v * aby - w * acy, apz - v * abz - w * acz
    return x * x + y * y + z * z


@kernel(types.void(F2, I1, I1, float32, F3W, I3W), fastmath=False)
def measure_slabs(corners, starts, listed, band, squared, nearest):  # type: ignore[no-untyped-def]
    """Squared distance to the nearest triangle, as far as the band reaches, and which it is.

    corners : (T, 9) of the triangles; band : cells
    starts, listed : for each slab x the triangles of which it is in reach
    squared, nearest : (X, Y, Z), written; the band squared and -1 beyond it
    """
    rows, columns = squared.shape[1], squared.shape[2]
    for slab in prange(squared.shape[0]):
        i = int64(slab)
        x = float32(i)
        squared[i] = band * band
        nearest[i] = -1
        for n in range(starts[i], starts[i + 1]):
            t = listed[n]
            ay, by, cy = corners[t, 1], corners[t, 4], corners[t, 7]
            az, bz, cz = corners[t, 2], corners[t, 5], corners[t, 8]
            low_j = max(int32(min(ay, by, cy) - band), 0)
            high_j = min(int32(max(ay, by, cy) + band) + 1, rows - 1)
            low_k = max(int32(min(az, bz, cz) - band), 0)
            high_k = min(int32(max(az, bz, cz) + band) + 1, columns - 1)
            # Nothing is nearer than the plane of the triangle.
            ux, uy, uz = corners[t, 3] - corners[t, 0], by - ay, bz - az
            vx, vy, vz = corners[t, 6] - corners[t, 0], cy - ay, cz - az
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            size = nx * nx + ny * ny + nz * nz
            scale = float32(1.0) / size if size > float32(1e-20) else float32(0.0)
            for j in range(low_j, high_j + 1):
                y = float32(j)
                side = nx * (x - corners[t, 0]) + ny * (y - ay)
                for k in range(low_k, high_k + 1):
                    z = float32(k)
                    off = side + nz * (z - az)
                    if off * off * scale >= squared[i, j, k]:
                        continue
                    found = _squared_distance(x, y, z, corners, t)
                    if found < squared[i, j, k]:
                        squared[i, j, k] = found
                        nearest[i, j, k] = t


@kernel(types.void(F2, I3, int32, F3W, I3W), fastmath=False)
def measure_far(corners, coarse, step, squared, nearest):  # type: ignore[no-untyped-def]
    """Squared distance where no triangle is near: to those that are nearest to the corners of the
    coarse cell around a grid point.

    coarse : the nearest triangle to every grid point whose numbers are multiples of the step
    squared, nearest : (X, Y, Z), written where ``nearest`` is below 0
    """
    for slab in prange(squared.shape[0]):
        i = int64(slab)
        for j in range(squared.shape[1]):
            for k in range(squared.shape[2]):
                if nearest[i, j, k] >= 0:
                    continue
                least = float32(3.0e38)
                chosen = int32(-1)
                for corner in range(8):
                    t = coarse[
                        i // step + (corner & 1),
                        j // step + (corner >> 1 & 1),
                        k // step + (corner >> 2),
                    ]
                    if t != chosen:
                        found = _squared_distance(float32(i), float32(j), float32(k), corners, t)
                        if found < least:
                            least, chosen = found, t
                squared[i, j, k], nearest[i, j, k] = least, chosen
