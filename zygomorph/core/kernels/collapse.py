"""Edge collapses of a triangle mesh in the order of their quadric error.

M. Garland, P. Heckbert, "Surface Simplification Using Quadric Error Metrics", SIGGRAPH 1997 (from
memory), with the new point on the edge itself, so that it is a mixture of two old ones.
"""

from __future__ import annotations

import numpy as np
from numba import int32, njit, types

from zygomorph.core.kernels.compiled import kernel

# A share of the fourth power of an edge's length is added to its error, so that where the surface
# is flat short edges go first.
EVEN = 1e-6
# A rim, or a seam, holds its course so many times as strongly as the surface.
RIM = 1e3
# A face may turn so far by one collapse: the cosine between its normals.
TURN = 0.2

# A double has 52 bits of mantissa, of which 5 tell buckets apart.
BUCKET_SHIFT = 52 - 5
BUCKETS = 1 << (11 + 5)

_D1 = types.float64[::1]
_D2 = types.float64[:, ::1]
_I1 = types.int32[::1]
_I2 = types.int32[:, ::1]
_B1 = types.boolean[::1]


@njit(inline="always")
def _add_plane(q, v, nx, ny, nz, d, weight):  # type: ignore[no-untyped-def]
    q[v, 0] += weight * nx * nx
    q[v, 1] += weight * nx * ny
    q[v, 2] += weight * nx * nz
    q[v, 3] += weight * nx * d
    q[v, 4] += weight * ny * ny
    q[v, 5] += weight * ny * nz
    q[v, 6] += weight * ny * d
    q[v, 7] += weight * nz * nz
    q[v, 8] += weight * nz * d
    q[v, 9] += weight * d * d


@njit
def _cross(a, b, c):  # type: ignore[no-untyped-def]
    ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    return uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx


@njit
def _best(points, q, a, b, held):  # type: ignore[no-untyped-def]
    """Where on the edge from a to b the error is least, 0 to 1, and the error there."""
    x, y, z = points[a, 0], points[a, 1], points[a, 2]
    dx, dy, dz = points[b, 0] - x, points[b, 1] - y, points[b, 2] - z
    q0, q1, q2, q3 = q[a, 0] + q[b, 0], q[a, 1] + q[b, 1], q[a, 2] + q[b, 2], q[a, 3] + q[b, 3]
    q4, q5, q6 = q[a, 4] + q[b, 4], q[a, 5] + q[b, 5], q[a, 6] + q[b, 6]
    q7, q8, q9 = q[a, 7] + q[b, 7], q[a, 8] + q[b, 8], q[a, 9] + q[b, 9]
    # Half the gradient at a; along the edge the error is at_a + 2 t slope + t² curve.
    gx = q0 * x + q1 * y + q2 * z + q3
    gy = q1 * x + q4 * y + q5 * z + q6
    gz = q2 * x + q5 * y + q7 * z + q8
    at_a = gx * x + gy * y + gz * z + q3 * x + q6 * y + q8 * z + q9
    slope = gx * dx + gy * dy + gz * dz
    curve = (
        q0 * dx * dx
        + q4 * dy * dy
        + q7 * dz * dz
        + 2 * (q1 * dx * dy + q2 * dx * dz + q5 * dy * dz)
    )
    if held[a] != held[b]:
        # What is on a rim stays on it.
        t = 0.0 if held[a] else 1.0
    elif curve > 1e-9 * (abs(at_a) + abs(slope)) + 1e-300:
        t = min(max(-slope / curve, 0.0), 1.0)
    elif abs(slope) > 1e-9 * abs(at_a) + 1e-300:
        t = 0.0 if slope > 0 else 1.0
    else:
        t = 0.5
    length = dx * dx + dy * dy + dz * dz
    return t, max(at_a + t * (2 * slope + t * curve), 0.0) + EVEN * length * length


