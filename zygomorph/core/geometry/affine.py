"""Places as (4, 4) matrices: made of move, turn and scale, taken apart, and applied to points."""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F2, F2W, first_of, kernel
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.kernels.structure_of_arrays import merge, split, transform

# Below this cosine of the middle angle, the outer two turn about one axis.
LOCKED = 1e-7


def placement(move: np.ndarray, turn: np.ndarray, scale: np.ndarray) -> np.ndarray:
    """(4, 4) matrix, or (T, 4, 4) for (T, 3): scale, then turn (°), then move (m)."""
    matrix = np.zeros((*np.shape(turn)[:-1], 4, 4))
    matrix[..., :3, :3] = rotation(turn) * scale[..., None, :]
    matrix[..., :3, 3] = move
    matrix[..., 3, 3] = 1.0
    return matrix


@kernel(types.void(F2, F2, F2W), first=110)
def _transform(points, rows, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        x, y, z = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            split(flat, lo, m, x, y, z)
            transform(rows, m, x, y, z)
            merge(x, y, z, lo, m, flat_out)


def transformed(points: np.ndarray, matrix: np.ndarray) -> np.ndarray:
    """Points, (P, 3) float32, times a (4, 4) matrix; (P, 3) float32."""
    out = np.empty((len(points), 3), np.float32)
    rows = np.ascontiguousarray(matrix[:3], np.float32)
    _transform(np.ascontiguousarray(points, np.float32), rows, out)
    return out


def inverse(matrix: np.ndarray) -> np.ndarray:
    """(4, 4); of what is scaled to nothing, the pseudo-inverse."""
    try:
        found: np.ndarray = np.linalg.inv(matrix)
    except np.linalg.LinAlgError:
        found = np.linalg.pinv(matrix)
    return found


def unit(vector_: np.ndarray) -> np.ndarray:
    """The same direction with length 1; up where it has no length."""
    length = float(np.linalg.norm(vector_))
    return vector_ / length if length > 1e-12 else np.array([0.0, 1.0, 0.0])


def turned(direction: np.ndarray, motion: np.ndarray) -> np.ndarray:
    """A direction, (3,), after a (4, 4) move and turn, of unit length."""
    return unit(motion[:3, :3] @ direction)


def placed(point: np.ndarray, motion: np.ndarray) -> np.ndarray:
    """A point, (3,), after a (4, 4) move and turn."""
    found: np.ndarray = motion[:3, :3] @ point + motion[:3, 3]
    return found


def turns_of(rotations: np.ndarray) -> np.ndarray:
    """(T, 3) degrees about x, then y, then z, of rotations (T, 3, 3).

    Of the angles that give the same rotation those are taken that lie nearest to the ones before,
    so that a turn goes on and on instead of falling back. Where y is a quarter turn only x and z
    together are known, and x stays as it was.

    Source: the textbook matrix of Rz Ry Rx.
    """
    found = np.zeros((len(rotations), 3))
    before = np.zeros(3)
    for k, r in enumerate(rotations):
        across = np.hypot(r[0, 0], r[1, 0])
        y = np.arctan2(-r[2, 0], across)
        if across > LOCKED:
            x, z = np.arctan2(r[2, 1], r[2, 2]), np.arctan2(r[1, 0], r[0, 0])
        elif y > 0:
            x = np.radians(before[0])
            z = x - np.arctan2(r[0, 1], r[1, 1])
        else:
            x = np.radians(before[0])
            z = np.arctan2(-r[0, 1], r[1, 1]) - x
        # The other three angles of the same rotation are a half turn of the outer two away.
        twins = np.degrees([[x, y, z], [x + np.pi, np.pi - y, z + np.pi]])
        near = twins + 360 * np.rint((before - twins) / 360)
        found[k] = before = near[np.abs(near - before).sum(axis=1).argmin()]
    return found
