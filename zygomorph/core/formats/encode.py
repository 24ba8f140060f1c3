"""A mesh as compact numbers for a viewer, quantised in one pass.

Points become four 16-bit numbers: x, y, z as shares of the box, and the value that the gradient
colours. Normals become two 16-bit numbers on the octahedron (Q. Meyer et al., "On Floating-Point
Normal Vectors", EGSR 2010). The mask, where wanted, is one byte a point.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import float32, int32, prange, types, uint8, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, N1W, N2W, at, first_of, kernel, load
from zygomorph.core.looks.surface import Colouring
from zygomorph.core.mesh import Mesh
from zygomorph.core.normals import point_normals
from zygomorph.core.triples import apart

UNIT_U16 = 65535.0
UNIT_S16 = 32767.0


@kernel(types.void(F2, F1, F1, F1, types.float32, types.float32, N2W))
def _encode_points(points, origin, per_size, values, low, per_range, out):  # type: ignore[no-untyped-def]
    """Two 16-bit numbers are written as one of 32 bits, which becomes SIMD; low word first."""
    n = points.shape[0]
    flat, pairs = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    full = float32(UNIT_U16)
    half = float32(0.5)
    ox, oy, oz = origin[0], origin[1], origin[2]
    sx, sy, sz = per_size[0] * full, per_size[1] * full, per_size[2] * full
    for chunk in prange(CHUNKS):
        work = np.empty((4, BLOCK), np.float32)
        x, y, z, value = work[0], work[1], work[2], work[3]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(values, lo, m, value)
            apart(flat, lo, m, x, y, z)
            packed = pairs[2 * lo : 2 * (lo + m)]
            for i in range(m):
                a = int32((x[i] - ox) * sx + half)
                b = int32((y[i] - oy) * sy + half)
                c = int32((z[i] - oz) * sz + half)
                share = min(max((value[i] - low) * per_range, float32(0.0)), float32(1.0))
                last = uint32(int32(share * full + half))
                packed[2 * i] = uint32(a) | uint32(uint32(b) << uint32(16))
                packed[2 * i + 1] = uint32(c) | uint32(last << uint32(16))


@kernel(types.void(F2, N1W))
def _encode_normals(normals, octahedral):  # type: ignore[no-untyped-def]
    """As two 16-bit numbers each, low word first."""
    n = normals.shape[0]
    ways = normals.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    unit = float32(UNIT_S16)
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        x, y, z = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            apart(ways, lo, m, x, y, z)
            folded = octahedral[lo : lo + m]
            for i in range(m):
                scale = unit / max(abs(x[i]) + abs(y[i]) + abs(z[i]), float32(1e-12))
                a = x[i] * scale
                b = y[i] * scale
                # The lower half is folded over the edges of the upper one.
                fold_a = (unit - abs(b)) * (float32(1.0) if a >= 0 else float32(-1.0))
                fold_b = (unit - abs(a)) * (float32(1.0) if b >= 0 else float32(-1.0))
                below = z[i] < float32(0.0)
                # Shifted above zero, where cutting off is rounding down.
                u = int32((fold_a if below else a) + float32(32768.5)) - int32(32768)
                v = int32((fold_b if below else b) + float32(32768.5)) - int32(32768)
                folded[i] = uint32(u & int32(0xFFFF)) | uint32(uint32(v) << uint32(16))


@kernel(types.void(F1, types.uint8[::1]))
def _encode_mask(weights, out):  # type: ignore[no-untyped-def]
    for i in prange(out.shape[0]):
        out[i] = uint8(at(weights, i) * float32(255.0) + float32(0.5))


@dataclass(frozen=True)
class Encoded:
    """points : (P, 4) uint16; normals : (P, 2) int16, or None where there are no faces;
    mask : (P,) uint8 or None"""

    points: np.ndarray
    normals: np.ndarray | None
    mask: np.ndarray | None

    @classmethod
    def empty(cls, count: int, masked: bool) -> Encoded:
        points, normals = np.empty((count, 4), np.uint16), np.empty((count, 2), np.int16)
        return cls(points, normals, np.empty(count, np.uint8) if masked else None)


def encode(
    mesh: Mesh,
    low: np.ndarray,
    high: np.ndarray,
    colouring: Colouring,
    weights: np.ndarray | None,
    out: Encoded | None = None,
) -> Encoded:
    """low, high : (3,) box of the points, metres; weights : (P,) or (1,) float32 mask, or None;
    out : arrays to write to, each at a multiple of four bytes, or None for new ones"""
    if out is None:
        out = Encoded.empty(len(mesh.points), weights is not None)
    size = np.asarray(high) - np.asarray(low)
    per_size = np.where(size > 0, 1.0 / np.where(size > 0, size, 1.0), 0.0)
    values = colouring.values if colouring.values is not None else np.zeros(1, np.float32)
    span = colouring.high - colouring.low
    _encode_points(
        mesh.points,
        np.asarray(low, np.float32),
        per_size.astype(np.float32),
        values,
        np.float32(colouring.low),
        np.float32(1.0 / span if abs(span) > 1e-12 else 0.0),
        out.points.view("<u4"),
    )
    if out.normals is not None:
        _encode_normals(point_normals(mesh), out.normals.reshape(-1).view("<u4"))
    if weights is not None and out.mask is not None:
        _encode_mask(weights, out.mask)
    return out
