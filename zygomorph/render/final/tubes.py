"""Sweeps tubes along curves and edges."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.curve_frames import curve_frames
from zygomorph.core.geometry.topology import Topology

Tubes = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]


def along_curves(topology: Topology, points: np.ndarray, radii: np.ndarray, sides: int) -> Tubes:
    """Tubes along the curves of a mesh, with a ring of points around each point of a curve.

    points : (P, 3) metres; radii : (P,) metres

    Returns points (R, 3) and unit normals (R, 3), triangles (T, 3), and for each ring point the
    number of its curve point, (R,).
    """
    order = topology.curve_points
    along, side = curve_frames(topology, points)
    ring, out = _rings(points[order], along, side, radii[order], sides)
    first, second = _joined(topology)
    return ring, out, _skin(first, second, sides), np.repeat(order, sides)


def along_segments(
    points: np.ndarray, segments: np.ndarray, radii: np.ndarray, sides: int
) -> Tubes:
    """The same along separate segments, (S, 2) point numbers, with a ring at either end."""
    ends = points[segments].astype(np.float64)
    along = ends[:, 1] - ends[:, 0]
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-20)
    axis = np.eye(3)[np.argmin(np.abs(along), axis=1)]
    side = np.cross(along, axis)
    side /= np.maximum(np.linalg.norm(side, axis=1, keepdims=True), 1e-20)
    both = segments.reshape(-1)
    ring, out = _rings(
        points[both], np.repeat(along, 2, axis=0), np.repeat(side, 2, axis=0), radii[both], sides
    )
    first = 2 * np.arange(len(segments))
    return ring, out, _skin(first, first + 1, sides), np.repeat(both, sides)


def strip_normals(normals: np.ndarray, towards: np.ndarray, sides: int) -> np.ndarray:
    """Shading normals of a rod that is perpendicular to the view, as the stage shades a stroke
    however it is inclined.

    normals, towards : (R, 3) unit, outwards and to the viewer, of rings of ``sides`` points
    """
    out = normals.reshape(-1, sides, 3).astype(np.float64)
    axis = np.cross(out[:, :1], out[:, 1:2])
    view = towards.reshape(-1, sides, 3)
    side = np.cross(axis, view)
    # Seen from its end a tube has no side.
    length = np.linalg.norm(side, axis=-1, keepdims=True)
    side /= np.maximum(length, 1e-12)
    across = (out * side).sum(axis=-1, keepdims=True)
    found = side * across + view * np.sqrt(np.maximum(1 - across * across, 0))
    found = np.where(length > 1e-6, found, view)
    return found.reshape(-1, 3).astype(np.float32)


def _rings(
    middles: np.ndarray, along: np.ndarray, side: np.ndarray, radii: np.ndarray, sides: int
) -> tuple[np.ndarray, np.ndarray]:
    angle = np.arange(sides) * (2 * np.pi / sides)
    other = np.cross(along, side)
    out = np.cos(angle)[:, None] * side[:, None] + np.sin(angle)[:, None] * other[:, None]
    ring = middles[:, None] + out * radii[:, None, None]
    return ring.reshape(-1, 3).astype(np.float32), out.reshape(-1, 3).astype(np.float32)


def _joined(topology: Topology) -> tuple[np.ndarray, np.ndarray]:
    """Pairs of consecutive places in ``curve_points``."""
    starts, count = topology.curve_starts, len(topology.curve_points)
    before = np.arange(count)
    after = before + 1
    last = starts[1:][np.diff(starts) > 0] - 1
    begins = starts[:-1][np.diff(starts) > 0]
    closed = topology.curve_closed[np.diff(starts) > 0]
    after[last[closed]] = begins[closed]
    kept = np.ones(count, bool)
    kept[last[~closed]] = False
    return before[kept], after[kept]


def _skin(first: np.ndarray, second: np.ndarray, sides: int) -> np.ndarray:
    """(T, 3) outward triangles between pairs of rings."""
    turn = np.arange(sides)
    after = (turn + 1) % sides
    a, b = first[:, None] * sides, second[:, None] * sides
    quads = np.stack([a + turn, a + after, b + after, b + turn], axis=-1).reshape(-1, 4)
    return np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]]).astype(np.uint32)
