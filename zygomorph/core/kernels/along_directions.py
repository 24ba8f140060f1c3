"""Move points along directions by heights, or each by a vector of its own."""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.kernels.structure_of_arrays import merge, split

ZERO = np.zeros(1, np.float32)
ONE = np.ones(1, np.float32)


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2W), first=30)
def _push(points, along, pattern, amount, weight, brightness, contrast, out):  # type: ignore[no-untyped-def]
    """``along`` has one direction for all points, or one for each."""
    n = points.shape[0]
    flat, ways, flat_out = points.reshape(-1), along.reshape(-1), out.reshape(-1)
    each = along.shape[0] != 1
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((10, BLOCK), np.float32)
        push, factor, shift, share = work[0], work[1], work[2], work[3]
        x, y, z, u, v, w = work[4], work[5], work[6], work[7], work[8], work[9]
        if not each:
            u[:], v[:], w[:] = ways[0], ways[1], ways[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            height = pattern[lo : lo + m]
            load(amount, lo, m, push)
            load(contrast, lo, m, factor)
            load(brightness, lo, m, shift)
            load(weight, lo, m, share)
            for i in range(m):
                push[i] = (height[i] * factor[i] + shift[i]) * push[i] * share[i]
            split(flat, lo, m, x, y, z)
            if each:
                split(ways, lo, m, u, v, w)
            for i in range(m):
                x[i] = x[i] + push[i] * u[i]
                y[i] = y[i] + push[i] * v[i]
                z[i] = z[i] + push[i] * w[i]
            merge(x, y, z, lo, m, flat_out)


@kernel(types.void(F2, F2, F1, F1, F1, F1, F2W), first=150)
def _carry(points, vectors, amount, weight, brightness, contrast, out):  # type: ignore[no-untyped-def]
    """Move every point by a vector of its own."""
    n = points.shape[0]
    flat, ways, flat_out = points.reshape(-1), vectors.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((10, BLOCK), np.float32)
        push, factor, shift, share = work[0], work[1], work[2], work[3]
        x, y, z, u, v, w = work[4], work[5], work[6], work[7], work[8], work[9]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            load(amount, lo, m, push)
            load(contrast, lo, m, factor)
            load(brightness, lo, m, shift)
            load(weight, lo, m, share)
            for i in range(m):
                push[i] = push[i] * share[i]
            split(flat, lo, m, x, y, z)
            split(ways, lo, m, u, v, w)
            for i in range(m):
                x[i] = x[i] + push[i] * (u[i] * factor[i] + shift[i])
                y[i] = y[i] + push[i] * (v[i] * factor[i] + shift[i])
                z[i] = z[i] + push[i] * (w[i] * factor[i] + shift[i])
            merge(x, y, z, lo, m, flat_out)


def push(
    points: np.ndarray,
    along: np.ndarray,
    height: np.ndarray,
    amount: np.ndarray,
    weights: np.ndarray,
    brightness: np.ndarray = ZERO,
    contrast: np.ndarray = ONE,
) -> np.ndarray:
    """Points moved by (height · contrast + brightness) · amount · weight along their directions.

    points : (P, 3); along : (1, 3) or (P, 3); height : (P,); the others (1,) or (P,); all float32
    """
    out = np.empty_like(points)
    _push(points, along, height, amount, weights, brightness, contrast, out)
    return out


def carry(
    points: np.ndarray,
    vectors: np.ndarray,
    amount: np.ndarray,
    weights: np.ndarray,
    brightness: np.ndarray = ZERO,
    contrast: np.ndarray = ONE,
) -> np.ndarray:
    """Points moved by their vectors, (P, 3) float32, as :func:`push` moves them by heights."""
    out = np.empty_like(points)
    _carry(points, vectors, amount, weights, brightness, contrast, out)
    return out
