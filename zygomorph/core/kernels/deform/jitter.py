"""Displace elements by chance."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.kernels.compiled import CHUNKS, F2W, first_of, inline, kernel
from zygomorph.core.kernels.noise.lattice import cell_hash, mixed, signed_unit

I8 = types.Array(types.int64, 1, "C", readonly=True)


F4 = types.Array(types.float32, 1, "C", readonly=True)


@inline
def _drawn(element, moment, axis, seed):  # type: ignore[no-untyped-def]
    return signed_unit(mixed(cell_hash(uint32(element), uint32(moment), uint32(axis), seed)))


@kernel(types.void(I8, I8, F4, types.uint32, types.boolean, F2W))
def chance(ids, moments, shares, seed, ball, out):  # type: ignore[no-untyped-def]
    """Vectors in the unit ball, or else in the cube around it, for each id, mixed from some
    moments; out : (n, 3)"""
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            sx = sy = sz = float32(0.0)
            for k in range(moments.shape[0]):
                x = _drawn(ids[p], moments[k], 0, seed)
                y = _drawn(ids[p], moments[k], 1, seed)
                z = _drawn(ids[p], moments[k], 2, seed)
                share = shares[k]
                if ball:
                    # The cube drawn in along its rays until it is the ball.
                    length = np.sqrt(x * x + y * y + z * z)
                    largest = max(abs(x), max(abs(y), abs(z)))
                    share = share * largest / max(length, float32(1e-12))
                sx += share * x
                sy += share * y
                sz += share * z
            out[p, 0], out[p, 1], out[p, 2] = sx, sy, sz
