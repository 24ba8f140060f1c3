"""The square cells over a sheet, and which of them other things cover."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import types

from zygomorph.core.kernels.compiled import F2, I2, kernel

B2W = types.boolean[:, ::1]


@dataclass(frozen=True)
class Cells:
    """origin : (x, z) of the middle of the first cell, metres
    size : of a cell, metres
    rows, columns : along z and along x
    """

    origin: tuple[float, float]
    size: float
    rows: int
    columns: int

    @property
    def shape(self) -> tuple[int, int]:
        return self.rows, self.columns

    def middles(self) -> tuple[np.ndarray, np.ndarray]:
        """x of the columns and z of the rows, metres."""
        x = self.origin[0] + self.size * np.arange(self.columns)
        return x, self.origin[1] + self.size * np.arange(self.rows)


def cells_over(points: np.ndarray, count: int, margin: int) -> Cells:
    """Cells over the x and z of points, (P, 3), so many along the longer side; margin : more on
    each side."""
    low, high = points[:, [0, 2]].min(axis=0), points[:, [0, 2]].max(axis=0)
    wide, deep = (float(each) for each in high - low)
    size = max(wide, deep, 1e-6) / count
    columns, rows = (max(round(side / size), 1) for side in (wide, deep))
    # The grid lies over the middle where its cells are not a whole number along the shorter side.
    left = (low[0] + high[0] - (columns - 1) * size) / 2 - margin * size
    back = (low[1] + high[1] - (rows - 1) * size) / 2 - margin * size
    return Cells((float(left), float(back)), size, rows + 2 * margin, columns + 2 * margin)


@kernel(types.void(F2, I2, types.float64, types.float64, types.float64, B2W), parallel=False)
def _cover(points, triangles, x0, z0, size, out):  # type: ignore[no-untyped-def]
    rows, columns = out.shape
    for t in range(triangles.shape[0]):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ax, az = (points[a, 0] - x0) / size, (points[a, 2] - z0) / size
        bx, bz = (points[b, 0] - x0) / size, (points[b, 2] - z0) / size
        cx, cz = (points[c, 0] - x0) / size, (points[c, 2] - z0) / size
        area = (bx - ax) * (cz - az) - (bz - az) * (cx - ax)
        if area == 0:
            continue
        sign = 1.0 if area > 0 else -1.0
        # What lies on an edge counts on both sides of it, so that no cell falls between triangles.
        slack = -1e-6 * abs(area) - 1e-9
        for i in range(max(0, int(np.ceil(min(az, bz, cz) - 1e-6))), rows):
            if i > max(az, bz, cz) + 1e-6:
                break
            for j in range(max(0, int(np.ceil(min(ax, bx, cx) - 1e-6))), columns):
                if j > max(ax, bx, cx) + 1e-6:
                    break
                one = sign * ((bx - ax) * (i - az) - (bz - az) * (j - ax))
                two = sign * ((cx - bx) * (i - bz) - (cz - bz) * (j - bx))
                three = sign * ((ax - cx) * (i - cz) - (az - cz) * (j - cx))
                if one >= slack and two >= slack and three >= slack:
                    out[i, j] = True


def covered(points: np.ndarray, triangles: np.ndarray, cells: Cells) -> np.ndarray:
    """(rows, columns) bool: cells whose middles triangles, (T, 3), cover as seen from above."""
    out = np.zeros(cells.shape, np.bool_)
    corners = np.ascontiguousarray(triangles, np.int32)
    _cover(points, corners, *cells.origin, cells.size, out)
    return out


def crossed(points: np.ndarray, triangles: np.ndarray, level: float, cells: Cells) -> np.ndarray:
    """(rows, columns) bool: cells whose middles are inside of a surface at a level.

    The surface cuts the level in an outline; along each row inside and outside take turns at it.
    """
    y = points[:, 1].astype(np.float64) - level
    above = y > 0
    corners = triangles[above[triangles].any(axis=1) & ~above[triangles].all(axis=1)]
    ends = []
    for a, b in ((0, 1), (1, 2), (2, 0)):
        one, two = corners[:, a], corners[:, b]
        cut = above[one] != above[two]
        share = np.where(cut, y[one] / np.where(cut, y[one] - y[two], 1), np.nan)[:, None]
        flat = points[:, [0, 2]].astype(np.float64)
        ends.append(flat[one] + share * (flat[two] - flat[one]))
    found = np.stack(ends, axis=1)
    # Of the three sides of each triangle two are cut.
    keep = ~np.isnan(found[:, :, 0])
    segments = found[keep].reshape(-1, 2, 2)
    return _inside(segments, cells)


def _inside(segments: np.ndarray, cells: Cells) -> np.ndarray:
    """segments : (S, 2, 2) of outlines, x and z of both ends"""
    z = (segments[:, :, 1] - cells.origin[1]) / cells.size
    x = (segments[:, :, 0] - cells.origin[0]) / cells.size
    turns = np.zeros((cells.rows, cells.columns + 1), np.int64)
    low, high = z.min(axis=1), z.max(axis=1)
    first = np.maximum(np.ceil(low), 0).astype(np.int64)
    last = np.minimum(np.ceil(high) - 1, cells.rows - 1).astype(np.int64)
    for s in np.flatnonzero(last >= first):
        rows = np.arange(first[s], last[s] + 1)
        along = (rows - z[s, 0]) / (z[s, 1] - z[s, 0])
        at = x[s, 0] + along * (x[s, 1] - x[s, 0])
        columns = np.clip(np.ceil(at), 0, cells.columns).astype(np.int64)
        np.add.at(turns, (rows, columns), 1)
    odd: np.ndarray = np.cumsum(turns, axis=1)[:, : cells.columns] % 2 == 1
    return odd
