"""When a spreading front arrives at each point of a surface: distances along it.

Fast marching over triangles: the point that is reached first is taken from a heap, and each
triangle carries its two known distances on to its third point, as from a source laid out in the
triangle's plane (M. Novotni & R. Klein, "Computing Geodesic Distances on Triangular Meshes", WSCG
2002). Two distances that come from different sources have no one source: each point remembers the
direction in which the front passed it, and where the two do not agree with a common source, each
goes on alone, from where its own direction says that it came. Where a source lies to the side, the
front goes along the edges; so it does on curves.
"""

from __future__ import annotations

import numpy as np
from numba import types

from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.compiled import F2, I1, I1W, I2, inline, kernel

D1W = types.float64[::1]
D2W = types.float64[:, ::1]
# Points that are passed before it is asked whether anybody waits: some tenths of a second.
AT_A_TIME = 200_000


# Cosines of the largest angle between where the front came from at a point and where a common
# source would have it come from: for sources that may be different ones, and for one that goes
# round something.
SAME_LINE, SAME_POINT = np.cos(np.radians(15.0)), np.cos(np.radians(60.0))
# Sine of the angle up to which a direction counts as lying in a plane.
FLAT = 0.25
FAR = np.inf


@inline
def _from_both(da, db, ab, cx, cy, a, b, least):  # type: ignore[no-untyped-def]
    """Distance at (cx, cy), and direction there, of a front that is da from (0, 0) and db from
    (ab, 0), and comes over the side between them.

    a, b : (x, y) directions of the front there, zero where they are not known
    least : cosine of the largest angle between these and those of the common source
    returns (distance, x, y); infinite where the way does not cross the side, or there is no
    common source
    """
    none = (FAR, 0.0, 0.0)
    if ab <= 0.0 or abs(da - db) >= ab:
        return none
    if da + db <= ab:
        # No one point: a front that lies along the side goes straight on.
        if cx <= 0.0 or cx >= ab:
            return none
        x = (db - da) / ab
        y = np.sqrt(max(1.0 - x * x, 0.0))
        foot = cx - cy * x / max(y, 1e-9)
        if foot < 0.0 or foot > ab:
            return none
        ax, ay, bx, by = x, y, x, y
        found = da + cx * x + cy * y
    else:
        sx = (da * da - db * db + ab * ab) / (2.0 * ab)
        sy = np.sqrt(max(da * da - sx * sx, 0.0))
        if cy + sy <= 0.0:
            return none
        cross = sx + (cx - sx) * sy / (sy + cy)
        if cross < 0.0 or cross > ab:
            return none
        found = np.sqrt((cx - sx) ** 2 + (cy + sy) ** 2)
        x, y = (cx - sx) / found, (cy + sy) / found
        ax, ay = -sx / max(da, 1e-30), sy / max(da, 1e-30)
        bx, by = (ab - sx) / max(db, 1e-30), sy / max(db, 1e-30)
    known_a = (a[0] != 0.0 or a[1] != 0.0) and da > 0.0
    known_b = (b[0] != 0.0 or b[1] != 0.0) and db > 0.0
    if known_a and a[0] * ax + a[1] * ay < least:
        return none
    if known_b and b[0] * bx + b[1] * by < least:
        return none
    return found, x, y


@inline
def _from_one(d, at, way, flat, ab, cx, cy):  # type: ignore[no-untyped-def]
    """The same of the front at one end of the side alone; at : 0 or ab

    flat : whether it came there in about the same plane. Round a fold it is not known where a
        single direction would go on.
    """
    sx, sy = at - d * way[0], d * way[1]
    if not flat or d <= 0.0 or cy + sy <= 0.0 or sy < 0.0:
        return FAR, 0.0, 0.0
    cross = sx + (cx - sx) * sy / (sy + cy)
    if cross < 0.0 or cross > ab:
        return FAR, 0.0, 0.0
    found = np.sqrt((cx - sx) ** 2 + (cy + sy) ** 2)
    # What is not ahead of the front is not reached by it, however near its source would lie.
    if found < d:
        return FAR, 0.0, 0.0
    return found, (cx - sx) / found, (cy + sy) / found


