"""The surface of a field as a mesh: its points, its triangles, its normals."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.voxels.cube_cases import cube_cases
from zygomorph.core.kernels.marching_cubes import count_slabs, write_points, write_triangles


@dataclass(frozen=True, eq=False)
class Grid:
    """Grid points at ``origin + cell * (i, j, k)``.

    origin : (3,) float64, metres; cell : metres; shape : points along x, y and z
    """

    origin: np.ndarray
    cell: float
    shape: tuple[int, int, int]

    @classmethod
    def around(cls, low: np.ndarray, high: np.ndarray, cell: float, margin: float) -> Grid:
        """Over a box and so many metres around it."""
        low = np.asarray(low, np.float64) - margin
        sides = np.maximum(np.ceil((np.asarray(high, np.float64) + margin - low) / cell), 1)
        shape = tuple(int(side) + 1 for side in sides)
        return cls(low, cell, shape)  # type: ignore[arg-type]

    @property
    def count(self) -> int:
        return int(np.prod(self.shape, dtype=np.int64))

    def places(self, flat: np.ndarray) -> np.ndarray:
        """(n, 3) float64, metres: where grid points are, by their flat numbers."""
        at = np.stack(np.unravel_index(flat, self.shape), axis=1)
        found: np.ndarray = self.origin + self.cell * at
        return found


@dataclass(frozen=True, eq=False)
class Skin:
    """points, normals : (P, 3) float32; triangles : (T, 3) int32, looking to where the field grows
    source : (P,) int32, the grid point that each point is nearest to, by its flat number
    """

    points: np.ndarray
    normals: np.ndarray
    triangles: np.ndarray
    source: np.ndarray


def skin_of(field: np.ndarray, grid: Grid, level: float = 0.0) -> Skin:
    """Where a field, (X, Y, Z) float32, has a level. It is closed where the rim of the grid lies
    outside, that is, above the level."""
    field = np.ascontiguousarray(field, np.float32)
    case_starts, case_edges = cube_cases()
    counts = np.empty((field.shape[0], 2), np.int32)
    iso = np.float32(level)
    count_slabs(field, iso, case_starts, counts)
    starts = np.zeros((field.shape[0] + 1, 2), np.int32)
    np.cumsum(counts, axis=0, out=starts[1:])
    points, normals = np.empty((2, starts[-1, 0], 3), np.float32)
    source = np.empty(starts[-1, 0], np.int32)
    first = np.empty(field.shape, np.int32)
    of_points, of_triangles = np.ascontiguousarray(starts.T)
    write_points(
        field,
        iso,
        of_points,
        grid.origin.astype(np.float32),
        np.float32(grid.cell),
        first,
        points,
        normals,
        source,
    )
    triangles = np.empty((starts[-1, 1], 3), np.int32)
    write_triangles(field, iso, of_triangles, case_starts, case_edges, first, triangles)
    return Skin(points, normals, triangles, source)
