"""A mesh as compact numbers for a viewer, quantised in one pass.

Points become four 16-bit numbers: x, y, z as shares of the box, and the value that the gradient
colours. Normals become two 16-bit numbers on the octahedron (Q. Meyer et al., "On Floating-Point
Normal Vectors", EGSR 2010). The mask, where wanted, is one byte a point.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import float32, int16, prange, types, uint8, uint16

from zygomorph.core.compiled import F1, F2, S2W, U2W, at, kernel
from zygomorph.core.looks.surface import Colouring
from zygomorph.core.mesh import Mesh
from zygomorph.core.normals import point_normals

UNIT_U16 = 65535.0
UNIT_S16 = 32767.0


@kernel(types.void(F2, F2, F1, F1, F1, types.float32, types.float32, U2W, S2W))
def _encode(points, normals, origin, per_size, values, low, per_range, out, octahedral):  # type: ignore[no-untyped-def]
    for i in prange(points.shape[0]):
        for k in range(3):
            share = (points[i, k] - origin[k]) * per_size[k]
            out[i, k] = uint16(share * float32(UNIT_U16) + float32(0.5))
        value = min(max((at(values, i) - low) * per_range, float32(0.0)), float32(1.0))
        out[i, 3] = uint16(value * float32(UNIT_U16) + float32(0.5))
        x = normals[i, 0]
        y = normals[i, 1]
        z = normals[i, 2]
        scale = float32(UNIT_S16) / max(abs(x) + abs(y) + abs(z), float32(1e-12))
        u = x * scale
        v = y * scale
        if z < float32(0.0):
            fold_u = (float32(UNIT_S16) - abs(v)) * (float32(1.0) if u >= 0 else float32(-1.0))
            fold_v = (float32(UNIT_S16) - abs(u)) * (float32(1.0) if v >= 0 else float32(-1.0))
            u = fold_u
            v = fold_v
        octahedral[i, 0] = int16(np.floor(u + float32(0.5)))
        octahedral[i, 1] = int16(np.floor(v + float32(0.5)))


@kernel(types.void(F1, types.uint8[::1]))
def _encode_mask(weights, out):  # type: ignore[no-untyped-def]
    for i in prange(out.shape[0]):
        out[i] = uint8(at(weights, i) * float32(255.0) + float32(0.5))


@dataclass(frozen=True)
class Encoded:
    """points : (P, 4) uint16; normals : (P, 2) int16; mask : (P,) uint8 or None"""

    points: np.ndarray
    normals: np.ndarray
    mask: np.ndarray | None


def encode(
    mesh: Mesh,
    low: np.ndarray,
    high: np.ndarray,
    colouring: Colouring,
    weights: np.ndarray | None,
) -> Encoded:
    """low, high : (3,) box of the points, metres; weights : (P,) or (1,) float32 mask, or None"""
    count = len(mesh.points)
    size = np.asarray(high) - np.asarray(low)
    per_size = np.where(size > 0, 1.0 / np.where(size > 0, size, 1.0), 0.0)
    values = colouring.values if colouring.values is not None else np.zeros(1, np.float32)
    span = colouring.high - colouring.low
    points = np.empty((count, 4), np.uint16)
    normals = np.empty((count, 2), np.int16)
    _encode(
        mesh.points,
        point_normals(mesh),
        np.asarray(low, np.float32),
        per_size.astype(np.float32),
        values,
        np.float32(colouring.low),
        np.float32(1.0 / span if abs(span) > 1e-12 else 0.0),
        points,
        normals,
    )
    mask = None
    if weights is not None:
        mask = np.empty(count, np.uint8)
        _encode_mask(weights, mask)
    return Encoded(points, normals, mask)