@inline
def _laid_out(ways, p, normal, ex, ey, ez, fx, fy, fz):  # type: ignore[no-untyped-def]
    """The direction in which the front passed p in the plane of a triangle, (x, y) along its axes
    e and f; zero where it is not known.

    Its own triangle is turned about the line in which the two planes meet.
    ways : (P, 6) directions, and normals of the triangles in whose plane they are
    returns (x, y), and whether it hardly leaves the plane without being turned
    """
    flat = abs(ways[p, 0] * normal[0] + ways[p, 1] * normal[1] + ways[p, 2] * normal[2]) < FLAT
    x, y, z = ways[p, 0], ways[p, 1], ways[p, 2]
    nx, ny, nz = ways[p, 3], ways[p, 4], ways[p, 5]
    c = nx * normal[0] + ny * normal[1] + nz * normal[2]
    if c > -0.99 and (nx != 0.0 or ny != 0.0 or nz != 0.0):
        # Rodrigues' formula for the turn that takes one normal to the other.
        ux = ny * normal[2] - nz * normal[1]
        uy = nz * normal[0] - nx * normal[2]
        uz = nx * normal[1] - ny * normal[0]
        dot = (ux * x + uy * y + uz * z) / (1.0 + c)
        x, y, z = (
            c * x + uy * z - uz * y + dot * ux,
            c * y + uz * x - ux * z + dot * uy,
            c * z + ux * y - uy * x + dot * uz,
        )
    a, b = x * ex + y * ey + z * ez, x * fx + y * fy + z * fz
    length = np.sqrt(a * a + b * b)
    if length < 1e-12:
        return (0.0, 0.0), False
    return (a / length, b / length), flat


@inline
def _normal(points, a, b, c):  # type: ignore[no-untyped-def]
    ux = float(points[b, 0]) - points[a, 0]
    uy = float(points[b, 1]) - points[a, 1]
    uz = float(points[b, 2]) - points[a, 2]
    vx = float(points[c, 0]) - points[a, 0]
    vy = float(points[c, 1]) - points[a, 1]
    vz = float(points[c, 2]) - points[a, 2]
    x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
    length = max(np.sqrt(x * x + y * y + z * z), 1e-30)
    return x / length, y / length, z / length


@inline
def _apart(points, a, b):  # type: ignore[no-untyped-def]
    x = float(points[a, 0]) - points[b, 0]
    y = float(points[a, 1]) - points[b, 1]
    z = float(points[a, 2]) - points[b, 2]
    return np.sqrt(x * x + y * y + z * z)


