"""The distance from a mesh, below 0 inside of it, on a regular grid.

Near the surface it is exact; farther away it ends at the width of a band, or where it is wanted
everywhere, is that of the triangles which are nearest to places around.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.surface_search import search_of
from zygomorph.core.geometry.voxels.skin import Grid
from zygomorph.core.kernels.distance_field import measure_far, measure_slabs, wind_slabs

# Far away the nearest triangles are looked for at every so many grid points.
COARSE = 3
# Where a triangle has an inside on both of its sides this far from it, in cells, it is a wall
# inside, and no part of the skin.
BESIDE = 1.5


@dataclass(frozen=True, eq=False)
class Field:
    """distance : (X, Y, Z) float32, metres
    nearest : (X, Y, Z) int32, the triangle that each grid point is nearest to, -1 beyond the band
    """

    distance: np.ndarray
    nearest: np.ndarray


def _slabs(points: np.ndarray, triangles: np.ndarray, reach: float, count: int) -> tuple:
    """For each slab along x the triangles that come within a reach of it: starts, triangles; in
    units of the grid."""
    x = points[:, 0][triangles]
    low = np.clip(np.floor(x.min(axis=1) - reach), 0, count - 1).astype(np.int64)
    high = np.clip(np.ceil(x.max(axis=1) + reach), 0, count - 1).astype(np.int64)
    many = high - low + 1
    slab = ragged(low, many)
    of = np.repeat(np.arange(len(triangles)), many)
    order = np.argsort(slab, kind="stable")
    starts = np.concatenate([[0], np.cumsum(np.bincount(slab, minlength=count))])
    return starts.astype(np.int32), of[order].astype(np.int32)


def _in_cells(points: np.ndarray, grid: Grid) -> np.ndarray:
    return ((np.asarray(points, np.float64) - grid.origin) / grid.cell).astype(np.float32)


def windings(points: np.ndarray, triangles: np.ndarray, grid: Grid) -> np.ndarray:
    """(X, Y, Z) int16: how many times a closed surface goes around each grid point."""
    places = _in_cells(points, grid)
    triangles = np.ascontiguousarray(triangles, np.int32)
    found = np.empty(grid.shape, np.int16)
    wind_slabs(places, triangles, *_slabs(places, triangles, 0.0, grid.shape[0]), found)
    return found


def _on_the_outside(places: np.ndarray, triangles: np.ndarray, inside: np.ndarray) -> np.ndarray:
    """(T,) bool: triangles that are part of the skin, not walls inside."""
    corners = places[triangles]
    middle = corners.mean(axis=1)
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    last = np.array(inside.shape) - 1
    found = np.ones(len(triangles), bool)
    for side in (-BESIDE, BESIDE):
        at = np.clip(np.rint(middle + side * normal).astype(np.int64), 0, last)
        found &= inside[tuple(at.T)]
    return ~found


def field_of(
    points: np.ndarray,
    triangles: np.ndarray,
    grid: Grid,
    band: float,
    closed: bool,
    far: bool = False,
) -> Field:
    """The distance from a mesh.

    points : (P, 3) metres; triangles : (T, 3)
    band : metres, within which it is exact
    closed : whether there is an inside, where the distance is below 0
    far : whether it goes on beyond the band
    """
    places = _in_cells(points, grid)
    triangles = np.ascontiguousarray(triangles, np.int32)
    inside = None
    outer = np.arange(len(triangles))
    if closed:
        inside = windings(points, triangles, grid) > 0
        go_on()
        outer = np.flatnonzero(_on_the_outside(places, triangles, inside))
    reach = np.float32(band / grid.cell)
    squared, nearest = np.empty(grid.shape, np.float32), np.empty(grid.shape, np.int32)
    corners = np.ascontiguousarray(places[triangles[outer]].reshape(-1, 9))
    slabs = _slabs(places, triangles[outer], float(reach), grid.shape[0])
    measure_slabs(corners, *slabs, reach, squared, nearest)
    go_on()
    if far and len(outer):
        measure_far(corners, _nearest_from_afar(corners, grid), np.int32(COARSE), squared, nearest)
    distance = np.sqrt(squared, out=squared)
    distance *= np.float32(grid.cell)
    if len(outer) != len(triangles):
        nearest = np.where(nearest >= 0, outer[np.maximum(nearest, 0)], -1).astype(np.int32)
    if inside is not None:
        np.negative(distance, where=inside, out=distance)
    return Field(distance, nearest)


def _nearest_from_afar(corners: np.ndarray, grid: Grid) -> np.ndarray:
    """The nearest triangle to every so many grid points each way, one more than there are cells.

    corners : (T, 9) of the triangles, in cells
    """
    counts = [(n - 1) // COARSE + 2 for n in grid.shape]
    at = np.stack(np.meshgrid(*(COARSE * np.arange(n) for n in counts), indexing="ij"), axis=-1)
    triangles = np.arange(3 * len(corners), dtype=np.int32).reshape(-1, 3)
    _, _, face = search_of(corners.reshape(-1, 3), triangles).nearest(at.reshape(-1, 3))
    return np.ascontiguousarray(face.reshape(counts), np.int32)
