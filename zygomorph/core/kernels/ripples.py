"""Loops of the ripple tank: the wave equation on a grid, and its surface at points.

h″ = c² ∇²h - r h - g h′ + f, by the leapfrog scheme, in which the next height takes the place of
the last one. Heights have a cell more on every side, which mirrors its neighbour: there the slope
is 0, and waves are thrown back.
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import CHUNKS, F1, F2, F2W, first_of, kernel, per_block
from zygomorph.core.kernels.splines import spline_weights


@per_block
def _mirrored(h):  # type: ignore[no-untyped-def]
    rows, columns = h.shape
    for j in range(1, columns - 1):
        h[0, j] = h[1, j]
        h[rows - 1, j] = h[rows - 2, j]
    for i in range(rows):
        h[i, 0] = h[i, 1]
        h[i, columns - 1] = h[i, columns - 2]


@per_block
def _free_row(above, here, below, last, pull, rest, keep):  # type: ignore[no-untyped-def]
    for j in range(1, here.shape[0] - 1):
        h = here[j]
        around = above[j] + below[j] + here[j - 1] + here[j + 1] - float32(4.0) * h
        last[j] = h + keep * (h - last[j]) + pull * around - rest * h


@per_block
def _pushed_row(above, here, below, last, push, pull, rest, keep):  # type: ignore[no-untyped-def]
    for j in range(1, here.shape[0] - 1):
        h = here[j]
        around = above[j] + below[j] + here[j - 1] + here[j + 1] - float32(4.0) * h
        last[j] = h + keep * (h - last[j]) + pull * around - rest * h + push[j - 1]


@per_block
def _walled_row(above, here, below, last, push, water, keep, pull, rest):  # type: ignore[no-untyped-def]
    """water : three rows of 1 where there is water and 0 where there is a wall"""
    up, own, down = water
    for j in range(1, here.shape[0] - 1):
        h = here[j]
        around = (
            up[j] * (above[j] - h)
            + down[j] * (below[j] - h)
            + own[j - 1] * (here[j - 1] - h)
            + own[j + 1] * (here[j + 1] - h)
        )
        new = h + keep[j - 1] * (h - last[j]) + pull * around - rest * h + push[j - 1]
        last[j] = own[j] * new


@per_block
def _next_row(i, h, p, push, water, keeps, pull, rest, keep):  # type: ignore[no-untyped-def]
    above, here, below, last = h[i - 1], h[i], h[i + 1], p[i]
    if keeps.shape[0] > 0:
        rows = water[i - 1], water[i], water[i + 1]
        _walled_row(above, here, below, last, push[i - 1], rows, keeps[i - 1], pull, rest)
    elif push.shape[0] > 0:
        _pushed_row(above, here, below, last, push[i - 1], pull, rest, keep)
    else:
        _free_row(above, here, below, last, pull, rest, keep)


@kernel(types.void(F2W, F2W, F2, F2, F2, types.float32, types.float32, types.float32, types.int64))
def run(now, before, push, water, keeps, pull, rest, keep, steps):  # type: ignore[no-untyped-def]
    """So many steps; the last height is in ``now`` after an even number, otherwise in ``before``.

    now, before : (rows + 2, columns + 2) heights, metres, now and a step before
    push : (rows, columns) metres added in each step, or (0, 0)
    water, keeps : (rows + 2, columns + 2) 1 where there is water and 0 where there is not, and
        (rows, columns) what is left of the motion after a step; or (0, 0) where all is water and
        ``keep`` is left everywhere
    pull : (c dt / cell)²; rest : r dt²
    """
    rows = now.shape[0] - 2
    for step in range(steps):
        if step % 2 == 0:
            _mirrored(now)
            for chunk in prange(CHUNKS):
                for i in range(first_of(chunk, rows), first_of(chunk + 1, rows)):
                    _next_row(i + 1, now, before, push, water, keeps, pull, rest, keep)
        else:
            _mirrored(before)
            for chunk in prange(CHUNKS):
                for i in range(first_of(chunk, rows), first_of(chunk + 1, rows)):
                    _next_row(i + 1, before, now, push, water, keeps, pull, rest, keep)


@kernel(types.void(F2, F2W, F2, types.float32))
def spread_out(field, out, water, share):  # type: ignore[no-untyped-def]
    """A field after a share of it has gone to the four cells around each; walls take nothing.

    field, out : (rows, columns); water : (rows + 2, columns + 2), or (0, 0)
    """
    rows, columns = field.shape
    walled = water.shape[0] > 0
    for i in prange(rows):
        for j in range(columns):
            h = field[i, j]
            total = float32(0.0)
            if i > 0 and (not walled or water[i, j + 1] > 0):
                total += field[i - 1, j] - h
            if i + 1 < rows and (not walled or water[i + 2, j + 1] > 0):
                total += field[i + 1, j] - h
            if j > 0 and (not walled or water[i + 1, j] > 0):
                total += field[i, j - 1] - h
            if j + 1 < columns and (not walled or water[i + 1, j + 2] > 0):
                total += field[i, j + 1] - h
            out[i, j] = h + share * total


@kernel(types.void(F2, F1, F1, F1, F1, F2W))
def add_drops(centres, radius, strength, origin, cell, out):  # type: ignore[no-untyped-def]
    """Add to a field what drops do: strength (1 - r² / 2 s²) exp(-r² / 2 s²), of which there is as
    much up as down.

    centres : (D, 2) along x and z, metres; origin : (2,) the middle of the first cell; cell : (1,)
    """
    rows, columns = out.shape
    size = cell[0]
    for d in range(centres.shape[0]):
        s = radius[d]
        x, z = (centres[d, 0] - origin[0]) / size, (centres[d, 1] - origin[1]) / size
        reach = float32(4.5) * s / size
        per = size * size / (float32(2.0) * s * s)
        for i in prange(max(0, int(z - reach)), min(rows, int(z + reach) + 2)):
            for j in range(max(0, int(x - reach)), min(columns, int(x + reach) + 2)):
                dx, dz = float32(j) - x, float32(i) - z
                q = (dx * dx + dz * dz) * per
                out[i, j] += strength[d] * (float32(1.0) - q) * np.exp(-q)


@kernel(types.void(F2, types.Array(types.float32, 3, "C", readonly=True), F1, F1, F2W))
def fields_on(points, grids, origin, cell, out):  # type: ignore[no-untyped-def]
    """Fields between the middles of cells, at the x and z of points: (K, rows, columns) to (P, K);
    beyond the grid they are what they are at its rim."""
    n = points.shape[0]
    count, rows, columns = grids.shape
    per = float32(1.0) / cell[0]
    flat = points.reshape(-1)
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            x = min(max((flat[3 * p] - origin[0]) * per, float32(0.0)), float32(columns - 1))
            z = min(max((flat[3 * p + 2] - origin[1]) * per, float32(0.0)), float32(rows - 1))
            j, i = int(x), int(z)
            a = spline_weights(x - float32(j))
            b = spline_weights(z - float32(i))
            for k in range(count):
                total = float32(0.0)
                for di in range(4):
                    row = min(max(i + di - 1, 0), rows - 1)
                    along = float32(0.0)
                    for dj in range(4):
                        column = min(max(j + dj - 1, 0), columns - 1)
                        along += a[dj] * grids[k, row, column]
                    total += b[di] * along
                out[p, k] = total
