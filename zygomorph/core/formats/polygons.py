"""Polygons and curves as a file gives them; on its own, so that a process that only reads starts
quickly."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

MAX_POINTS = 10_000_000


@dataclass
class Soup:
    """Polygons and curves as a file gives them.

    points : (P, 3); corners, face_starts : as in a mesh
    at_corners : name -> (C, k) float32, UVs and normals on the corners
    parts : (F,) number of the file's object that each face is of, or None where there is one
    curve_points, curve_starts : as in a mesh; a curve that ends where it begins is closed
    notes : sentences on what was taken otherwise than the file perhaps means
    """

    points: np.ndarray
    corners: np.ndarray
    face_starts: np.ndarray
    at_corners: Mapping[str, np.ndarray] = field(default_factory=dict)
    parts: np.ndarray | None = None
    curve_points: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int64))
    curve_starts: np.ndarray = field(default_factory=lambda: np.zeros(1, np.int64))
    notes: tuple[str, ...] = ()