@kernel(
    types.int64(
        *(F2, I2, I1, I1, I1, I1, I1),
        *(types.boolean, D1W, D2W, I1W, I1W, I1W, types.int64, types.int64),
    ),
    parallel=False,
    fastmath=False,
)
def _march(  # type: ignore[no-untyped-def]
    points,
    triangles,
    starts,
    around,
    edge_starts,
    edges,
    seeds,
    lines,
    arrival,
    ways,
    roots,
    heap,
    place,
    waiting,
    most,
):
    """Carry the arrivals of the seeds on to every point that they improve.

    starts, around : triangles at each point; edge_starts, edges : its neighbours
    lines : whether seeds that share an edge are a line between them, or points
    arrival : (P,) metres, read and written
    ways : (P, 6) direction in which the front passed a point, zero where that is not known, with
        the normal of the triangle it came over
    roots : (P,) the seed that the front came from, or -1 where it came from a line
    heap, place : (P,) points by arrival, and where each stands among them, or -1
    waiting : how many stand in the heap, or -1 at the beginning
    most : how many points are passed before it returns

    Returns how many points wait; with none it is done, else it is called again.
    """
    size = max(waiting, 0)
    for s in range(seeds.shape[0] if waiting < 0 else 0):
        p = seeds[s]
        alone = arrival[p] == 0.0
        if lines:
            for k in range(edge_starts[p], edge_starts[p + 1]):
                alone = alone and arrival[edges[k]] == np.inf
        if alone:
            roots[p] = p
    for s in range(seeds.shape[0] if waiting < 0 else 0):
        p = seeds[s]
        if place[p] >= 0:
            continue
        k = size
        size += 1
        while k > 0 and arrival[heap[(k - 1) // 2]] > arrival[p]:
            heap[k] = heap[(k - 1) // 2]
            place[heap[k]] = k
            k = (k - 1) // 2
        heap[k] = p
        place[p] = k
    while size > 0 and most > 0:
        most -= 1
        p = heap[0]
        place[p] = -1
        size -= 1
        if size > 0:
            last = heap[size]
            k = 0
            while True:
                child = 2 * k + 1
                if child >= size:
                    break
                if child + 1 < size and arrival[heap[child + 1]] < arrival[heap[child]]:
                    child += 1
                if arrival[heap[child]] >= arrival[last]:
                    break
                heap[k] = heap[child]
                place[heap[k]] = k
                k = child
            heap[k] = last
            place[last] = k
        here = arrival[p]
        steps_around = (edge_starts[p + 1] - edge_starts[p]) + 2 * (starts[p + 1] - starts[p])
        for w in range(steps_around):
            neighbours = edge_starts[p + 1] - edge_starts[p]
            root = roots[p]
            wx = wy = wz = 0.0
            normal = (0.0, 0.0, 0.0)
            if w < neighbours:
                c = edges[edge_starts[p] + w]
                found = here + _apart(points, p, c)
            else:
                t = around[starts[p] + (w - neighbours) // 2]
                turn = 0
                for k in range(3):
                    if triangles[t, k] == p:
                        turn = k
                side = 1 + (w - neighbours) % 2
                b = triangles[t, (turn + side) % 3]
                c = triangles[t, (turn + 3 - side) % 3]
                # Sides of triangles are also diagonals of polygons, which no edge follows.
                found = here + _apart(points, p, c)
                ab = _apart(points, p, b)
                x = float(points[c, 0]) - points[p, 0]
                y = float(points[c, 1]) - points[p, 1]
                z = float(points[c, 2]) - points[p, 2]
                if arrival[b] < np.inf and ab > 0.0:
                    normal = _normal(points, triangles[t, 0], triangles[t, 1], triangles[t, 2])
                    ex = (float(points[b, 0]) - points[p, 0]) / ab
                    ey = (float(points[b, 1]) - points[p, 1]) / ab
                    ez = (float(points[b, 2]) - points[p, 2]) / ab
                    cx = x * ex + y * ey + z * ez
                    fx, fy, fz = x - cx * ex, y - cx * ey, z - cx * ez
                    cy = np.sqrt(fx * fx + fy * fy + fz * fz)
                    high = max(cy, 1e-30)
                    fx, fy, fz = fx / high, fy / high, fz / high
                    pa, flat_a = _laid_out(ways, p, normal, ex, ey, ez, fx, fy, fz)
                    pb, flat_b = _laid_out(ways, b, normal, ex, ey, ez, fx, fy, fz)
                    over, dx, dy = FAR, 0.0, 0.0
                    straight = 0.0
                    if roots[p] < 0 and roots[b] < 0:
                        joined = here > 0.0 or arrival[b] > 0.0
                        # Of two seeds only an edge is a line, not the diagonal of a polygon.
                        for k in range(edge_starts[p], edge_starts[p + 1]):
                            joined = joined or edges[k] == b
                        if joined:
                            over, dx, dy = _from_both(
                                here, arrival[b], ab, cx, cy, pa, pb, SAME_LINE
                            )
                    elif roots[p] == roots[b]:
                        over, dx, dy = _from_both(here, arrival[b], ab, cx, cy, pa, pb, SAME_POINT)
                        straight = _apart(points, c, roots[p])
                    if over == FAR:
                        over, dx, dy = _from_one(here, 0.0, pa, flat_a, ab, cx, cy)
                        two, tx, ty = _from_one(arrival[b], ab, pb, flat_b, ab, cx, cy)
                        if two < over:
                            over, dx, dy = two, tx, ty
                            root = roots[b]
                        straight = _apart(points, c, root) if root >= 0 else 0.0
                    # Never nearer than in a straight line.
                    over = max(over, straight)
                    if over < found and cy > 0.0:
                        found = over
                        wx, wy, wz = dx * ex + dy * fx, dx * ey + dy * fy, dx * ez + dy * fz
                    else:
                        root = roots[p]
            # Along an edge it is straight from a seed; further on it may have gone round a corner.
            if wx == 0.0 and wy == 0.0 and wz == 0.0 and here == 0.0:
                length = max(_apart(points, p, c), 1e-30)
                wx = (float(points[c, 0]) - points[p, 0]) / length
                wy = (float(points[c, 1]) - points[p, 1]) / length
                wz = (float(points[c, 2]) - points[p, 2]) / length
            if found < arrival[c] - 1e-9 * (1.0 + abs(found)):
                arrival[c] = found
                ways[c, 0], ways[c, 1], ways[c, 2] = wx, wy, wz
                ways[c, 3], ways[c, 4], ways[c, 5] = normal
                roots[c] = root
                k = place[c]
                if k < 0:
                    k = size
                    size += 1
                while k > 0 and arrival[heap[(k - 1) // 2]] > found:
                    heap[k] = heap[(k - 1) // 2]
                    place[heap[k]] = k
                    k = (k - 1) // 2
                heap[k] = c
                place[c] = k
    return size


def _triangles_at_points(
    topology: Topology, triangles: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Triangles at each point: starts (P + 1,) and triangles, both int32."""

    def make() -> tuple[np.ndarray, np.ndarray]:
        corners = triangles.reshape(-1)
        order = np.argsort(corners, kind="stable")
        starts = np.zeros(topology.point_count + 1, np.int32)
        np.cumsum(np.bincount(corners, minlength=topology.point_count), out=starts[1:])
        return starts, (order // 3).astype(np.int32)

    if topology.cut is None and topology.has_large_faces:
        # Cut anew for each set of positions.
        return make()
    return topology.derived(("triangles at points",), make)


def march(
    topology: Topology,
    points: np.ndarray,
    seeds: np.ndarray,
    arrival: np.ndarray,
    lines: bool = False,
) -> np.ndarray:
    """Distances along the surface, where some points have theirs already.

    points : (P, 3) float32, metres
    seeds : (S,) numbers of points whose arrival is carried on
    arrival : (P,) float64, metres, infinite where nothing has arrived; points that the seeds reach
        sooner are improved, all others are left
    lines : whether seeds that share an edge are a line between them, or points
    returns (P,) float64
    """
    points = np.ascontiguousarray(points, np.float32)
    triangles = np.ascontiguousarray(topology.triangles(points), np.int32).reshape(-1, 3)
    starts, around = _triangles_at_points(topology, triangles)
    edge_starts, edges = topology.neighbours
    found = np.array(arrival, np.float64)
    count = len(points)
    given = (points, triangles, starts, around, edge_starts, edges)
    seeds = np.ascontiguousarray(seeds, np.int32)
    ways = np.zeros((count, 6))
    roots, place = np.full((2, count), -1, np.int32)
    heap = np.empty(count, np.int32)
    waiting = -1
    while waiting != 0:
        go_on()
        waiting = _march(*given, seeds, lines, found, ways, roots, heap, place, waiting, AT_A_TIME)
    return found


def distance_from(
    topology: Topology, points: np.ndarray, seeds: np.ndarray, lines: bool = False
) -> np.ndarray:
    """Distance along the surface from the nearest seed, (P,) float64 metres; infinite where none
    can be reached.

    lines : whether seeds that share an edge are a line between them, or points
    """
    arrival = np.full(len(points), np.inf)
    arrival[seeds] = 0
    return march(topology, points, seeds, arrival, lines)
