"""Loops of the sea: the waves' amplitudes at a moment, and the surface at points between the
crossings of its grid."""

from __future__ import annotations

import numpy as np
from numba import complex64, float32, float64, prange, types

from zygomorph.core.kernels.compiled import (
    CHUNKS,
    F1,
    F1W,
    F2,
    F2W,
    at,
    first_of,
    inline,
    kernel,
    per_block,
)
from zygomorph.core.kernels.splines import spline_slopes, spline_weights
from zygomorph.core.kernels.trigonometry import sine_cosine

TURN = float32(2 * np.pi)
# Points in a row from which on it is worth to find all that is between two rows of the grid.
LONG_ROW = 48
C2 = types.Array(types.complex64, 2, "C", readonly=True)
C3W = types.complex64[:, :, ::1]
D2 = types.Array(types.float64, 2, "C", readonly=True)
F3 = types.Array(types.float32, 3, "C", readonly=True)
F3W = types.float32[:, :, ::1]


@inline
def _sharpened(number, cells):  # type: ignore[no-untyped-def]
    """What a wave is divided by so that cubic B-splines through the grid have its height there."""
    _, c = sine_cosine(TURN * float32(number) / float32(cells))
    return (float32(2.0) + c) / float32(3.0)


@kernel(types.void(C2, C2, D2, F2, types.float64, types.float32, types.boolean, C3W))
def transform_of(forward, backward, turns, sideways, moment, step, foam, out):  # type: ignore[no-untyped-def]
    """Transforms of the surface at a moment: its height, its motion along x and along z, and, for
    foam, how far these stretch it: ∂x/∂x, ∂z/∂z, ∂x/∂z.

    moment : in periods; step : radians a metre for one wave a tile
    out : (3 or 6, cells, cells // 2 + 1)
    """
    cells, half = forward.shape
    for chunk in prange(CHUNKS):
        for row in range(first_of(chunk, cells), first_of(chunk + 1, cells)):
            number = row if 2 * row < cells else row - cells
            z = float32(number)
            down = _sharpened(number, cells)
            for column in range(half):
                cycles = turns[row, column] * moment
                s, c = sine_cosine(TURN * float32(cycles - np.floor(cycles)))
                a, b = forward[row, column], backward[row, column]
                real = float32(0.5) * ((a.real + b.real) * c + (a.imag - b.imag) * s)
                imag = float32(0.5) * ((a.imag + b.imag) * c + (b.real - a.real) * s)
                x = float32(column)
                length = max(np.sqrt(x * x + z * z), float32(1.0))
                aside = sideways[row, column]
                sharp = float32(1.0) / (down * _sharpened(column, cells))
                out[0, row, column] = complex64(complex(real * sharp, imag * sharp))
                # i k / |k|, so that points go towards the crests.
                ax = aside * x / length
                az = aside * z / length
                out[1, row, column] = complex64(complex(-ax * imag * sharp, ax * real * sharp))
                out[2, row, column] = complex64(complex(-az * imag * sharp, az * real * sharp))
                if foam:
                    kx, kz = -step * x, -step * z
                    out[3, row, column] = complex64(complex(kx * ax * real, kx * ax * imag))
                    out[4, row, column] = complex64(complex(kz * az * real, kz * az * imag))
                    out[5, row, column] = complex64(complex(kx * az * real, kx * az * imag))


@kernel(types.void(F3, types.float32, F2W))
def squeezed(stretch, choppiness, out):  # type: ignore[no-untyped-def]
    """The Jacobian of the motion to the sides: how large a level patch is against what it was.

    stretch : (3, N, N), ∂x/∂x, ∂z/∂z and ∂x/∂z for choppiness 1
    """
    cells = out.shape[0]
    for row in prange(cells):
        for column in range(cells):
            xx = float32(1.0) + choppiness * stretch[0, row, column]
            zz = float32(1.0) + choppiness * stretch[1, row, column]
            xz = choppiness * stretch[2, row, column]
            out[row, column] = xx * zz - xz * xz


