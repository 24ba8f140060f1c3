"""Voronoi cells of places in space as closed surfaces, whose walls may be jagged.

Neighbouring cells share the points of their wall, so that whatever moves these moves both sides
alike.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import scipy

from zygomorph.core.geometry.runs import ragged

# How far the places that close the outermost cells lie, as a share of the size: nothing of the
# solid is nearer to them than to a place inside it.
FAR_AWAY = 4.0
# Walls are divided no finer than into so many triangles.
MOST_TRIANGLES = 50_000


@dataclass(frozen=True, eq=False)
class Cells:
    """points : (P, 3) float64, metres; triangles : (T, 3) int, of all walls, once
    sides : (T, 2) int, the cells on both sides of each, -1 outside of all; a triangle looks out of
        the first
    count : of cells
    boxes : (count, 2, 3) metres, lowest and highest corner of what of each cell lies within the
        bounds; the lowest above the highest where nothing does
    """

    points: np.ndarray
    triangles: np.ndarray
    sides: np.ndarray
    count: int
    boxes: np.ndarray

    def surface(
        self, cell: int, order: np.ndarray, starts: np.ndarray
    ) -> tuple[np.ndarray, np.ndarray]:
        """Points (n, 3), triangles (m, 3) of one cell, looking out; see :meth:`by_cell`."""
        mine = order[starts[cell] : starts[cell + 1]]
        number, second = np.divmod(mine, 2)
        triangles = self.triangles[number]
        triangles = np.where(second[:, None] == 1, triangles[:, ::-1], triangles)
        used = np.zeros(len(self.points), bool)
        used[triangles] = True
        return self.points[used], (np.cumsum(used) - 1)[triangles]

    def by_cell(self) -> tuple[np.ndarray, np.ndarray]:
        """Sides of triangles, 2 times the number plus 0 or 1, cell after cell: order, starts."""
        owner = self.sides.reshape(-1)
        order = np.argsort(owner, kind="stable")
        order = order[owner[order] >= 0]
        counts = np.bincount(owner[order], minlength=self.count)
        return order, np.concatenate([[0], np.cumsum(counts)])


def _around(low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """Places all around a box, far away."""
    middle, reach = (low + high) / 2, FAR_AWAY * float(np.linalg.norm(high - low))
    ways = np.array([[x, y, z] for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1)], float)
    ways = ways[np.any(ways != 0, axis=1)]
    found: np.ndarray = middle + reach * ways / np.linalg.norm(ways, axis=1, keepdims=True)
    return found


def _clipped(
    begin: np.ndarray, end: np.ndarray, low: np.ndarray, high: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Segments, (n, 3) both ends, as far as they lie in a box, and (n,) bool, which do.

    Y.-D. Liang & B. Barsky, "A New Concept and Method for Line Clipping", ACM Transactions on
    Graphics 3, 1984.
    """
    way = end - begin
    with np.errstate(divide="ignore", invalid="ignore"):
        one, other = (low - begin) / way, (high - begin) / way
    along = way != 0
    # A segment that runs along a pair of sides is between them or not.
    between = (begin >= low) & (begin <= high)
    first = np.where(along, np.minimum(one, other), np.where(between, -np.inf, np.inf))
    last = np.where(along, np.maximum(one, other), np.where(between, np.inf, -np.inf))
    enters = np.clip(first.max(axis=1), 0, 1)[:, None]
    leaves = np.clip(last.min(axis=1), 0, 1)[:, None]
    inside = (first.max(axis=1) <= last.min(axis=1)) & (last.min(axis=1) >= 0)
    return begin + enters * way, begin + leaves * way, inside & (first.max(axis=1) <= 1)


