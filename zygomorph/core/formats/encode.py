"""A mesh as compact numbers for a viewer, quantised in one pass.

Points become four 16-bit numbers: x, y, z as shares of the box, and the value that the gradient
colours. Normals become two 16-bit numbers on the octahedron (Q. Meyer et al., "On Floating-Point
Normal Vectors", EGSR 2010). The mask, where wanted, is one byte a point.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.quantise import encode_mask, encode_normals, encode_points


@dataclass(frozen=True)
class Coloured:
    """A value at each point, and the range in which it is told apart.

    values : (P,) float32, or None
    """

    values: np.ndarray | None = None
    low: float = 0.0
    high: float = 1.0


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
    coloured: Coloured,
    weights: np.ndarray | None,
    out: Encoded | None = None,
) -> Encoded:
    """low, high : (3,) box of the points, metres; coloured : the value beside each point
    weights : (P,) or (1,) float32 mask, or None;
    out : arrays to write to, each at a multiple of four bytes, or None for new ones"""
    if out is None:
        out = Encoded.empty(len(mesh.points), weights is not None)
    size = np.asarray(high) - np.asarray(low)
    per_size = np.where(size > 0, 1.0 / np.where(size > 0, size, 1.0), 0.0)
    values = coloured.values if coloured.values is not None else np.zeros(1, np.float32)
    span = coloured.high - coloured.low
    encode_points(
        mesh.points,
        np.asarray(low, np.float32),
        per_size.astype(np.float32),
        values,
        np.float32(coloured.low),
        np.float32(1.0 / span if abs(span) > 1e-12 else 0.0),
        out.points.view("<u4"),
    )
    if out.normals is not None:
        encode_normals(point_normals(mesh), out.normals.reshape(-1).view("<u4"))
    if weights is not None and out.mask is not None:
        encode_mask(weights, out.mask)
    return out