@kernel(types.void(F3, F2, F3W))
def interleaved(fields, foam, out):  # type: ignore[no-untyped-def]
    """Four fields side by side, with the first rows and columns again after the last: (N, N) each
    to (N + 3, N + 3, 4), of which the entry (1, 1) is the first."""
    cells = foam.shape[0]
    for row in prange(cells + 3):
        source = (row + cells - 1) % cells
        for column in range(cells + 3):
            across = (column + cells - 1) % cells
            out[row, column, 0] = fields[0, source, across]
            out[row, column, 1] = fields[1, source, across]
            out[row, column, 2] = fields[2, source, across]
            out[row, column, 3] = foam[source, across]


@inline
def _crossing(position, per_tile, cells):  # type: ignore[no-untyped-def]
    """The crossing before a position along one side, and the share of a cell after it."""
    tiles = float64(position) * per_tile
    along = float32((tiles - np.floor(tiles)) * cells)
    before = min(int(along), cells - 1)
    return before, along - float32(before)


@per_block
def _between_rows(field, lo, wide, width, z, out):  # type: ignore[no-untyped-def]
    """Of four rows of the grid, ``wide`` numbers each, the first ``width`` times the weights of a
    place between them."""
    one = field[lo : lo + width]
    two = field[lo + wide : lo + wide + width]
    three = field[lo + 2 * wide : lo + 2 * wide + width]
    four = field[lo + 3 * wide : lo + 3 * wide + width]
    a, b, c, d = z
    for i in range(width):
        out[i] = a * one[i] + b * two[i] + c * three[i] + d * four[i]


@per_block
def _along_row(flat, i, end, per_tile, cells, row, out):  # type: ignore[no-untyped-def]
    """The surface at points ``i`` up to ``end``, of which all are between the same rows."""
    for k in range(i, end):
        column, fx = _crossing(flat[3 * k], per_tile, cells)
        x0, x1, x2, x3 = spline_weights(fx)
        t = row[4 * column : 4 * column + 16]
        here = out[4 * k : 4 * k + 4]
        here[0] = x0 * t[0] + x1 * t[4] + x2 * t[8] + x3 * t[12]
        here[1] = x0 * t[1] + x1 * t[5] + x2 * t[9] + x3 * t[13]
        here[2] = x0 * t[2] + x1 * t[6] + x2 * t[10] + x3 * t[14]
        here[3] = x0 * t[3] + x1 * t[7] + x2 * t[11] + x3 * t[15]


@per_block
def _slopes_along_row(flat, i, end, per_tile, cells, row, across, out):  # type: ignore[no-untyped-def]
    """Slopes there; row, across : what is between the rows, and how that changes across them."""
    per_cell = float32(per_tile * cells)
    for k in range(i, end):
        column, fx = _crossing(flat[3 * k], per_tile, cells)
        x0, x1, x2, x3 = spline_weights(fx)
        s0, s1, s2, s3 = spline_slopes(fx)
        t = row[4 * column : 4 * column + 16]
        u = across[4 * column : 4 * column + 16]
        here = out[6 * k : 6 * k + 6]
        here[0] = per_cell * (s0 * t[0] + s1 * t[4] + s2 * t[8] + s3 * t[12])
        here[1] = per_cell * (s0 * t[1] + s1 * t[5] + s2 * t[9] + s3 * t[13])
        here[2] = per_cell * (s0 * t[2] + s1 * t[6] + s2 * t[10] + s3 * t[14])
        here[3] = per_cell * (x0 * u[0] + x1 * u[4] + x2 * u[8] + x3 * u[12])
        here[4] = per_cell * (x0 * u[1] + x1 * u[5] + x2 * u[9] + x3 * u[13])
        here[5] = per_cell * (x0 * u[2] + x1 * u[6] + x2 * u[10] + x3 * u[14])


@per_block
def _same_row(flat, i, n):  # type: ignore[no-untyped-def]
    """The end of the points after ``i`` that have the same z."""
    z = flat[3 * i + 2]
    end = i + 1
    while end < n and flat[3 * end + 2] == z:
        end += 1
    return end


