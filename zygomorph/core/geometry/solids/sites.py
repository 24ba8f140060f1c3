"""Places inside a solid from which it is broken, in an order in which the first so many are always
the same: one more place adds a cell and leaves those far from it as they are.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.surface_search import SurfaceSearch

# Places that are tried for each that is wanted, and at least.
TRIED = 6
LEAST_TRIED = 3000
# A cell is about so many times as dense where a mask is 1 as where it is 0.
DENSEST = 60.0
# So many more places are tried, so that there are enough where they gather.
MORE_TO_GATHER = 4
UP = np.array([[0.0, 1.0, 0.0]])


def are_inside(places: np.ndarray, search: SurfaceSearch, normals: np.ndarray) -> np.ndarray:
    """(Q,) bool: a ray that goes up meets the back of a face first.

    normals : (T, 3) of the triangles that are searched
    """
    distance, face = search.cast(places, UP)
    hit = (face >= 0) & (distance > 0)
    found: np.ndarray = hit & (normals[np.maximum(face, 0), 1] > 0)
    return found


def _below_the_surface(
    count: int,
    chance: np.random.Generator,
    corners: np.ndarray,
    normals: np.ndarray,
    search: SurfaceSearch,
) -> np.ndarray:
    """Places between a point of the surface and the wall across from it: they are inside however
    thin the walls are. corners : (T, 3, 3); normals : (T, 3), as long as twice the areas."""
    areas = np.linalg.norm(normals, axis=1)
    chosen = np.searchsorted(np.cumsum(areas) / areas.sum(), chance.random(count))
    chosen = np.minimum(chosen, len(areas) - 1)
    first, second = chance.random((2, count))
    over = first + second > 1
    first[over], second[over] = 1 - first[over], 1 - second[over]
    at = corners[chosen]
    on = at[:, 0] + first[:, None] * (at[:, 1] - at[:, 0]) + second[:, None] * (at[:, 2] - at[:, 0])
    ways = -normals[chosen] / np.maximum(areas[chosen], 1e-30)[:, None]
    size = np.ptp(corners.reshape(-1, 3), axis=0).max()
    start = on + ways * (1e-6 * size)
    depth, face = search.cast(start, ways)
    depth = np.where(face >= 0, depth, 0)
    found: np.ndarray = (start + ways * (depth * chance.random(count))[:, None])[depth > 0]
    return found


def candidates(
    points: np.ndarray, triangles: np.ndarray, search: SurfaceSearch, count: int, seed: int
) -> np.ndarray:
    """(count or so, 3) places inside, by chance: evenly in the volume where it is not too thin.

    points : (P, 3), triangles : (T, 3); search : over these
    """
    chance = np.random.default_rng(seed)
    corners = np.asarray(points, np.float64)[triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    low, high = corners.min(axis=(0, 1)), corners.max(axis=(0, 1))
    tried = low + chance.random((4 * count, 3)) * (high - low)
    found = tried[are_inside(tried, search, normals)][:count]
    if len(found) < count:
        more = _below_the_surface(count - len(found), chance, corners, normals, search)
        # Mixed, so that the first ones are not all where the solid is thick.
        found = np.concatenate([found, more])
        found = found[chance.permutation(len(found))]
    return found


def spaced(places: np.ndarray, count: int, room: np.ndarray | None = None) -> np.ndarray:
    """(count,) numbers of places, each as far as can be from those before it.

    room : (n,) by which distances to a place are divided: where it is small they stand closer
    T. F. Gonzalez, "Clustering to minimize the maximum intercluster distance", 1985.
    """
    scale = 1.0 if room is None else 1 / room**2
    count = min(count, len(places))
    chosen = np.zeros(count, np.int64)
    nearest = np.full(len(places), np.inf)
    for k in range(count):
        if k:
            chosen[k] = int(nearest.argmax())
        away = places - places[chosen[k]]
        np.minimum(nearest, np.einsum("ij,ij->i", away, away) * scale, out=nearest)
    return chosen


def sites_inside(
    points: np.ndarray,
    triangles: np.ndarray,
    search: SurfaceSearch,
    count: int,
    way: str,
    seed: int,
    weights: np.ndarray | None,
) -> np.ndarray:
    """(n, 3) float64, n up to ``count``: places inside, all different.

    way : "even" or "random"
    weights : (P,) mask by which they gather, or None
    """
    wanted = max(TRIED * count, LEAST_TRIED)
    many = wanted if weights is None else MORE_TO_GATHER * wanted
    found = candidates(points, triangles, search, many, seed)
    if weights is not None and len(found):
        _, _, face = search.nearest(found)
        near = weights[triangles[face]].mean(axis=1)
        share = (1 + (DENSEST - 1) * near) / DENSEST
        if way == "even":
            return np.asarray(found[spaced(found, count, np.cbrt(1 / share))])
        # In the order of their chances, so that there are always enough.
        dice = np.random.default_rng([seed, 1]).random(len(found))
        found = found[np.argsort(dice / share, kind="stable")]
    if way == "random":
        return np.asarray(found[:count])
    return np.asarray(found[spaced(found, count)])
