"""The field of soft balls: of each ball a share that falls off to 0 at its reach, added up.

Falloffs, of q = r / reach:

- 0, G. Wyvill, C. McPheeters & B. Wyvill, "Data structure for soft objects", The Visual Computer 2
  (1986): 1 - (4/9) q⁶ + (17/9) q⁴ - (22/9) q²
- 1, metaballs, H. Nishimura et al., "Object modeling by distribution function and a method of image
  generation", 1985: 1 - 3 q² up to q = 1/3, then (3/2) (1 - q)²
"""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types

from zygomorph.core.kernels.compiled import (
    CHUNKS,
    F1,
    F1W,
    F2,
    F2W,
    I1,
    I1W,
    first_of,
    inline,
    kernel,
    per_block,
)

F3W = types.float32[:, :, ::1]


@inline
def falloff(squared, kind):  # type: ignore[no-untyped-def]
    """What a ball gives at a squared share of its reach, below 1."""
    if kind == 0:
        return float32(1.0) + squared * (
            float32(-22.0 / 9.0) + squared * (float32(17.0 / 9.0) - squared * float32(4.0 / 9.0))
        )
    if squared < float32(1.0 / 9.0):
        return float32(1.0) - float32(3.0) * squared
    rest = float32(1.0) - squared ** float32(0.5)
    return float32(1.5) * rest * rest


@inline
def steepness(squared, kind):  # type: ignore[no-untyped-def]
    """Its derivative by the squared share."""
    if kind == 0:
        return float32(-22.0 / 9.0) + squared * (
            float32(34.0 / 9.0) - squared * float32(12.0 / 9.0)
        )
    if squared < float32(1.0 / 9.0):
        return float32(-3.0)
    root = squared ** float32(0.5)
    return float32(-1.5) * (float32(1.0) - root) / root


@kernel(types.void(F2, F1, F1, types.int64, F1, types.float32, F3W))
def field_of_balls(centres, reach, strength, kind, origin, cell, field):  # type: ignore[no-untyped-def]
    """Add the balls to a field, (X, Y, Z), of which each visits only what it reaches.

    origin : (3,) metres of the first grid point; cell : metres
    """
    balls = centres.shape[0]
    per = float32(1.0) / cell
    columns, rows = field.shape[1], field.shape[2]
    for slab in prange(field.shape[0]):
        i = int(slab)
        x = origin[0] + cell * float32(i)
        for b in range(balls):
            far = reach[b]
            dx = x - centres[b, 0]
            left = far * far - dx * dx
            if left <= float32(0.0):
                continue
            wide = left ** float32(0.5)
            y, z = (centres[b, 1] - origin[1]) * per, (centres[b, 2] - origin[2]) * per
            scale = float32(1.0) / (far * far)
            step = cell * cell * scale
            own = strength[b]
            for j in range(max(0, int(y - wide * per)), min(columns, int(y + wide * per) + 2)):
                dy = (float32(j) - y) * cell
                room = left - dy * dy
                if room <= float32(0.0):
                    continue
                deep = room ** float32(0.5) * per
                line = field[i, j]
                flat = (dx * dx + dy * dy) * scale
                for k in range(max(0, int(z - deep)), min(rows, int(z + deep) + 2)):
                    dz = float32(k) - z
                    line[k] += own * falloff(min(flat + dz * dz * step, float32(1.0)), kind)


@inline
def _bin_of(x, y, z, origin, bins):  # type: ignore[no-untyped-def]
    """The number of the bin that a place is in, or -1."""
    i, j, k = (x - origin[0]) / bins[0], (y - origin[1]) / bins[0], (z - origin[2]) / bins[0]
    if i < 0 or j < 0 or k < 0 or i >= bins[1] or j >= bins[2] or k >= bins[3]:
        return -1
    return (int(i) * int(bins[2]) + int(j)) * int(bins[3]) + int(k)


@per_block
def _field(x, y, z, centres, reach, strength, kind, starts, balls, origin, bins):  # type: ignore[no-untyped-def]
    at = _bin_of(x, y, z, origin, bins)
    total = float32(0.0)
    if at >= 0:
        for n in range(starts[at], starts[at + 1]):
            b = balls[n]
            dx, dy, dz = x - centres[b, 0], y - centres[b, 1], z - centres[b, 2]
            q = (dx * dx + dy * dy + dz * dz) / (reach[b] * reach[b])
            if q < float32(1.0):
                total += strength[b] * falloff(q, kind)
    return total


# Balls: centres, reach, strength, kind; then those in each bin: starts, balls, the origin of the
# bins, and (4,) the metres of a bin and how many there are along x, y and z.
BALLS = (F2, F1, F1, types.int64, I1, I1, F1, F1)


