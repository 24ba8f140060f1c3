"""Outlines turned about the upright axis: rings of points with quads between, poles closed."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.topology import Topology


def lathe_topology(
    around: int, rings: int, pole_first: bool, pole_last: bool
) -> tuple[Topology, np.ndarray]:
    """Faces between ``rings`` rings from the top down, and the UV of each corner, (C, 2) float32.

    A pole is a single point before the first ring or after the last one, joined by triangles.
    Points are numbered pole, rings, pole; each ring runs from +x towards -z.
    """
    start = int(pole_first)
    i = np.arange(around)
    after = (i + 1) % around
    rows = rings - 1 + int(pole_first) + int(pole_last)
    corners: list[np.ndarray] = []
    sizes: list[np.ndarray] = []
    uvs: list[np.ndarray] = []

    def add(faces: np.ndarray, u: np.ndarray, v: np.ndarray) -> None:
        corners.append(faces.reshape(-1))
        sizes.append(np.full(len(faces), faces.shape[1]))
        uvs.append(np.stack([u / around, 1 - v / max(rows, 1)], axis=2).reshape(-1, 2))

    if pole_first:
        faces = np.stack([np.zeros_like(i), start + i, start + after], axis=1)
        add(faces, np.stack([i + 0.5, i, i + 1.0], axis=1), np.tile([0.0, 1.0, 1.0], (around, 1)))
    for ring in range(rings - 1):
        above = start + ring * around
        below = above + around
        faces = np.stack([above + i, below + i, below + after, above + after], axis=1)
        row = ring + int(pole_first)
        across = np.stack([i, i, i + 1.0, i + 1.0], axis=1)
        add(faces, across, np.tile([row, row + 1.0, row + 1.0, row], (around, 1)))
    count = start + rings * around
    if pole_last:
        last = start + (rings - 1) * around
        faces = np.stack([last + i, np.full_like(i, count), last + after], axis=1)
        across = np.stack([i, i + 0.5, i + 1.0], axis=1)
        add(faces, across, np.tile([rows - 1.0, rows, rows - 1.0], (around, 1)))
        count += 1
    starts = np.concatenate([[0], np.cumsum(np.concatenate(sizes))])
    topology = Topology(
        count,
        np.ascontiguousarray(np.concatenate(corners), np.int32),
        np.ascontiguousarray(starts, np.int32),
    )
    return topology, np.ascontiguousarray(np.concatenate(uvs), np.float32)


def turned(radii: np.ndarray, heights: np.ndarray, around: int) -> np.ndarray:
    """(R · around, 3) float64 points of rings with these radii and heights, (R,) metres each."""
    angle = 2 * np.pi * np.arange(around) / around
    points = np.empty((len(radii), around, 3))
    points[..., 0] = radii[:, None] * np.cos(angle)
    points[..., 1] = heights[:, None]
    points[..., 2] = -radii[:, None] * np.sin(angle)
    return points.reshape(-1, 3)
