"""Polygons that are not convex, and how they are cut into triangles: by clipping ears."""

from __future__ import annotations

import mapbox_earcut
import numpy as np

# A corner that turns inwards by less than this share of the polygon's area is straight.
STRAIGHT = 1e-6


def concave_faces(corners: np.ndarray, face_starts: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Numbers of the polygons of more than four corners that are not convex where they lie.

    corners, face_starts : as in a topology; points : (P, 3)

    Polygons of one size are looked at together. Each is seen along its own normal; it is convex
    where no corner turns inwards and it goes round once.
    """
    sizes = np.diff(face_starts)
    found = []
    for size in np.unique(sizes[sizes > 4]):
        faces = np.flatnonzero(sizes == size)
        ring = corners[face_starts[faces][:, None] + np.arange(size)]
        place = points[ring].astype(np.float64)
        place -= place[:, :1]
        normal = np.cross(place, np.roll(place, -1, axis=1)).sum(axis=1)
        side = np.roll(place, -1, axis=1) - place
        turns = np.einsum("fki,fi->fk", np.cross(np.roll(side, 1, axis=1), side), normal)
        fan = np.einsum("fki,fi->fk", np.cross(place[:, 1:-1], place[:, 2:]), normal)
        least = -STRAIGHT * np.einsum("fi,fi->f", normal, normal)
        found.append(faces[np.minimum(turns.min(axis=1), fan.min(axis=1)) < least])
    return np.concatenate(found) if found else np.zeros(0, np.int64)


def clipped(
    fans: np.ndarray,
    corners: np.ndarray,
    face_starts: np.ndarray,
    points: np.ndarray,
    concave: np.ndarray,
) -> np.ndarray:
    """(T, 3) int32 corner numbers of triangles in the order of the faces: these faces by ear
    clipping, and all others as they are among ``fans``."""
    face = np.searchsorted(face_starts, fans[:, 0], side="right") - 1
    whole = ~np.isin(face, concave)
    parts, faces = [fans[whole]], [face[whole]]
    for each in concave:
        lo, hi = face_starts[each], face_starts[each + 1]
        local = clip_ears(points[corners[lo:hi]])
        parts.append(lo + local)
        faces.append(np.full(len(local), each))
    order = np.argsort(np.concatenate(faces), kind="stable")
    return np.ascontiguousarray(np.concatenate(parts)[order].astype(np.int32))


def clip_ears(ring: np.ndarray) -> np.ndarray:
    """(T, 3) places in the ring, (n, 3)."""
    ring = ring.astype(np.float64)
    normal = np.cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0)
    drop = int(np.argmax(np.abs(normal)))
    keep = [(drop + 1) % 3, (drop + 2) % 3]
    flat = np.ascontiguousarray(ring[:, keep])
    found = mapbox_earcut.triangulate_float64(flat, np.array([len(ring)], np.uint32))
    triangles = np.asarray(found, np.int64).reshape(-1, 3)
    if len(triangles) == 0:
        middle = np.arange(1, len(ring) - 1)
        return np.stack([np.zeros_like(middle), middle, middle + 1], axis=1)
    a, b, c = (flat[triangles[:, k]] for k in range(3))
    turn = np.sign(((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]).sum())
    outward = np.sign(normal[drop])
    return triangles if turn * outward >= 0 else triangles[:, ::-1]
