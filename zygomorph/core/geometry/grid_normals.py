"""Normals of a grid of quads, row by row, without asking which point is joined to which.

The vector areas of the faces around a point add up to that of the outline they make together,
so that four cross products do for four quads: each neighbour along the grid times the way from
the corner before it to the corner after it. At a border the outline runs through the border's own
points, which are taken for the neighbours that are not there.
"""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.geometry.topology import Grid
from zygomorph.core.kernels.compiled import CHUNKS, F2, F2W, first_of, kernel, per_block
from zygomorph.core.kernels.structure_of_arrays import split, write_units


@per_block
def padded_row(flat, row, across, wraps, into):  # type: ignore[no-untyped-def]
    """The points of a row to ``into`` (3, across + 2), with the neighbours of its two ends."""
    split(flat, row * across, across, into[0, 1:], into[1, 1:], into[2, 1:])
    before, after = (across, 1) if wraps else (1, across)
    for axis in range(3):
        into[axis, 0] = into[axis, before]
        into[axis, across + 1] = into[axis, after]


@kernel(types.void(F2, types.int64, types.int64, types.boolean, types.boolean, F2W), first=160)
def _grid_normals(points, across, down, wrap_columns, wrap_rows, out):  # type: ignore[no-untyped-def]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    for chunk in prange(CHUNKS):
        work = np.empty((9, across + 2), np.float32)
        sums = np.empty((3, across), np.float32)
        above, here, below = work[0:3], work[3:6], work[6:9]
        for row in range(first_of(chunk, down), first_of(chunk + 1, down)):
            before, after = max(row - 1, 0), min(row + 1, down - 1)
            if wrap_rows:
                before, after = (row + down - 1) % down, (row + 1) % down
            padded_row(flat, before, across, wrap_columns, above)
            padded_row(flat, row, across, wrap_columns, here)
            padded_row(flat, after, across, wrap_columns, below)
            for axis in range(3):
                # The normal's part along this axis takes the other two.
                s, t = (axis + 1) % 3, (axis + 2) % 3
                hs, ht = here[s], here[t]
                us, ut, ds, dt = above[s], above[t], below[s], below[t]
                total = sums[axis]
                for i in range(across):
                    ps, pt = hs[i + 1], ht[i + 1]
                    total[i] = (
                        (hs[i] - ps) * (dt[i] - ut[i])
                        - (ht[i] - pt) * (ds[i] - us[i])
                        + (ds[i + 1] - ps) * (dt[i + 2] - dt[i])
                        - (dt[i + 1] - pt) * (ds[i + 2] - ds[i])
                        + (hs[i + 2] - ps) * (ut[i + 2] - dt[i + 2])
                        - (ht[i + 2] - pt) * (us[i + 2] - ds[i + 2])
                        + (us[i + 1] - ps) * (ut[i] - ut[i + 2])
                        - (ut[i + 1] - pt) * (us[i] - us[i + 2])
                    )
            write_units(sums[0], sums[1], sums[2], row * across, across, flat_out)


def grid_normals(points: np.ndarray, grid: Grid) -> np.ndarray:
    """(P, 3) float32 unit normals of the points, (P, 3) float32, of a grid."""
    out = np.empty_like(points)
    _grid_normals(points, grid.across, grid.down, grid.wrap_columns, grid.wrap_rows, out)
    return out
