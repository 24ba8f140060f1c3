"""A piece's place on the stage: move, turn, scale. Applied by the viewer, not to the points."""

from __future__ import annotations

import numpy as np
from numba import prange, types

from zygomorph.core.compiled import BLOCK, CHUNKS, F2, F2W, first_of, kernel
from zygomorph.core.resolve import Resolved
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
    """(3, 3): turns about x, then y, then z, right-handed."""
    (cx, cy, cz), (sx, sy, sz) = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    about_x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    about_y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    about_z = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    return about_z @ about_y @ about_x


def placement(move: np.ndarray, turn: np.ndarray, scale: np.ndarray) -> np.ndarray:
    """(4, 4) matrix: scale, then turn (°), then move (m)."""
    matrix = np.eye(4)
    matrix[:3, :3] = rotation(turn) * scale[None, :]
    matrix[:3, 3] = move
    return matrix


def matrix_of(values: Resolved) -> np.ndarray:
    """(4, 4) float64 from the piece to the stage, of the values of its place at a moment."""
    return placement(values.vector("move"), values.vector("turn"), values.vector("scale"))


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
