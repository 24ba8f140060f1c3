"""The two ways in which numbers of points are stored in glTF.

plain
    32-bit floats, in metres, which every reader of glTF 2.0 takes.
compact
    Normalised 16-bit positions under a node that scales them back and 8-bit normals
    (KHR_mesh_quantization): half the size, for readers that know the extension. A target whose
    offsets would not fit is made smaller and its weight larger by the same factor.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from zygomorph.core.formats.morph_targets import Shapes

NUMBERS = ("plain", "compact")
Numbers = Literal["plain", "compact"]
EXTENSION = "KHR_mesh_quantization"


def short(values: np.ndarray) -> np.ndarray:
    return np.clip(np.round(values * 32767), -32767, 32767).astype(np.int16)


def byte(values: np.ndarray) -> np.ndarray:
    return np.clip(np.round(values * 127), -127, 127).astype(np.int8)


@dataclass(frozen=True)
class Frame:
    """Where stored positions are: point = stored · scale + centre, metres."""

    centre: np.ndarray
    scale: float
    compact: bool

    def stored(self, points: np.ndarray) -> np.ndarray:
        """Positions as they are stored, (V, 3) float32 or int16."""
        own = (points.astype(np.float64) - self.centre) / self.scale
        return short(own) if self.compact else own.astype(np.float32)

    def stored_offsets(self, offsets: np.ndarray, factor: float) -> np.ndarray:
        """Offsets of a target whose weight is larger by a factor."""
        own = offsets / (self.scale * factor)
        return short(own) if self.compact else own.astype(np.float32)

    def stored_normals(self, normals: np.ndarray) -> np.ndarray:
        return byte(normals) if self.compact else normals.astype(np.float32)

    def read(self, stored: np.ndarray) -> np.ndarray:
        """Lengths that a reader makes of stored offsets, float32; without the centre."""
        own = stored / np.float32(32767) if self.compact else stored
        return (own * np.float32(self.scale)).astype(np.float32)


def frame_of(points: np.ndarray, numbers: Numbers) -> Frame:
    """points : (V, 3) of the base"""
    if numbers == "plain":
        return Frame(np.zeros(3), 1.0, False)
    low, high = points.min(axis=0).astype(np.float64), points.max(axis=0).astype(np.float64)
    return Frame((low + high) / 2, max(float((high - low).max()) / 2, 1e-9), True)


def factors_of(shapes: Shapes, normal_offsets: np.ndarray, frame: Frame) -> list[float]:
    """How much smaller each target is stored, so that its offsets fit into -1 to 1."""
    if not frame.compact:
        return [1.0] * len(shapes.offsets)
    return [
        max(
            float(np.abs(shapes.offsets[k]).max()) / frame.scale,
            float(np.abs(normal_offsets[k]).max()),
            1e-6,
        )
        for k in range(len(shapes.offsets))
    ]