@njit(inline="always")
def _bucket(error):  # type: ignore[no-untyped-def]
    """A number that grows with an error, the same for errors within 3 % of each other: its
    exponent and the first bits of its mantissa."""
    return np.float64(error).view(np.int64) >> BUCKET_SHIFT


@njit
def _allowed(points, triangles, alive, head, link, mark, stamp, a, b, t):  # type: ignore[no-untyped-def]
    """Whether a collapse keeps the surface a surface, and turns no face over."""
    x = points[a, 0] + t * (points[b, 0] - points[a, 0])
    y = points[a, 1] + t * (points[b, 1] - points[a, 1])
    z = points[a, 2] + t * (points[b, 2] - points[a, 2])
    place = (x, y, z)
    shared = 0
    c = head[a]
    while c >= 0:
        f = c // 3
        if alive[f]:
            has_b = False
            for k in range(3):
                v = triangles[f, k]
                mark[v] = stamp
                has_b = has_b or v == b
            if has_b:
                shared += 1
        c = link[c]
    common = 0
    c = head[b]
    while c >= 0:
        f = c // 3
        if alive[f]:
            for k in range(3):
                v = triangles[f, k]
                if v != a and v != b and mark[v] == stamp:
                    common += 1
                    mark[v] = stamp - 1
        c = link[c]
    if common != shared:
        return False
    for end in range(2):
        own = a if end == 0 else b
        other = b if end == 0 else a
        c = head[own]
        while c >= 0:
            f = c // 3
            if alive[f]:
                i, j, k = triangles[f, 0], triangles[f, 1], triangles[f, 2]
                if i != other and j != other and k != other:
                    pi, pj, pk = points[i], points[j], points[k]
                    ox, oy, oz = _cross(pi, pj, pk)
                    at = c - 3 * f
                    one, two = triangles[f, (at + 1) % 3], triangles[f, (at + 2) % 3]
                    nx, ny, nz = _cross(place, points[one], points[two])
                    before = ox * ox + oy * oy + oz * oz
                    after = nx * nx + ny * ny + nz * nz
                    dot = ox * nx + oy * ny + oz * nz
                    if before > 0 and dot < TURN * np.sqrt(before * after):
                        return False
            c = link[c]
    return True


