"""Copies and their placements: the box around them, where deformers are asked for them and what
becomes of them then, and what of them goes to a viewer.

placements : (K, 3, 4), upper rows of the matrix from a base to the piece
"""

from __future__ import annotations

import numpy as np
from numba import float32, int16, prange, types

from zygomorph.core.kernels.compiled import CHUNKS, F1, F2, F2W, I1, first_of, inline, kernel

F3 = types.Array(types.float32, 3, "C", readonly=True)
F3W = types.float32[:, :, ::1]
N16 = types.int16[:, ::1]
FAR = float32(3.4e38)
# A number from -1 to 1 as 16 bits.
STEPS = float32(32767.0)


@kernel(types.void(F3, I1, F2, F2, F2W))
def bounds_of_copies(placements, base, lows, highs, bounds):  # type: ignore[no-untyped-def]
    """Into rows of ``bounds`` (3, 3) the lowest and highest corner of the box around all copies,
    and, first in the last row, the largest number of their matrices without its sign.

    lows, highs : (B, 3) boxes of the bases
    A placed box reaches from its placed middle as far as its half sides turned, each taken as
    positive (J. Arvo, "Transforming axis-aligned bounding boxes", Graphics Gems, 1990; from memory)
    """
    n = base.shape[0]
    parts = np.empty((CHUNKS, 7), np.float32)
    for chunk in prange(CHUNKS):
        own = parts[chunk]
        for axis in range(3):
            own[axis] = FAR
            own[3 + axis] = -FAR
        own[6] = float32(0.0)
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            b = base[k]
            for axis in range(3):
                middle = placements[k, axis, 3]
                reach = float32(0.0)
                for j in range(3):
                    m = placements[k, axis, j]
                    middle += m * (lows[b, j] + highs[b, j]) * float32(0.5)
                    reach += abs(m) * (highs[b, j] - lows[b, j]) * float32(0.5)
                    own[6] = max(own[6], abs(m))
                own[axis] = min(own[axis], middle - reach)
                own[3 + axis] = max(own[3 + axis], middle + reach)
    bounds[2, :] = float32(0.0)
    for axis in range(3):
        low, high = FAR, -FAR
        for chunk in range(CHUNKS):
            low = min(low, parts[chunk, axis])
            high = max(high, parts[chunk, 3 + axis])
            bounds[2, 0] = max(bounds[2, 0], parts[chunk, 6])
        bounds[0, axis], bounds[1, axis] = low, high


@inline
def _unit(x, y, z, fx, fy, fz):  # type: ignore[no-untyped-def]
    """The direction at length 1; the other where there is none."""
    length = np.sqrt(x * x + y * y + z * z)
    if length > float32(1e-12):
        return x / length, y / length, z / length
    return fx, fy, fz


@inline
def _own_axes(m):  # type: ignore[no-untyped-def]
    """The base's z axis and y axis as a placement (3, 4) turns them, at right angles."""
    zero, one = float32(0.0), float32(1.0)
    ux, uy, uz = _unit(m[0, 1], m[1, 1], m[2, 1], zero, one, zero)
    fx, fy, fz = m[0, 2], m[1, 2], m[2, 2]
    along = fx * ux + fy * uy + fz * uz
    fx, fy, fz = fx - along * ux, fy - along * uy, fz - along * uz
    fx, fy, fz = _unit(fx, fy, fz, zero, zero, one)
    return fx, fy, fz, ux, uy, uz


@kernel(types.void(F3, F2W, F2W))
def centres_and_ups(placements, centres, ups):  # type: ignore[no-untyped-def]
    """Into (K, 3) each: where copies are, and the ways in which their own y axes point."""
    zero, one = float32(0.0), float32(1.0)
    for k in prange(centres.shape[0]):
        m = placements[k]
        centres[k, 0], centres[k, 1], centres[k, 2] = m[0, 3], m[1, 3], m[2, 3]
        ups[k, 0], ups[k, 1], ups[k, 2] = _unit(m[0, 1], m[1, 1], m[2, 1], zero, one, zero)


@kernel(types.void(F3, F2, F3W))
def moved_to(placements, centres, out):  # type: ignore[no-untyped-def]
    """The same placements with other centres, (K, 3)."""
    for k in prange(out.shape[0]):
        for axis in range(3):
            for j in range(3):
                out[k, axis, j] = placements[k, axis, j]
            out[k, axis, 3] = centres[k, axis]


