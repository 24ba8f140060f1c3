"""Nearest points and hits of rays on a triangle mesh, nearest_y a tree of boxes.

Boxes are split at the middle of their longest side, as in I. Wald's early builders of bounding
volume hierarchies; the nearest point of a triangle is that of C. Ericson, "Real-Time Collision
Detection", 2005, section 5.1.5; the ray test is T. Möller & B. Trumbore, "Fast, Minimum Storage
Ray/Triangle Intersection", 1997.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numba import int32, prange, types

from zygomorph.core.cancelling import go_on
from zygomorph.core.kernels.compiled import CHUNKS, I1, I1W, I2, first_of, inline, kernel

# Places that are looked up before it is asked whether anybody waits.
AT_A_TIME = 200_000
LEAF = 4
DEEPEST = 64
FAR = np.inf

D2 = types.Array(types.float64, 2, "C", readonly=True)
D1W = types.float64[::1]
D2W = types.float64[:, ::1]
I2W = types.int32[:, ::1]


@kernel(types.int32(D2, D2, D2, I1W, D2W, I2W), parallel=False, fastmath=False)
def _build(low, high, middle, order, boxes, nodes):  # type: ignore[no-untyped-def]
    """Fill boxes (N, 6) and nodes (N, 3): first, count, second child; returns how many nodes.

    A leaf has count > 0 triangles from ``first`` in ``order``; an inner node's first child is the
    next node, its second is named.
    """
    stack = np.empty((DEEPEST * 2, 3), np.int32)
    stack[0, 0], stack[0, 1], stack[0, 2] = 0, order.shape[0], -1
    top = 1
    made = 0
    while top > 0:
        top -= 1
        begin, end, parent = stack[top, 0], stack[top, 1], stack[top, 2]
        node = made
        made += 1
        if parent >= 0:
            nodes[parent, 2] = node
        span = np.empty((2, 3))
        span[0] = np.inf
        span[1] = -np.inf
        for axis in range(3):
            boxes[node, axis] = np.inf
            boxes[node, 3 + axis] = -np.inf
        for k in range(begin, end):
            t = order[k]
            for axis in range(3):
                boxes[node, axis] = min(boxes[node, axis], low[t, axis])
                boxes[node, 3 + axis] = max(boxes[node, 3 + axis], high[t, axis])
                span[0, axis] = min(span[0, axis], middle[t, axis])
                span[1, axis] = max(span[1, axis], middle[t, axis])
        axis = 0
        for other in range(1, 3):
            if span[1, other] - span[0, other] > span[1, axis] - span[0, axis]:
                axis = other
        wide = span[1, axis] - span[0, axis]
        if end - begin <= LEAF or wide <= 0.0 or top + 2 > stack.shape[0]:
            nodes[node, 0], nodes[node, 1], nodes[node, 2] = begin, end - begin, -1
            continue
        cut = 0.5 * (span[0, axis] + span[1, axis])
        left, right = begin, end - 1
        while left <= right:
            if middle[order[left], axis] < cut:
                left += 1
            else:
                order[left], order[right] = order[right], order[left]
                right -= 1
        if left in (begin, end):
            left = (begin + end) // 2
        nodes[node, 0], nodes[node, 1], nodes[node, 2] = begin, 0, -1
        stack[top, 0], stack[top, 1], stack[top, 2] = left, end, node
        stack[top + 1, 0], stack[top + 1, 1], stack[top + 1, 2] = begin, left, -1
        top += 2
    return int32(made)


@inline
def _nearest_on(place_x, place_y, place_z, corners, t):  # type: ignore[no-untyped-def]
    """The nearest point of triangle t to a place; corners : (T, 9)."""
    corner_x, corner_y, corner_z = corners[t, 0], corners[t, 1], corners[t, 2]
    ab_x, ab_y, ab_z = corners[t, 3] - corner_x, corners[t, 4] - corner_y, corners[t, 5] - corner_z
    ac_x, ac_y, ac_z = corners[t, 6] - corner_x, corners[t, 7] - corner_y, corners[t, 8] - corner_z
    ap_x, ap_y, ap_z = place_x - corner_x, place_y - corner_y, place_z - corner_z
    d1 = ab_x * ap_x + ab_y * ap_y + ab_z * ap_z
    d2 = ac_x * ap_x + ac_y * ap_y + ac_z * ap_z
    bp_x, bp_y, bp_z = ap_x - ab_x, ap_y - ab_y, ap_z - ab_z
    d3 = ab_x * bp_x + ab_y * bp_y + ab_z * bp_z
    d4 = ac_x * bp_x + ac_y * bp_y + ac_z * bp_z
    cp_x, cp_y, cp_z = ap_x - ac_x, ap_y - ac_y, ap_z - ac_z
    d5 = ab_x * cp_x + ab_y * cp_y + ab_z * cp_z
    d6 = ac_x * cp_x + ac_y * cp_y + ac_z * cp_z
    vc = d1 * d4 - d3 * d2
    vb = d5 * d2 - d1 * d6
    va = d3 * d6 - d5 * d4
    v, w = 0.0, 0.0
    if d1 <= 0 and d2 <= 0:
        v, w = 0.0, 0.0
    elif d3 >= 0 and d4 <= d3:
        v, w = 1.0, 0.0
    elif d6 >= 0 and d5 <= d6:
        v, w = 0.0, 1.0
    elif vc <= 0 and d1 >= 0 and d3 <= 0:
        v, w = d1 / (d1 - d3), 0.0
    elif vb <= 0 and d2 >= 0 and d6 <= 0:
        v, w = 0.0, d2 / (d2 - d6)
    elif va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
        v = 1.0 - w
    else:
        whole = va + vb + vc
        v, w = vb / whole, vc / whole
    return (
        corner_x + v * ab_x + w * ac_x,
        corner_y + v * ab_y + w * ac_y,
        corner_z + v * ab_z + w * ac_z,
    )


@inline
def _box_distance(place_x, place_y, place_z, boxes, node):  # type: ignore[no-untyped-def]
    """Square of the distance from a place to the box of a node."""
    x = max(max(boxes[node, 0] - place_x, 0.0), place_x - boxes[node, 3])
    y = max(max(boxes[node, 1] - place_y, 0.0), place_y - boxes[node, 4])
    z = max(max(boxes[node, 2] - place_z, 0.0), place_z - boxes[node, 5])
    return x * x + y * y + z * z


@kernel(types.void(D2, D2, I1, D2, I2, types.float64, D2W, D1W, I1W), fastmath=False)
def _nearest(places, corners, order, boxes, nodes, limit, found, distance, face):  # type: ignore[no-untyped-def]
    count_all = places.shape[0]
    for chunk in prange(CHUNKS):
        stack = np.empty(DEEPEST * 2, np.int32)
        away = np.empty(DEEPEST * 2)
        for q in range(first_of(chunk, count_all), first_of(chunk + 1, count_all)):
            place_x, place_y, place_z = places[q, 0], places[q, 1], places[q, 2]
            best = limit * limit
            nearest_x, nearest_y, nearest_z, chosen = 0.0, 0.0, 0.0, -1
            stack[0], away[0] = 0, _box_distance(place_x, place_y, place_z, boxes, 0)
            top = 1
            while top > 0:
                top -= 1
                node = stack[top]
                if away[top] >= best:
                    continue
                count = nodes[node, 1]
                if count > 0:
                    for t in range(nodes[node, 0], nodes[node, 0] + count):
                        x, y, z = _nearest_on(place_x, place_y, place_z, corners, t)
                        square = (x - place_x) ** 2 + (y - place_y) ** 2 + (z - place_z) ** 2
                        if square < best:
                            best, nearest_x, nearest_y, nearest_z, chosen = square, x, y, z, t
                    continue
                # The nearer child is looked at first, and mostly spares the other.
                nearer, farther = node + 1, nodes[node, 2]
                near = _box_distance(place_x, place_y, place_z, boxes, nearer)
                far = _box_distance(place_x, place_y, place_z, boxes, farther)
                if far < near:
                    nearer, farther, near, far = farther, nearer, far, near
                stack[top], away[top] = farther, far
                stack[top + 1], away[top + 1] = nearer, near
                top += 2
            found[q, 0], found[q, 1], found[q, 2] = nearest_x, nearest_y, nearest_z
            distance[q] = np.sqrt(best)
            face[q] = order[chosen] if chosen >= 0 else -1


@inline
def _entry(place_x, place_y, place_z, inverse_x, inverse_y, inverse_z, boxes, node, best):  # type: ignore[no-untyped-def]
    """Where a ray enters the box of a node, or infinity where it does not before ``best``.

    inverse : one over the ray's way
    """
    x0, x1 = (boxes[node, 0] - place_x) * inverse_x, (boxes[node, 3] - place_x) * inverse_x
    y0, y1 = (boxes[node, 1] - place_y) * inverse_y, (boxes[node, 4] - place_y) * inverse_y
    z0, z1 = (boxes[node, 2] - place_z) * inverse_z, (boxes[node, 5] - place_z) * inverse_z
    enter = max(max(min(x0, x1), min(y0, y1)), max(min(z0, z1), 0.0))
    leave = min(min(max(x0, x1), max(y0, y1)), min(max(z0, z1), best))
    return enter if enter <= leave else np.inf


@kernel(types.void(D2, D2, D2, I1, D2, I2, types.float64, D1W, I1W), fastmath=False)
def _cast(places, ways, corners, order, boxes, nodes, limit, distance, face):  # type: ignore[no-untyped-def]
    """ways : (1, 3) or (Q, 3) unit vectors"""
    each = ways.shape[0] != 1
    count_all = places.shape[0]
    for chunk in prange(CHUNKS):
        stack = np.empty(DEEPEST * 2, np.int32)
        for q in range(first_of(chunk, count_all), first_of(chunk + 1, count_all)):
            place_x, place_y, place_z = places[q, 0], places[q, 1], places[q, 2]
            row = q if each else 0
            ray_x, ray_y, ray_z = ways[row, 0], ways[row, 1], ways[row, 2]
            # A way that is level against an axis never leaves its slab.
            inverse_x = 1.0 / ray_x if abs(ray_x) > 1e-300 else 1e300
            inverse_y = 1.0 / ray_y if abs(ray_y) > 1e-300 else 1e300
            inverse_z = 1.0 / ray_z if abs(ray_z) > 1e-300 else 1e300
            best, chosen = limit, -1
            stack[0] = 0
            top = 1
            while top > 0:
                top -= 1
                node = stack[top]
                if (
                    _entry(
                        place_x,
                        place_y,
                        place_z,
                        inverse_x,
                        inverse_y,
                        inverse_z,
                        boxes,
                        node,
                        best,
                    )
                    == np.inf
                ):
                    continue
                count = nodes[node, 1]
                if count == 0:
                    stack[top] = nodes[node, 2]
                    stack[top + 1] = node + 1
                    top += 2
                    continue
                for t in range(nodes[node, 0], nodes[node, 0] + count):
                    corner_x, corner_y, corner_z = corners[t, 0], corners[t, 1], corners[t, 2]
                    side_x, side_y, side_z = (
                        corners[t, 3] - corner_x,
                        corners[t, 4] - corner_y,
                        corners[t, 5] - corner_z,
                    )
                    other_side_x, other_side_y, other_side_z = (
                        corners[t, 6] - corner_x,
                        corners[t, 7] - corner_y,
                        corners[t, 8] - corner_z,
                    )
                    normal_x, normal_y, normal_z = (
                        ray_y * other_side_z - ray_z * other_side_y,
                        ray_z * other_side_x - ray_x * other_side_z,
                        ray_x * other_side_y - ray_y * other_side_x,
                    )
                    det = side_x * normal_x + side_y * normal_y + side_z * normal_z
                    if det == 0.0:
                        continue
                    offset_x, offset_y, offset_z = (
                        place_x - corner_x,
                        place_y - corner_y,
                        place_z - corner_z,
                    )
                    u = (offset_x * normal_x + offset_y * normal_y + offset_z * normal_z) / det
                    turned_x, turned_y, turned_z = (
                        offset_y * side_z - offset_z * side_y,
                        offset_z * side_x - offset_x * side_z,
                        offset_x * side_y - offset_y * side_x,
                    )
                    v = (ray_x * turned_x + ray_y * turned_y + ray_z * turned_z) / det
                    far = (
                        other_side_x * turned_x + other_side_y * turned_y + other_side_z * turned_z
                    ) / det
                    # A little wider than the triangle, so that no ray slips through an edge.
                    if u >= -1e-9 and v >= -1e-9 and u + v <= 1.0 + 1e-9 and 0.0 <= far < best:
                        best, chosen = far, t
            distance[q] = best
            face[q] = order[chosen] if chosen >= 0 else -1


@dataclass(frozen=True)
class SurfaceSearch:
    """A tree over the triangles of a mesh; see :func:`search_of`.

    corners : (T, 9) of the triangles in the tree's order; order : (T,) their own numbers
    """

    corners: np.ndarray
    order: np.ndarray
    boxes: np.ndarray
    nodes: np.ndarray

    @property
    def size_in_bytes(self) -> int:
        return self.corners.nbytes + self.order.nbytes + self.boxes.nbytes + self.nodes.nbytes

    def nearest(
        self, places: np.ndarray, limit: float = FAR
    ) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Nearest point of the surface to each place.

        places : (Q, 3); limit : metres beyond which nothing is looked for
        returns points (Q, 3) float64, distances (Q,) float64, triangles (Q,) int32, -1 where none
        """
        places = np.ascontiguousarray(places, np.float64)
        found, distance = np.zeros_like(places), np.full(len(places), limit)
        face = np.full(len(places), -1, np.int32)
        for part in self._parts(len(places)):
            _nearest(
                places[part],
                self.corners,
                self.order,
                self.boxes,
                self.nodes,
                limit,
                found[part],
                distance[part],
                face[part],
            )
        return found, distance, face

    def _parts(self, count: int) -> Iterator[slice]:
        """Parts of so many places, between which the work may be called off; none where there
        are no triangles."""
        for begin in range(0, count if len(self.order) else 0, AT_A_TIME):
            go_on()
            yield slice(begin, begin + AT_A_TIME)

    def cast(
        self, places: np.ndarray, ways: np.ndarray, limit: float = FAR
    ) -> tuple[np.ndarray, np.ndarray]:
        """How far a ray from each place goes until it meets the surface, from either side.

        places : (Q, 3); ways : (1, 3) or (Q, 3) unit vectors
        returns distances (Q,) float64, triangles (Q,) int32, -1 where the ray misses
        """
        places = np.ascontiguousarray(places, np.float64)
        ways = np.ascontiguousarray(ways, np.float64)
        distance = np.full(len(places), limit)
        face = np.full(len(places), -1, np.int32)
        for part in self._parts(len(places)):
            _cast(
                places[part],
                ways if len(ways) == 1 else ways[part],
                self.corners,
                self.order,
                self.boxes,
                self.nodes,
                limit,
                distance[part],
                face[part],
            )
        return distance, face


def search_of(points: np.ndarray, triangles: np.ndarray) -> SurfaceSearch:
    """A tree over triangles; points : (P, 3), triangles : (T, 3)."""
    points = np.ascontiguousarray(points, np.float64)
    triangles = np.ascontiguousarray(triangles, np.int32)
    corners = points[triangles]
    low, high = corners.min(axis=1), corners.max(axis=1)
    order = np.arange(len(triangles), dtype=np.int32)
    boxes = np.empty((max(2 * len(triangles), 1), 6))
    nodes = np.empty((len(boxes), 3), np.int32)
    made = 0
    if len(triangles):
        made = _build(low, high, 0.5 * (low + high), order, boxes, nodes)
    # In the tree's order, so that the triangles of a leaf lie side nearest_y side.
    table = np.ascontiguousarray(corners[order].reshape(-1, 9))
    return SurfaceSearch(table, order, boxes[:made].copy(), nodes[:made].copy())
