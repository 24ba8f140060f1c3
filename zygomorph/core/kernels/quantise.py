"""Points, normals and weights as small whole numbers."""

from __future__ import annotations

import numpy as np
from numba import float32, int32, prange, types, uint8, uint32

from zygomorph.core.kernels.compiled import (
    BLOCK,
    CHUNKS,
    F1,
    F2,
    N1W,
    N2W,
    at,
    first_of,
    kernel,
    load,
)
from zygomorph.core.kernels.structure_of_arrays import split

UNIT_U16 = 65535.0


UNIT_S16 = 32767.0


@kernel(types.void(F2, F1, F1, F1, types.float32, types.float32, N2W), first=60)
def encode_points(points, origin, per_size, values, low, per_range, out):  # type: ignore[no-untyped-def]
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
            split(flat, lo, m, x, y, z)
            packed = pairs[2 * lo : 2 * (lo + m)]
            for i in range(m):
                a = int32((x[i] - ox) * sx + half)
                b = int32((y[i] - oy) * sy + half)
                c = int32((z[i] - oz) * sz + half)
                share = min(max((value[i] - low) * per_range, float32(0.0)), float32(1.0))
                last = uint32(int32(share * full + half))
                packed[2 * i] = uint32(a) | uint32(uint32(b) << uint32(16))
                packed[2 * i + 1] = uint32(c) | uint32(last << uint32(16))


@kernel(types.void(F2, N1W), first=70)
def encode_normals(normals, octahedral):  # type: ignore[no-untyped-def]
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
            split(ways, lo, m, x, y, z)
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


@kernel(types.void(F1, types.uint8[::1]), first=180)
def encode_mask(weights, out):  # type: ignore[no-untyped-def]
    for i in prange(out.shape[0]):
        out[i] = uint8(at(weights, i) * float32(255.0) + float32(0.5))