def _edges_of_box(low: np.ndarray, high: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Both ends of the twelve edges, (12, 3)."""
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], float)
    begins = np.concatenate([corners[corners[:, axis] == 0] for axis in range(3)])
    ends = begins + np.repeat(np.eye(3), 4, axis=0)
    return low + begins * (high - low), low + ends * (high - low)


def _boxes(
    sites: np.ndarray,
    pairs: np.ndarray,
    walls: tuple[np.ndarray, np.ndarray, np.ndarray],
    low: np.ndarray,
    high: np.ndarray,
) -> np.ndarray:
    """(N, 2, 3) the boxes around what of each cell lies in a box.

    Its corners lie on edges of the cell within the box, or on edges of the box within the cell.

    pairs : (W, 2) the sites on both sides of each wall
    walls : of every edge of a wall its ends, (n, 3) both, and the number of the wall, (n,)
    """
    count = len(sites)
    lows, highs = np.full((count, 3), np.inf), np.full((count, 3), -np.inf)

    def add(cell: np.ndarray, places: np.ndarray) -> None:
        np.minimum.at(lows, cell, places)
        np.maximum.at(highs, cell, places)

    begin, end, wall = walls
    one, other, inside = _clipped(begin, end, low, high)
    for places in (one[inside], other[inside]):
        for side in (0, 1):
            add(pairs[wall[inside], side], places)
    both = np.concatenate([pairs, pairs[:, ::-1]])
    own, next_ = sites[both[:, 0]], sites[both[:, 1]]
    # A place p is in the cell where 2 p · (s' - s) <= s'² - s² for every neighbour s' of its site.
    across = 2 * (next_ - own)
    level = np.einsum("ij,ij->i", next_, next_) - np.einsum("ij,ij->i", own, own)
    for a, b in zip(*_edges_of_box(low, high), strict=True):
        slope, room = across @ (b - a), level - across @ a
        with np.errstate(divide="ignore", invalid="ignore"):
            at = room / slope
        enters, leaves = np.zeros(count), np.ones(count)
        np.maximum.at(enters, both[slope < 0, 0], at[slope < 0])
        np.minimum.at(leaves, both[slope > 0, 0], at[slope > 0])
        leaves[both[(slope == 0) & (room < 0), 0]] = -1
        cell = np.flatnonzero(enters <= leaves)
        for share in (enters[cell], leaves[cell]):
            add(cell, a + share[:, None] * (b - a))
    return np.stack([lows, highs], axis=1)


def voronoi_cells(sites: np.ndarray, low: np.ndarray, high: np.ndarray) -> Cells:
    """The cells of places, (N, 3), as far as they reach well beyond a box.

    Qhull: C. B. Barber, D. P. Dobkin, H. Huhdanpaa, 1996, by scipy.spatial.
    """
    count = len(sites)
    all_sites = np.concatenate([sites, _around(low, high)])
    found = scipy.spatial.Voronoi(all_sites)
    ridges = np.asarray(found.ridge_points)
    near = np.flatnonzero((ridges < count).any(axis=1))
    used = [k for k in near if -1 not in found.ridge_vertices[k]]
    sizes = np.array([len(found.ridge_vertices[k]) for k in used])
    around = np.concatenate([found.ridge_vertices[k] for k in used]).astype(np.int64)
    starts = np.cumsum(sizes) - sizes
    # Qhull names the corners of a wall in their order; it is a fan from the first.
    fan = ragged(np.ones(len(used), np.int64), sizes - 2)
    first = np.repeat(starts, sizes - 2)
    triangles = np.stack([around[first], around[first + fan], around[first + fan + 1]], axis=1)
    sides = np.repeat(ridges[used], sizes - 2, axis=0).astype(np.int64)
    points = found.vertices
    # Away from the first place.
    corners = points[triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    way = all_sites[sides[:, 1]] - all_sites[sides[:, 0]]
    turned = np.einsum("ij,ij->i", normals, way) < 0
    # One wall is turned as one, so that a triangle without area turns with its neighbours.
    wall = np.repeat(np.arange(len(used)), sizes - 2)
    size = np.abs(np.einsum("ij,ij->i", normals, way))
    votes = np.bincount(wall, np.where(turned, -size, size), len(used))
    over = (votes < 0)[wall]
    triangles[over] = triangles[over][:, ::-1]
    sides[sides >= count] = -1
    after = np.arange(len(around)) + 1
    after[starts + sizes - 1] = starts
    edges = (points[around], points[around[after]], np.repeat(np.arange(len(used)), sizes))
    boxes = _boxes(all_sites, ridges[used].astype(np.int64), edges, low, high)[:count]
    return Cells(np.asarray(points), triangles, sides, count, boxes)


def _split_once(cells: Cells, long: Callable[[np.ndarray], np.ndarray]) -> Cells | None:
    """Every edge that is too long halved, and its triangles with it; None where there is none."""
    triangles = cells.triangles
    ends = np.sort(np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=2), axis=2)
    count = len(cells.points)
    keys, of_side = np.unique(ends[..., 0] * count + ends[..., 1], return_inverse=True)
    edges = np.stack(np.divmod(keys, count), axis=1)
    halved = long(edges)
    if not halved.any():
        return None
    number = np.where(halved, len(cells.points) + np.cumsum(halved) - 1, -1)
    points = np.concatenate([cells.points, cells.points[edges[halved]].mean(axis=1)])
    mid = number[of_side.reshape(-1, 3)]
    made, sides = [], []

    def add(chosen: np.ndarray, *corners: np.ndarray) -> None:
        made.append(np.stack(corners, axis=1))
        sides.append(cells.sides[chosen])

    many = (mid >= 0).sum(axis=1)
    for k in range(3):
        a, b, c = (triangles[:, (k + j) % 3] for j in range(3))
        ab, bc, ca = (mid[:, (k + j) % 3] for j in range(3))
        one = np.flatnonzero((many == 1) & (ab >= 0))
        add(one, a[one], ab[one], c[one])
        add(one, ab[one], b[one], c[one])
        two = np.flatnonzero((many == 2) & (ca < 0))
        add(two, ab[two], b[two], bc[two])
        add(two, a[two], ab[two], bc[two])
        add(two, a[two], bc[two], c[two])
        three = np.flatnonzero(many == 3)
        add(three, a[three], ab[three], ca[three])
    none, three = np.flatnonzero(many == 0), np.flatnonzero(many == 3)
    add(none, *triangles[none].T)
    add(three, *mid[three].T)
    return replace(
        cells, points=points, triangles=np.concatenate(made), sides=np.concatenate(sides)
    )


def divided(cells: Cells, longest: float, low: np.ndarray, high: np.ndarray) -> Cells:
    """The same cells whose walls have no edge longer than so many metres inside a box."""

    def long(edges: np.ndarray) -> np.ndarray:
        begin, end = points[edges[:, 0]], points[edges[:, 1]]
        near = ((np.minimum(begin, end) <= high) & (np.maximum(begin, end) >= low)).all(axis=1)
        found: np.ndarray = near & (np.linalg.norm(end - begin, axis=1) > longest)
        return found

    while len(cells.triangles) < MOST_TRIANGLES:
        points = cells.points
        finer = _split_once(cells, long)
        if finer is None:
            return cells
        cells = finer
    return cells


def jagged(
    cells: Cells,
    move: Callable[[np.ndarray], np.ndarray],
    longest: float,
    low: np.ndarray,
    high: np.ndarray,
) -> Cells:
    """The same cells with rough walls; ``move`` tells where points, (P, 3), go, and may not fold
    space."""
    finer = divided(cells, longest, low, high)
    points = move(finer.points)
    near = ((finer.points >= low) & (finer.points <= high)).all(axis=1)
    farthest = float(np.abs(points - finer.points)[near].max(initial=0.0))
    boxes = finer.boxes + np.array([[-farthest], [farthest]])
    return replace(finer, points=points, boxes=boxes)
