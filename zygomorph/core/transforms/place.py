"""A piece's place on the stage: move, turn, scale. Applied by the viewer, not to the points."""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.compiled import BLOCK, CHUNKS, F2, F2W, first_of, kernel
from zygomorph.core.triples import apart, together, transform
from zygomorph.core.values import vector

PLACE_VALUES = {
    "move": vector((0.0, 0.0, 0.0), "Move", "Where the piece stands on the stage.", idle=[0.0] * 3),
    "turn": vector(
        (0.0, 0.0, 0.0),
        "Turn",
        "Turned about x, then y, then z.",
        "°",
        (-180.0, 180.0),
        idle=[0.0] * 3,
        period=360.0,
    ),
    "scale": vector(
        (1.0, 1.0, 1.0), "Scale", "Larger or smaller by axis.", "×", (0.1, 3.0), idle=[1.0] * 3
    ),
}


def rotation(degrees: np.ndarray) -> np.ndarray:
    """(3, 3), or (T, 3, 3) for (T, 3): turns about x, then y, then z, right-handed.

    Source: the textbook matrix of Rz Ry Rx.
    """
    radians = np.radians(degrees)
    (cx, cy, cz), (sx, sy, sz) = (
        np.moveaxis(np.cos(radians), -1, 0),
        np.moveaxis(np.sin(radians), -1, 0),
    )
    rows = np.array(
        [
            [cy * cz, sx * sy * cz - cx * sz, cx * sy * cz + sx * sz],
            [cy * sz, sx * sy * sz + cx * cz, cx * sy * sz - sx * cz],
            [-sy, sx * cy, cx * cy],
        ]
    )
    return np.moveaxis(rows, (0, 1), (-2, -1))


def placement(move: np.ndarray, turn: np.ndarray, scale: np.ndarray) -> np.ndarray:
    """(4, 4) matrix, or (T, 4, 4) for (T, 3): scale, then turn (°), then move (m)."""
    matrix = np.zeros((*np.shape(turn)[:-1], 4, 4))
    matrix[..., :3, :3] = rotation(turn) * scale[..., None, :]
    matrix[..., :3, 3] = move
    matrix[..., 3, 3] = 1.0
    return matrix


@kernel(types.void(F2, F2, F2W))
def _carried(points, rows, out):  # type: ignore[no-untyped-def]
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        x, y, z = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            apart(flat, lo, m, x, y, z)
            transform(rows, m, x, y, z)
            together(x, y, z, lo, m, flat_out)


def transformed(points: np.ndarray, matrix: np.ndarray) -> np.ndarray:
    """Points, (P, 3) float32, carried by a (4, 4) matrix; (P, 3) float32."""
    out = np.empty((len(points), 3), np.float32)
    rows = np.ascontiguousarray(matrix[:3], np.float32)
    _carried(np.ascontiguousarray(points, np.float32), rows, out)
    return out