@kernel(types.void(F2, F3, types.float64, F2W, F2W))
def surface_at(points, grid, per_tile, out, slopes):  # type: ignore[no-untyped-def]
    """Height, motion along x and z, and foam at points, (P, 4); and how height and motions change
    along x and then along z, per metre, (P, 6), or (0, 6) where nobody asks.

    grid : as :func:`interleaved` makes it; per_tile : 1 / metres

    Points in rows, as sheets have them, share what is between the rows of the grid.
    """
    n = points.shape[0]
    cells = grid.shape[0] - 3
    wide = (cells + 3) * 4
    flat, field = points.reshape(-1), grid.reshape(-1)
    flat_out, flat_slopes = out.reshape(-1), slopes.reshape(-1)
    sloped = slopes.shape[0] > 0
    for chunk in prange(CHUNKS):
        row_of, across = np.empty(wide, np.float32), np.empty(wide, np.float32)
        i, last = first_of(chunk, n), first_of(chunk + 1, n)
        while i < last:
            end = _same_row(flat, i, last)
            row, fz = _crossing(flat[3 * i + 2], per_tile, cells)
            first, width = 0, wide
            if end - i < LONG_ROW:
                # Too few for a whole row: what each needs, one by one.
                end = i + 1
                first, _ = _crossing(flat[3 * i], per_tile, cells)
                width = 16
            _between_rows(
                field[4 * first :], row * wide, wide, width, spline_weights(fz), row_of[4 * first :]
            )
            _along_row(flat, i, end, per_tile, cells, row_of, flat_out)
            if sloped:
                _between_rows(
                    field[4 * first :],
                    row * wide,
                    wide,
                    width,
                    spline_slopes(fz),
                    across[4 * first :],
                )
                _slopes_along_row(flat, i, end, per_tile, cells, row_of, across, flat_slopes)
            i = end


@kernel(types.void(F2, F2, F1, F1, F2, types.float32, F2W, F1W))
def moved_by_waves(points, found, share, weight, back, choppiness, out, foam):  # type: ignore[no-untyped-def]
    """Points moved by what :func:`surface_at` found there, and the foam on them.

    share, weight : (1,) or (P,); back : (3, 3) from the axes of the waves to those of the points
    foam : (P,), or (0,) where nobody asks
    """
    n = points.shape[0]
    flat, ways, flat_out = points.reshape(-1), found.reshape(-1), out.reshape(-1)
    foamy = foam.shape[0] > 0
    b00, b01, b02 = back[0, 0], back[0, 1], back[0, 2]
    b10, b11, b12 = back[1, 0], back[1, 1], back[1, 2]
    b20, b21, b22 = back[2, 0], back[2, 1], back[2, 2]
    for chunk in prange(CHUNKS):
        for i in range(first_of(chunk, n), first_of(chunk + 1, n)):
            w = at(weight, i)
            up = w * at(share, i)
            aside = up * choppiness
            x, y, z = aside * ways[4 * i + 1], up * ways[4 * i], aside * ways[4 * i + 2]
            flat_out[3 * i] = flat[3 * i] + b00 * x + b01 * y + b02 * z
            flat_out[3 * i + 1] = flat[3 * i + 1] + b10 * x + b11 * y + b12 * z
            flat_out[3 * i + 2] = flat[3 * i + 2] + b20 * x + b21 * y + b22 * z
            if foamy:
                foam[i] = w * min(max(ways[4 * i + 3], float32(0.0)), float32(1.0))


@kernel(types.void(F2, F2, F1, F2W))
def turned_by_slopes(normals, slopes, choppiness, out):  # type: ignore[no-untyped-def]
    """Unit normals of a surface after the sea has moved it: n times the cofactors of
    1 + the slopes of the motion.

    slopes : as :func:`slopes_at` has them; choppiness : (1,)
    """
    n = normals.shape[0]
    chop = choppiness[0]
    for i in prange(n):
        # Columns of the motion's matrix, from the second of which only y stays.
        xx, yx, zx = float32(1.0) + chop * slopes[i, 1], slopes[i, 0], chop * slopes[i, 2]
        xz, yz, zz = chop * slopes[i, 4], slopes[i, 3], float32(1.0) + chop * slopes[i, 5]
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        x = zz * nx + (yz * zx - yx * zz) * ny - zx * nz
        y = (xx * zz - xz * zx) * ny
        z = -xz * nx + (yx * xz - yz * xx) * ny + xx * nz
        length = max(np.sqrt(x * x + y * y + z * z), float32(1e-30))
        out[i, 0] = x / length
        out[i, 1] = y / length
        out[i, 2] = z / length
