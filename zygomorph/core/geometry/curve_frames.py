"""Frames along curves that do not turn more than the curve makes them.

Double reflection: W. Wang, B. Jüttler, D. Zheng, Y. Liu, "Computation of Rotation Minimizing
Frames", ACM Transactions on Graphics 27(1), 2008. Along a closed curve the angle by which the last
frame misses the first is dealt out evenly.
"""

from __future__ import annotations

import numpy as np
from numba import float64, prange, types

from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.compiled import I1, inline, kernel

D2 = types.Array(types.float64, 2, "C", readonly=True)
D2W = types.float64[:, ::1]
B1 = types.Array(types.boolean, 1, "C", readonly=True)
TINY = 1e-12


@inline
def _unit(v):  # type: ignore[no-untyped-def]
    length = np.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
    if length > TINY:
        v[0] /= length
        v[1] /= length
        v[2] /= length
    return length


@kernel(types.void(D2, I1, B1, D2W, D2W), fastmath=False)
def _frames(points, starts, closed, along, side):  # type: ignore[no-untyped-def]
    """points : (P, 3) in the order of the curves; along, side : (P, 3) unit vectors to fill"""
    for curve in prange(starts.shape[0] - 1):
        lo, hi = starts[curve], starts[curve + 1]
        n = hi - lo
        if n == 0:
            continue
        way = np.zeros(3)
        for k in range(n):
            # Central differences; one-sided at the ends of an open curve.
            before = lo + k - 1 if k > 0 else (hi - 1 if closed[curve] else lo)
            after = lo + k + 1 if k < n - 1 else (lo if closed[curve] else hi - 1)
            for axis in range(3):
                way[axis] = points[after, axis] - points[before, axis]
            if _unit(way) <= TINY:
                # Points that lie on each other have the direction of the one before.
                for axis in range(3):
                    way[axis] = along[lo + k - 1, axis] if k > 0 else float64(axis == 1)
            for axis in range(3):
                along[lo + k, axis] = way[axis]
        # Any vector across the first tangent: the axis that is most across it, made upright.
        first = along[lo]
        least = 0
        for axis in range(1, 3):
            if abs(first[axis]) < abs(first[least]):
                least = axis
        for axis in range(3):
            way[axis] = float64(axis == least) - first[least] * first[axis]
        _unit(way)
        side[lo, 0], side[lo, 1], side[lo, 2] = way[0], way[1], way[2]
        last = np.zeros(3)
        steps = n if closed[curve] else n - 1
        for k in range(steps):
            here, there = lo + k, lo + (k + 1) % n
            x = points[there, 0] - points[here, 0]
            y = points[there, 1] - points[here, 1]
            z = points[there, 2] - points[here, 2]
            c = x * x + y * y + z * z
            rx, ry, rz = side[here, 0], side[here, 1], side[here, 2]
            tx, ty, tz = along[here, 0], along[here, 1], along[here, 2]
            if c > TINY:
                f = 2.0 / c * (x * rx + y * ry + z * rz)
                g = 2.0 / c * (x * tx + y * ty + z * tz)
                rx, ry, rz = rx - f * x, ry - f * y, rz - f * z
                tx, ty, tz = tx - g * x, ty - g * y, tz - g * z
            ux = along[there, 0] - tx
            uy = along[there, 1] - ty
            uz = along[there, 2] - tz
            c = ux * ux + uy * uy + uz * uz
            if c > TINY:
                f = 2.0 / c * (ux * rx + uy * ry + uz * rz)
                rx, ry, rz = rx - f * ux, ry - f * uy, rz - f * uz
            last[0], last[1], last[2] = rx, ry, rz
            _unit(last)
            if k < n - 1:
                side[there, 0], side[there, 1], side[there, 2] = last[0], last[1], last[2]
        if closed[curve] and n > 1:
            ax, ay, az = first[0], first[1], first[2]
            sx, sy, sz = side[lo, 0], side[lo, 1], side[lo, 2]
            ox, oy, oz = ay * sz - az * sy, az * sx - ax * sz, ax * sy - ay * sx
            missed = np.arctan2(
                last[0] * ox + last[1] * oy + last[2] * oz,
                last[0] * sx + last[1] * sy + last[2] * sz,
            )
            for k in range(1, n):
                angle = -missed * k / n
                c, s = np.cos(angle), np.sin(angle)
                p = lo + k
                ax, ay, az = along[p, 0], along[p, 1], along[p, 2]
                sx, sy, sz = side[p, 0], side[p, 1], side[p, 2]
                ox, oy, oz = ay * sz - az * sy, az * sx - ax * sz, ax * sy - ay * sx
                side[p, 0] = c * sx + s * ox
                side[p, 1] = c * sy + s * oy
                side[p, 2] = c * sz + s * oz


def curve_frames(topology: Topology, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Unit vectors along each curve and across it, (C, 3) float64 each, in the curves' order.

    points : (P, 3), indexed by ``topology.curve_points``
    """
    ordered = np.ascontiguousarray(points[topology.curve_points], np.float64)
    along, side = np.zeros_like(ordered), np.zeros_like(ordered)
    _frames(ordered, topology.curve_starts, topology.curve_closed, along, side)
    return along, side
