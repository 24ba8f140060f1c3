"""When a spreading front arrives at each point of a surface: distances along it.

Fast marching over triangles: the point that is reached first is taken from a heap, and each
triangle carries its two known distances on to its third point, as from a source laid out in the
triangle's plane (M. Novotni & R. Klein, "Computing Geodesic Distances on Triangular Meshes", WSCG
2002). Where the source lies to the side, the front goes along the edges; so it does on curves.
"""

from __future__ import annotations

import numpy as np
from numba import types

from zygomorph.core.compiled import F2, I1, I2, inline, kernel
from zygomorph.core.topology import Topology

D1W = types.float64[::1]


@inline
def _from_side(da, db, ab, ac, bc):  # type: ignore[no-untyped-def]
    """Distance at c from a source that is da from a and db from b, over the side between them.

    ab, ac, bc : lengths of the sides. Infinite where the way does not cross the side.
    """
    far = np.inf
    if ab <= 0.0 or abs(da - db) >= ab:
        return far
    cx = (ac * ac - bc * bc + ab * ab) / (2.0 * ab)
    cy = np.sqrt(max(ac * ac - cx * cx, 0.0))
    if da + db <= ab:
        # No one source: a front that lies along the side goes straight on.
        if cx <= 0.0 or cx >= ab:
            return far
        slope = (db - da) / ab
        straight = np.sqrt(max(1.0 - slope * slope, 0.0))
        foot = cx - cy * slope / max(straight, 1e-9)
        if foot < 0.0 or foot > ab:
            return far
        return da + cx * slope + cy * straight
    sx = (da * da - db * db + ab * ab) / (2.0 * ab)
    sy = np.sqrt(max(da * da - sx * sx, 0.0))
    if cy + sy <= 0.0:
        return far
    cross = sx + (cx - sx) * sy / (sy + cy)
    if cross < 0.0 or cross > ab:
        return far
    return np.sqrt((cx - sx) ** 2 + (cy + sy) ** 2)


@inline
def _apart(points, a, b):  # type: ignore[no-untyped-def]
    x = float(points[a, 0]) - points[b, 0]
    y = float(points[a, 1]) - points[b, 1]
    z = float(points[a, 2]) - points[b, 2]
    return np.sqrt(x * x + y * y + z * z)


@kernel(types.void(F2, I2, I1, I1, I1, I1, I1, D1W), parallel=False, fastmath=False)
def _march(points, triangles, starts, around, edge_starts, edges, seeds, arrival):  # type: ignore[no-untyped-def]
    """Carry the arrivals of the seeds on to every point that they improve.

    starts, around : triangles at each point; edge_starts, edges : its neighbours
    arrival : (P,) metres, read and written
    """
    n = points.shape[0]
    # A heap of points by arrival; place[p] is where a point stands in it, or -1.
    heap = np.empty(n, np.int32)
    place = np.full(n, -1, np.int32)
    size = 0
    for s in range(seeds.shape[0]):
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
    while size > 0:
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
        wishes = (edge_starts[p + 1] - edge_starts[p]) + 2 * (starts[p + 1] - starts[p])
        for w in range(wishes):
            neighbours = edge_starts[p + 1] - edge_starts[p]
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
                if arrival[b] < np.inf:
                    over = _from_side(
                        here,
                        arrival[b],
                        _apart(points, p, b),
                        _apart(points, p, c),
                        _apart(points, b, c),
                    )
                    found = min(found, over)
            if found < arrival[c] - 1e-9 * (1.0 + abs(found)):
                arrival[c] = found
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

    return topology.derived(("triangles at points",), make)


def march(
    topology: Topology, points: np.ndarray, seeds: np.ndarray, arrival: np.ndarray
) -> np.ndarray:
    """Distances along the surface, where some points have theirs already.

    points : (P, 3) float32, metres
    seeds : (S,) numbers of points whose arrival is carried on
    arrival : (P,) float64, metres, infinite where nothing has arrived; points that the seeds reach
        sooner are improved, all others are left
    returns (P,) float64
    """
    points = np.ascontiguousarray(points, np.float32)
    triangles = np.ascontiguousarray(topology.triangles(points), np.int32).reshape(-1, 3)
    starts, around = _triangles_at_points(topology, triangles)
    edge_starts, edges = topology.neighbours
    found = np.array(arrival, np.float64)
    _march(
        points,
        triangles,
        starts,
        around,
        edge_starts,
        edges,
        np.ascontiguousarray(seeds, np.int32),
        found,
    )
    return found


def distance_from(topology: Topology, points: np.ndarray, seeds: np.ndarray) -> np.ndarray:
    """Distance along the surface from the nearest seed, (P,) float64 metres; infinite where none
    can be reached."""
    arrival = np.full(len(points), np.inf)
    arrival[seeds] = 0
    return march(topology, points, seeds, arrival)
