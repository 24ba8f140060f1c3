"""Strokes of a brush over the rest shape, as weights at any points of it.

A stroke is kept as its path in space, not as weights: draft and final quality have different
points, and both find the same picture.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import scipy

# How far a surface may turn away from the path's normal before the brush no longer touches it.
TOUCHES = (-0.2, 0.2)
MAX_CELLS = 2_000_000


def _segments(path: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Ends of the path's pieces; a single dab is one piece of no length."""
    return (path, path) if len(path) == 1 else (path[:-1], path[1:])


def coverage(
    stroke: Mapping[str, Any], points: np.ndarray, normals: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Which points a stroke touches, and how much of it each gets.

    points, normals : (P, 3) of the rest shape
    returns numbers of points (K,) and (K,) float64 from 0 to 1
    """
    path = np.array(stroke["path"], np.float64).reshape(-1, 6)
    size = float(stroke["size"])
    low, high = path[:, :3].min(axis=0) - size, path[:, :3].max(axis=0) + size
    near = np.flatnonzero(((points >= low) & (points <= high)).all(axis=1))
    here, facing = points[near].astype(np.float64), normals[near].astype(np.float64)
    most = np.zeros(len(near))
    inner = 1.0 - float(stroke.get("softness", 100.0)) / 100
    for start, end in zip(*_segments(path), strict=True):
        box = (here >= np.minimum(start, end)[:3] - size) & (
            here <= np.maximum(start, end)[:3] + size
        )
        at = np.flatnonzero(box.all(axis=1))
        if len(at) == 0:
            continue
        way = end[:3] - start[:3]
        own = here[at] - start[:3]
        share = np.clip(own @ way / max(float(way @ way), 1e-20), 0, 1)
        away = np.linalg.norm(own - share[:, None] * way, axis=1) / max(size, 1e-9)
        fall = np.clip((1 - away) / max(1 - inner, 1e-6), 0, 1)
        fall = np.where(away <= 1, fall * fall * (3 - 2 * fall), 0)
        normal = start[3:] + share[:, None] * (end[3:] - start[3:])
        turned = np.einsum("ij,ij->i", facing[at], normal)
        # Without a normal, as on curves and loose points, it touches from all sides.
        lies = np.clip((turned - TOUCHES[0]) / (TOUCHES[1] - TOUCHES[0]), 0, 1)
        lies = np.where(np.abs(normal).sum(axis=1) < 1e-6, 1, lies)
        most[at] = np.maximum(most[at], fall * lies)
    touched = most > 0
    return near[touched], most[touched]


def _evened(weights: np.ndarray, points: np.ndarray, near: np.ndarray, size: float) -> np.ndarray:
    """Weights at some points, evened out over about a quarter of the brush: a mean over all points
    near by, on a lattice, so that it depends little on how many there are."""
    low, high = points[near].min(axis=0) - size, points[near].max(axis=0) + size
    around = np.flatnonzero(((points >= low) & (points <= high)).all(axis=1))
    cell = max(size / 8, float(np.prod(np.maximum(high - low, 1e-9)) / MAX_CELLS) ** (1 / 3))
    counts = np.maximum(np.ceil((high - low) / cell).astype(int) + 2, 2)
    place = (points[around] - low) / cell
    first = np.floor(place).astype(int)
    part = place - first
    total, members = np.zeros(counts), np.zeros(counts)
    for corner in np.ndindex(2, 2, 2):
        share = np.prod(np.where(corner, part, 1 - part), axis=1)
        at = tuple(np.minimum((first + corner).T, (counts - 1)[:, None]))
        np.add.at(members, at, share)
        np.add.at(total, at, share * weights[around])
    spread = size / 4 / cell
    total, members = (
        scipy.ndimage.gaussian_filter(a, spread, mode="constant") for a in (total, members)
    )
    where = ((points[near] - low) / cell).T
    found, full = (scipy.ndimage.map_coordinates(a, where, order=1) for a in (total, members))
    return found / np.maximum(full, 1e-9)


def drawn_weights(
    strokes: Sequence[Mapping[str, Any]], points: np.ndarray, normals: np.ndarray
) -> np.ndarray:
    """What all strokes, one after the other, leave at the points; (P,) float32 from 0 to 1.

    points, normals : (P, 3) of the rest shape
    """
    weights = np.zeros(len(points))
    for stroke in strokes:
        near, share = coverage(stroke, points, normals)
        if len(near) == 0:
            continue
        share = share * (float(stroke.get("strength", 100.0)) / 100)
        does = stroke.get("does", "paint")
        if does == "paint":
            weights[near] += (1 - weights[near]) * share
        elif does == "erase":
            weights[near] *= 1 - share
        else:
            evened = _evened(weights, points, near, float(stroke["size"]))
            weights[near] += (evened - weights[near]) * share
    return weights.astype(np.float32)


def left_behind(strokes: Sequence[Mapping[str, Any]], points: np.ndarray) -> float:
    """Share of the strokes' paths that no longer lie on the rest shape, 0 to 1: farther from
    every point than the brush is wide. 0 without strokes."""
    paths = [np.array(s["path"], np.float64).reshape(-1, 6)[:, :3] for s in strokes]
    if not paths:
        return 0.0
    if len(points) == 0:
        return 1.0
    sizes = np.repeat([float(s["size"]) for s in strokes], [len(p) for p in paths])
    away, _ = scipy.spatial.cKDTree(points).query(np.concatenate(paths))
    return float((away > sizes).mean())
