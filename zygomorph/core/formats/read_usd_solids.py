"""The solids that USD knows by a size alone, as meshes: cube, sphere, cylinder, cone, capsule and
plane (UsdGeom schemas)."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np

KINDS = ("Cube", "Sphere", "Cylinder", "Cone", "Capsule", "Plane")
# Sides of what is round, and rings of a ball from pole to pole.
AROUND = 48
RINGS = 24


def is_solid(prim: Any) -> bool:
    return prim.GetTypeName() in KINDS


def solid_arrays(prim: Any) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Points (V, 3), corners (C,) and corners of each face (F,), counter-clockwise from outside."""
    from pxr import UsdGeom

    kind = prim.GetTypeName()

    def value(name: str) -> Any:
        return prim.GetAttribute(name).Get()

    if kind == "Cube":
        return _cube(float(value("size")))
    if kind == "Plane":
        made = _plane(float(value("width")), float(value("length")))
        return _along(made, value("axis"))
    radius = float(value("radius"))
    if kind == "Sphere":
        turn = np.linspace(0, np.pi, RINGS + 1)
        return _turned(radius * np.sin(turn), radius * np.cos(turn))
    half = float(value("height")) / 2
    if kind == "Cylinder":
        profile = [0.0, radius, radius, 0.0], [half, half, -half, -half]
    elif kind == "Cone":
        profile = [0.0, radius, 0.0], [half, -half, -half]
    else:
        turn = np.linspace(0, np.pi / 2, RINGS // 2 + 1)
        round_, high = radius * np.sin(turn), radius * np.cos(turn)
        profile = (
            [*round_, *round_[::-1]],
            [*(half + high), *(-half - high[::-1])],
        )
    made = _turned(np.array(profile[0]), np.array(profile[1]))
    return _along(made, value("axis") or UsdGeom.Tokens.z)


def _cube(size: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    signs = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], np.float64)
    faces = np.array(
        [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]]
    )
    return signs * size / 2, faces.ravel(), np.full(6, 4)


def _plane(width: float, length: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """It faces along z."""
    x, y = width / 2, length / 2
    points = np.array([[-x, -y, 0], [x, -y, 0], [x, y, 0], [-x, y, 0]], np.float64)
    return points, np.arange(4), np.array([4])


def _turned(radii: np.ndarray, heights: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A profile from the top down turned about z; where its radius is 0 it closes in one point."""
    angle = np.arange(AROUND) * (2 * np.pi / AROUND)
    ring = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    points: list[np.ndarray] = []
    rows: list[np.ndarray] = []
    first = 0
    for radius, height in zip(radii, heights, strict=True):
        pole = radius < 1e-12
        own = np.zeros((1, 2)) if pole else ring * radius
        points.append(np.concatenate([own, np.full((len(own), 1), height)], axis=1))
        rows.append(np.full(AROUND, first) if pole else first + np.arange(AROUND))
        first += len(own)
    corners: list[int] = []
    sizes: list[int] = []
    for upper, lower in pairwise(rows):
        for k in range(AROUND):
            after = (k + 1) % AROUND
            face = [upper[k], lower[k], lower[after], upper[after]]
            kept = [p for n, p in enumerate(face) if p != face[n - 1]]
            if len(kept) > 2:
                corners += [int(p) for p in kept]
                sizes.append(len(kept))
    return np.concatenate(points), np.array(corners), np.array(sizes)


def _along(
    made: tuple[np.ndarray, np.ndarray, np.ndarray], axis: str
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """What was made along z, along another axis; the order of the axes is kept, so that faces
    still look outwards."""
    points, corners, sizes = made
    turn = {"X": [2, 0, 1], "Y": [1, 2, 0], "Z": [0, 1, 2]}[str(axis)]
    return points[:, turn], corners, sizes
