"""Placements of rods along edges."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import CHUNKS, F2, I2, first_of, kernel

SMALL = float32(1e-20)


@kernel(types.void(F2, F2, I2, types.float32, types.float32[:, :, ::1]))
def place_rods(points, normals, edges, radius, out):  # type: ignore[no-untyped-def]
    """Into ``out`` (E, 3, 4) the placement of a rod of length 1 along y and of radius 1 along each
    edge: y along it, x as near to the normals at its ends as can be.

    points, normals : (P, 3); edges : (E, 2); radius : metres
    """
    n = edges.shape[0]
    for chunk in prange(CHUNKS):
        up = np.empty(3, np.float32)
        way = np.empty(3, np.float32)
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            a, b = edges[k, 0], edges[k, 1]
            square = float32(0.0)
            for i in range(3):
                way[i] = points[b, i] - points[a, i]
                square += way[i] * way[i]
            length = np.sqrt(square)
            along = float32(0.0)
            for i in range(3):
                up[i] = normals[a, i] + normals[b, i]
                along += up[i] * way[i]
            share = along / max(square, SMALL)
            rest = float32(0.0)
            for i in range(3):
                up[i] -= share * way[i]
                rest += up[i] * up[i]
            if rest < float32(1e-12):
                # The normals run along it: the axis that is most across.
                least = 0
                for i in range(1, 3):
                    if abs(way[i]) < abs(way[least]):
                        least = i
                share = way[least] / max(square, SMALL)
                rest = float32(0.0)
                for i in range(3):
                    up[i] = (float32(1.0) if i == least else float32(0.0)) - share * way[i]
                    rest += up[i] * up[i]
            scale = radius / np.sqrt(max(rest, SMALL))
            inverse = float32(1.0) / max(length, float32(1e-12))
            for i in range(3):
                up[i] *= scale
                out[k, i, 0] = up[i]
                out[k, i, 1] = way[i]
                out[k, i, 3] = float32(0.5) * (points[a, i] + points[b, i])
            out[k, 0, 2] = (up[1] * way[2] - up[2] * way[1]) * inverse
            out[k, 1, 2] = (up[2] * way[0] - up[0] * way[2]) * inverse
            out[k, 2, 2] = (up[0] * way[1] - up[1] * way[0]) * inverse