@kernel(
    types.Tuple((_I2, _D1, _I1, _I1, _I2, _D1, _I1))(_D2, _I2, _I2, _B1, _B1, _D2, types.int64),
    parallel=False,
    fastmath=False,
)
def collapses(points, triangles, wedges, held, locked, quadrics, wedge_count):  # type: ignore[no-untyped-def]
    """All collapses, down to one triangle.

    points : (P, 3), changed in place; triangles : (T, 3), changed in place
    wedges : (T, 3), of each corner the number of what it has at its point: a point on a seam of UVs
        has one for each side
    held : (P,) points of rims and seams; locked : (P,) points that take part in no collapse
    quadrics : (P, 10) of rims and seams; those of the faces are added
    returns merges (M, 2) of nodes: the points, then one for each merge; the share of the second
        (M,); how many faces are left after each (M,); by which merge each face goes, or M (T,);
        and of wedges, merges (W, 2), shares (W,), and how many there are before each collapse
    """
    count, faces = points.shape[0], triangles.shape[0]
    alive = np.ones(faces, np.bool_)
    # Corners around each point as a chain, so that two of them are joined at once.
    head, tail = np.full(count, -1, np.int32), np.full(count, -1, np.int32)
    link = np.full(3 * faces, -1, np.int32)
    for c in range(3 * faces):
        v = triangles[c // 3, c % 3]
        if head[v] < 0:
            head[v] = c
        else:
            link[tail[v]] = c
        tail[v] = c
    for f in range(faces):
        a, b, c = triangles[f, 0], triangles[f, 1], triangles[f, 2]
        nx, ny, nz = _cross(points[a], points[b], points[c])
        area = np.sqrt(nx * nx + ny * ny + nz * nz)
        if area > 0:
            nx, ny, nz = nx / area, ny / area, nz / area
            d = -(nx * points[a, 0] + ny * points[a, 1] + nz * points[a, 2])
            for v in (a, b, c):
                _add_plane(quadrics, v, nx, ny, nz, d, area / 6)
    node = np.arange(count).astype(np.int32)
    version = np.zeros(count, np.int32)
    mark = np.full(count, -1, np.int32)
    stamp = 0
    merges, shares = np.empty((count, 2), np.int32), np.empty(count)
    left, gone = np.empty(count, np.int32), np.full(faces, count, np.int32)
    wedge_node = np.arange(2 * wedge_count + 1).astype(np.int32)
    wedge_merges, wedge_shares = np.empty((wedge_count, 2), np.int32), np.empty(wedge_count)
    wedges_before = np.zeros(count + 1, np.int32)
    done, wedge_done, remaining = 0, 0, faces
    room = 8 * faces + 64
    ends, stamps = np.empty((room, 2), np.int32), np.empty(room, np.int32)
    # Edges in buckets by their errors, each a chain; one whose ends have changed since is put in
    # anew, and the old entry is passed over.
    first, following = np.full(BUCKETS, -1, np.int32), np.empty(room, np.int32)
    for strict in (True, False):
        first[:] = -1
        low, many = BUCKETS, 0
        for f in range(faces):
            if not alive[f]:
                continue
            for k in range(3):
                a, b = triangles[f, k], triangles[f, (k + 1) % 3]
                # Of inner edges both faces have one each way; those of a rim count either way.
                if locked[a] or locked[b] or (a > b and not (held[a] and held[b])):
                    continue
                _, value = _best(points, quadrics, a, b, held)
                ends[many, 0], ends[many, 1] = a, b
                stamps[many] = version[a] + version[b]
                bucket = _bucket(value)
                following[many], first[bucket] = first[bucket], many
                low = min(low, bucket)
                many += 1
        while remaining > 1:
            while low < BUCKETS and first[low] < 0:
                low += 1
            if low >= BUCKETS:
                break
            edge = first[low]
            first[low] = following[edge]
            a, b = ends[edge, 0], ends[edge, 1]
            if node[a] < 0 or node[b] < 0 or stamps[edge] != version[a] + version[b]:
                continue
            t, _ = _best(points, quadrics, a, b, held)
            stamp += 2
            if strict and not _allowed(points, triangles, alive, head, link, mark, stamp, a, b, t):
                continue
            # Faces of both ends go.
            going = 0
            c = head[b]
            while c >= 0:
                f = c // 3
                if alive[f] and (
                    triangles[f, 0] == a or triangles[f, 1] == a or triangles[f, 2] == a
                ):
                    going += 1
                c = link[c]
            # An edge that has lost its faces is none any more.
            if going == 0 or going >= remaining:
                continue
            wedges_before[done] = wedge_done
            c = head[b]
            while c >= 0:
                f = c // 3
                if alive[f]:
                    at_a = -1
                    for k in range(3):
                        if triangles[f, k] == a:
                            at_a = k
                    if at_a >= 0:
                        alive[f] = False
                        gone[f] = done
                        remaining -= 1
                        one, other = wedges[f, at_a], wedges[f, c - 3 * f]
                        while wedge_node[one] != one:
                            one = wedge_node[one]
                        while wedge_node[other] != other:
                            other = wedge_node[other]
                        if one != other:
                            new = wedge_count + wedge_done
                            wedge_merges[wedge_done, 0], wedge_merges[wedge_done, 1] = one, other
                            wedge_shares[wedge_done] = t
                            wedge_node[one], wedge_node[other] = new, new
                            wedge_done += 1
                c = link[c]
            for k in range(3):
                points[a, k] += t * (points[b, k] - points[a, k])
            for k in range(10):
                quadrics[a, k] += quadrics[b, k]
            held[a] = held[a] or held[b]
            c = head[b]
            while c >= 0:
                f = c // 3
                if alive[f]:
                    triangles[f, c - 3 * f] = a
                c = link[c]
            link[tail[a]] = head[b]
            tail[a] = tail[b]
            merges[done, 0], merges[done, 1], shares[done] = node[a], node[b], t
            node[a], node[b] = count + done, -1
            version[a] += 1
            # Dead corners leave the chain, so that it stays as short as the ring is.
            last, c, around = -1, head[a], 0
            while c >= 0:
                after = link[c]
                if alive[c // 3]:
                    around += 1
                    if last < 0:
                        head[a] = c
                    else:
                        link[last] = c
                    last = c
                c = after
            if last < 0:
                head[a], tail[a] = -1, -1
            else:
                link[last] = -1
                tail[a] = last
            if around <= 3 or not strict:
                # Two faces on the same three points are one.
                c = head[a]
                while c >= 0 and remaining > 1:
                    f = c // 3
                    d = link[c]
                    while d >= 0 and alive[f]:
                        g = d // 3
                        if alive[g] and g != f:
                            same = 0
                            for k in range(3):
                                v = triangles[g, k]
                                if (
                                    v == triangles[f, 0]
                                    or v == triangles[f, 1]
                                    or v == triangles[f, 2]
                                ):
                                    same += 1
                            if same == 3 and remaining > 1:
                                alive[g] = False
                                gone[g] = done
                                remaining -= 1
                        d = link[d]
                    c = link[c]
            left[done] = remaining
            done += 1
            # Room for the edges of all faces around, each met twice at most.
            if many + 2 * around + 2 > len(stamps):
                grown = 2 * len(stamps) + 2 * around
                more_following = np.empty(grown, np.int32)
                more_ends, more_stamps = np.empty((grown, 2), np.int32), np.empty(grown, np.int32)
                more_following[:many] = following[:many]
                more_ends[:many], more_stamps[:many] = ends[:many], stamps[:many]
                following, ends, stamps = more_following, more_ends, more_stamps
            stamp += 2
            c = head[a]
            while c >= 0:
                f = c // 3
                if alive[f]:
                    for k in range(3):
                        v = triangles[f, k]
                        if v != a and mark[v] != stamp and not locked[v] and not locked[a]:
                            mark[v] = stamp
                            _, value = _best(points, quadrics, a, v, held)
                            ends[many, 0], ends[many, 1] = a, v
                            stamps[many] = version[a] + version[v]
                            bucket = _bucket(value)
                            following[many], first[bucket] = first[bucket], many
                            low = min(low, bucket)
                            many += 1
                c = link[c]
    wedges_before[done] = wedge_done
    for f in range(faces):
        if gone[f] == count:
            gone[f] = done
    return (
        merges[:done].copy(),
        shares[:done].copy(),
        left[:done].copy(),
        gone,
        wedge_merges[:wedge_done].copy(),
        wedge_shares[:wedge_done].copy(),
        wedges_before[: done + 1].copy(),
    )


@kernel(
    types.void(
        types.Array(types.int32, 2, "C", readonly=True),
        types.Array(types.float64, 1, "C", readonly=True),
        types.int64,
        types.int64,
        types.int32[::1],
        types.float64[::1],
    ),
    parallel=False,
)
def replay(merges, shares, done, count, root, weight):  # type: ignore[no-untyped-def]
    """After so many merges, the node that each first node is part of, and its share of that.

    merges, shares : as :func:`collapses` gives them; done : how many of them; count : first nodes
    root, weight : (count + merges,), written
    """
    for n in range(count + done):
        root[n] = int32(n)
        weight[n] = 1.0
    for j in range(done - 1, -1, -1):
        a, b = merges[j, 0], merges[j, 1]
        root[a] = root[count + j]
        root[b] = root[count + j]
        weight[a] = weight[count + j] * (1.0 - shares[j])
        weight[b] = weight[count + j] * shares[j]