@kernel(types.void(F3, F2, F1, F3W))
def squares_of(placements, centres, sizes, out):  # type: ignore[no-untyped-def]
    """Four points around each copy, (K, 4, 3), as far as ``sizes`` (K,) says, across its y axis:
    along its z axis, along its x axis, and opposite to both."""
    for k in prange(out.shape[0]):
        fx, fy, fz, ux, uy, uz = _own_axes(placements[k])
        sx, sy, sz = uy * fz - uz * fy, uz * fx - ux * fz, ux * fy - uy * fx
        size = sizes[k]
        for side in range(2):
            way = size if side == 0 else -size
            out[k, 2 * side, 0] = centres[k, 0] + way * fx
            out[k, 2 * side, 1] = centres[k, 1] + way * fy
            out[k, 2 * side, 2] = centres[k, 2] + way * fz
            out[k, 2 * side + 1, 0] = centres[k, 0] + way * sx
            out[k, 2 * side + 1, 1] = centres[k, 1] + way * sy
            out[k, 2 * side + 1, 2] = centres[k, 2] + way * sz


@kernel(types.void(F3, F3, F1, types.boolean, F3W))
def placed_by_squares(placements, found, sizes, resize, out):  # type: ignore[no-untyped-def]
    """Placements that go where their squares, see ``squares_of``, went: to the middle of
    ``found`` (K, 4, 3), turned as the square is, and where ``resize`` says, sized as it is."""
    zero, one, quarter = float32(0.0), float32(1.0), float32(0.25)
    for k in prange(out.shape[0]):
        m, p = placements[k], found[k]
        fx, fy, fz, ux, uy, uz = _own_axes(m)
        sx, sy, sz = uy * fz - uz * fy, uz * fx - ux * fz, ux * fy - uy * fx
        ax, ay, az = p[0, 0] - p[2, 0], p[0, 1] - p[2, 1], p[0, 2] - p[2, 2]
        bx, by, bz = p[1, 0] - p[3, 0], p[1, 1] - p[3, 1], p[1, 2] - p[3, 2]
        nx, ny, nz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
        nx, ny, nz = _unit(nx, ny, nz, zero, one, zero)
        spread = np.sqrt(ax * ax + ay * ay + az * az) + np.sqrt(bx * bx + by * by + bz * bz)
        along = ax * nx + ay * ny + az * nz
        ax, ay, az = ax - along * nx, ay - along * ny, az - along * nz
        ax, ay, az = _unit(ax, ay, az, one, zero, zero)
        bx, by, bz = ny * az - nz * ay, nz * ax - nx * az, nx * ay - ny * ax
        size = spread * quarter / max(sizes[k], float32(1e-12)) if resize else one
        for j in range(3):
            # The column in the copy's own axes, and back in those of the square.
            f = (fx * m[0, j] + fy * m[1, j] + fz * m[2, j]) * size
            s = (sx * m[0, j] + sy * m[1, j] + sz * m[2, j]) * size
            u = (ux * m[0, j] + uy * m[1, j] + uz * m[2, j]) * size
            out[k, 0, j] = ax * f + bx * s + nx * u
            out[k, 1, j] = ay * f + by * s + ny * u
            out[k, 2, j] = az * f + bz * s + nz * u
        for axis in range(3):
            out[k, axis, 3] = (p[0, axis] + p[1, axis] + p[2, axis] + p[3, axis]) * quarter


@kernel(types.void(F3, types.float32, F2, N16))
def encode_placements(placements, linear, frame, out):  # type: ignore[no-untyped-def]
    """Rows of the matrices as 16-bit numbers.

    linear : by how much the first three numbers of each row are divided
    frame : (2, 3) middle and half size of the box of the places, which become shares of it
    out : (K, 12)
    """
    per = STEPS / linear
    for k in prange(out.shape[0]):
        for axis in range(3):
            for j in range(3):
                out[k, 4 * axis + j] = int16(np.rint(placements[k, axis, j] * per))
            half = frame[1, axis]
            share = (placements[k, axis, 3] - frame[0, axis]) / half if half > 0 else float32(0.0)
            out[k, 4 * axis + 3] = int16(np.rint(share * STEPS))