@per_block
def _sloped(x, y, z, centres, reach, strength, kind, starts, balls, origin, bins):  # type: ignore[no-untyped-def]
    """The field at a place, and how it changes along x, y and z."""
    total = gx = gy = gz = float32(0.0)
    at = _bin_of(x, y, z, origin, bins)
    if at >= 0:
        for n in range(starts[at], starts[at + 1]):
            b = balls[n]
            dx, dy, dz = x - centres[b, 0], y - centres[b, 1], z - centres[b, 2]
            scale = float32(1.0) / (reach[b] * reach[b])
            q = (dx * dx + dy * dy + dz * dz) * scale
            if q < float32(1.0):
                total += strength[b] * falloff(q, kind)
                change = float32(2.0) * scale * strength[b] * steepness(q, kind)
                gx += change * dx
                gy += change * dy
                gz += change * dz
    return total, gx, gy, gz


@kernel(types.void(F2, *BALLS, F1W, F2W))
def field_at(points, centres, reach, strength, kind, starts, balls, origin, bins, out, slopes):  # type: ignore[no-untyped-def]
    """The field at points, (P,), and how it changes there, (P, 3), or (0, 3) where nobody asks."""
    n = points.shape[0]
    sloped = slopes.shape[0] > 0
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            x, y, z = points[p, 0], points[p, 1], points[p, 2]
            if not sloped:
                out[p] = _field(
                    x, y, z, centres, reach, strength, kind, starts, balls, origin, bins
                )
                continue
            out[p], slopes[p, 0], slopes[p, 1], slopes[p, 2] = _sloped(
                x, y, z, centres, reach, strength, kind, starts, balls, origin, bins
            )


@kernel(types.void(F2W, F2W, types.float32, types.float32, *BALLS))
def put_onto_level(  # type: ignore[no-untyped-def]
    points, normals, level, most, centres, reach, strength, kind, starts, balls, origin, bins
):
    """Move points, in their place, by one step of Newton's method to where the field has a level,
    by ``most`` metres at most, and give them the normals that the field has there."""
    n = points.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            x, y, z = points[p, 0], points[p, 1], points[p, 2]
            f, gx, gy, gz = _sloped(
                x, y, z, centres, reach, strength, kind, starts, balls, origin, bins
            )
            steep = (gx * gx + gy * gy + gz * gz) ** float32(0.5)
            if steep < float32(1e-9):
                continue
            way = min(max((level - f) / steep, -most), most) / steep
            x, y, z = x + way * gx, y + way * gy, z + way * gz
            points[p, 0], points[p, 1], points[p, 2] = x, y, z
            _, gx, gy, gz = _sloped(
                x, y, z, centres, reach, strength, kind, starts, balls, origin, bins
            )
            steep = (gx * gx + gy * gy + gz * gz) ** float32(0.5)
            if steep > float32(1e-9):
                normals[p, 0], normals[p, 1], normals[p, 2] = (
                    -gx / steep,
                    -gy / steep,
                    -gz / steep,
                )


@kernel(types.void(F2, *BALLS, I1W))
def strongest_at(points, centres, reach, strength, kind, starts, balls, origin, bins, out):  # type: ignore[no-untyped-def]
    """The ball that gives most at points, (P,); -1 where none gives anything."""
    n = points.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            at = _bin_of(points[p, 0], points[p, 1], points[p, 2], origin, bins)
            best, found = float32(0.0), int32(-1)
            for n_th in range(starts[max(at, 0)], starts[max(at, 0) + 1] if at >= 0 else 0):
                b = balls[n_th]
                dx = points[p, 0] - centres[b, 0]
                dy = points[p, 1] - centres[b, 1]
                dz = points[p, 2] - centres[b, 2]
                q = (dx * dx + dy * dy + dz * dz) / (reach[b] * reach[b])
                if q < float32(1.0):
                    own = strength[b] * falloff(q, kind)
                    if own > best:
                        best, found = own, int32(b)
            out[p] = found


@kernel(
    types.void(F2, F1, types.float32, types.float32, types.float32, types.float32, *BALLS, F1W),
    fastmath=False,
)
def along_lines(  # type: ignore[no-untyped-def]
    points,
    way,
    low,
    high,
    step,
    level,
    centres,
    reach,
    strength,
    kind,
    starts,
    balls,
    origin,
    bins,
    out,
):
    """How far along a direction a line through each point leaves the level last, (P,), metres; not
    a number where it never reaches it.

    low, high : between which there is anything, along the direction from the origin
    step : metres; the place is found within a 1000th of it
    """
    n = points.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            px, py, pz = points[p, 0], points[p, 1], points[p, 2]
            own = px * way[0] + py * way[1] + pz * way[2]
            t, found = high - own, float32(np.nan)
            while t >= low - own:
                x, y, z = px + t * way[0], py + t * way[1], pz + t * way[2]
                if (
                    _field(x, y, z, centres, reach, strength, kind, starts, balls, origin, bins)
                    > level
                ):
                    inner, outer = t, t + step
                    for _ in range(10):
                        t = float32(0.5) * (inner + outer)
                        x, y, z = px + t * way[0], py + t * way[1], pz + t * way[2]
                        if (
                            _field(
                                x, y, z, centres, reach, strength, kind, starts, balls, origin, bins
                            )
                            > level
                        ):
                            inner = t
                        else:
                            outer = t
                    found = float32(0.5) * (inner + outer)
                    break
                t -= step
            out[p] = found
