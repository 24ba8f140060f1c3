"""Where the points of extruded faces stand.

Sums are in a fixed order (without ``fastmath``), so that one thread and many, and what stands in
for a kernel until it is compiled, give the same bytes.
"""

from __future__ import annotations

from numba import float32, prange, types

from zygomorph.core.kernels.compiled import CHUNKS, F1, F2, F2W, I1, first_of, inline, kernel


@inline
def _unit(x, y, z):  # type: ignore[no-untyped-def]
    length = max((x * x + y * y + z * z) ** float32(0.5), float32(1e-20))
    return x / length, y / length, z / length


@inline
def _inwards(points, a, b, nx, ny, nz):  # type: ignore[no-untyped-def]
    """Unit across the side from a to b, into its face: normal × direction."""
    dx, dy, dz = _unit(
        points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
    )
    return ny * dz - nz * dy, nz * dx - nx * dz, nx * dy - ny * dx


@kernel(types.void(F2, I1, I1, I1, F2, F1, F1, F1, I1, F2W), fastmath=False)
def raise_faces(points, corners, starts, chosen, areas, depth, inset, taper, first, out):  # type: ignore[no-untyped-def]
    """The tops of faces that are extruded one by one.

    chosen : (n,) numbers of faces; areas : (F, 3) their vector areas
    depth, inset, taper : (n,) metres, metres, and share by which the top is smaller
    first : (n,) where the corners of each begin in ``out``
    out : (corners of all, 3)
    """
    n = chosen.shape[0]
    for chunk in prange(CHUNKS):
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            face = chosen[k]
            lo, hi = starts[face], starts[face + 1]
            count = hi - lo
            at = first[k]
            nx, ny, nz = _unit(areas[face, 0], areas[face, 1], areas[face, 2])
            cx, cy, cz = float32(0.0), float32(0.0), float32(0.0)
            for i in range(lo, hi):
                p = corners[i]
                cx += points[p, 0]
                cy += points[p, 1]
                cz += points[p, 2]
            share = float32(1.0) / float32(max(count, 1))
            cx, cy, cz = cx * share, cy * share, cz * share
            own = inset[k]
            if own > 0:
                # No side may go beyond the middle.
                for i in range(lo, hi):
                    a = corners[i]
                    b = corners[i + 1] if i + 1 < hi else corners[lo]
                    ix, iy, iz = _inwards(points, a, b, nx, ny, nz)
                    reach = (
                        (cx - points[a, 0]) * ix
                        + (cy - points[a, 1]) * iy
                        + (cz - points[a, 2]) * iz
                    )
                    own = min(own, max(reach, float32(0.0)))
            size, up = float32(1.0) - taper[k], depth[k]
            for i in range(count):
                p = corners[lo + i]
                x, y, z = points[p, 0], points[p, 1], points[p, 2]
                if own != 0:
                    before = corners[lo + i - 1] if i > 0 else corners[hi - 1]
                    after = corners[lo + i + 1] if i + 1 < count else corners[lo]
                    ax, ay, az = _inwards(points, before, p, nx, ny, nz)
                    bx, by, bz = _inwards(points, p, after, nx, ny, nz)
                    # The mitre of both sides.
                    both = max(float32(1.0) + ax * bx + ay * by + az * bz, float32(0.1))
                    x += own * (ax + bx) / both
                    y += own * (ay + by) / both
                    z += own * (az + bz) / both
                out[at, 0] = cx + (x - cx) * size + nx * up
                out[at, 1] = cy + (y - cy) * size + ny * up
                out[at, 2] = cz + (z - cz) * size + nz * up
                at += 1


@kernel(types.void(F2, F2, I1, I1, F1, F2W), fastmath=False)
def thicken(normals, areas, starts, faces, depth, out):  # type: ignore[no-untyped-def]
    """How far each point of a region goes so that its faces move by their depth.

    normals : (P, 3) units; areas : (F, 3) vector areas; starts, faces : around each point
    depth : (F,) metres
    A point goes along its normal, further where its faces lean from it, at most three times as far.
    """
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo, hi = starts[p], starts[p + 1]
            lean, deep = float32(0.0), float32(0.0)
            for k in range(lo, hi):
                f = faces[k]
                x, y, z = _unit(areas[f, 0], areas[f, 1], areas[f, 2])
                lean += x * normals[p, 0] + y * normals[p, 1] + z * normals[p, 2]
                deep += depth[f]
            count = float32(max(hi - lo, 1))
            reach = (deep / count) / max(lean / count, float32(1.0 / 3.0))
            out[p, 0] = normals[p, 0] * reach
            out[p, 1] = normals[p, 1] * reach
            out[p, 2] = normals[p, 2] * reach
