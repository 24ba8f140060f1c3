"""Where points of a swarm are born: on the surface of a mesh, at its points, or inside of it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.surface_search import search_of

# Rounds in which places inside are looked for by chance.
ROUNDS = 60
# What of a birth chance decides.
WHERE, SIDE, ALONG = range(3)


def born(
    mesh: Mesh, where: str, index: np.ndarray, generation: np.ndarray, seed: int
) -> tuple[np.ndarray, np.ndarray]:
    """Places and the ways out of the mesh there, (n, 3) float32 each.

    where : "surface", "points" or "inside"
    index, generation : (n,) which point of the swarm it is, and how often it was born

    Raises ZygomorphError where there is no such place.
    """
    if len(mesh.points) == 0:
        raise ZygomorphError("There is nothing to be born on.", "Begin with a form.")
    if where == "points":
        chosen = np.floor(by_chance(seed, index, generation, WHERE) * len(mesh.points))
        at = chosen.astype(np.int64)
        return mesh.points[at], point_normals(mesh)[at]
    triangles = mesh.topology.triangles(mesh.points)
    if len(triangles) == 0:
        raise ZygomorphError("There are no faces.", "Let the swarm be born at points.")
    if where == "inside":
        return _inside(mesh, triangles, index, generation, seed)
    corners = mesh.points.astype(np.float64)[triangles]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    total = np.cumsum(np.linalg.norm(across, axis=1))
    if total[-1] <= 0:
        raise ZygomorphError("The surface has no area.", "Let the swarm be born at points.")
    one, two, three = (by_chance(seed, index, generation, k) for k in (WHERE, SIDE, ALONG))
    face = np.minimum(np.searchsorted(total, one * total[-1], side="right"), len(total) - 1)
    root = np.sqrt(two)
    shares = np.stack([1 - root, root * (1 - three), root * three], axis=1)
    places = np.einsum("nc,ncx->nx", shares, corners[face])
    ways = across[face] / np.maximum(np.linalg.norm(across[face], axis=1, keepdims=True), 1e-30)
    return places.astype(np.float32), ways.astype(np.float32)


def within(mesh: Mesh, triangles: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n,) bool: places on the inner side of the surface that is nearest to them."""
    found, _, face = search_of(mesh.points, triangles).nearest(places.astype(np.float64))
    corners = mesh.points.astype(np.float64)[triangles[np.maximum(face, 0)]]
    out = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    inner: np.ndarray = np.einsum("ij,ij->i", places - found, out) < 0
    return inner & (face >= 0)


def _inside(
    mesh: Mesh, triangles: np.ndarray, index: np.ndarray, generation: np.ndarray, seed: int
) -> tuple[np.ndarray, np.ndarray]:
    low, high = (mesh.points.min(axis=0), mesh.points.max(axis=0))
    places = np.zeros((len(index), 3))
    left = np.arange(len(index))
    for number in range(ROUNDS):
        if len(left) == 0:
            break
        tried = np.stack(
            [by_chance(seed, index[left], generation[left], number, k) for k in range(3)], axis=1
        )
        at = low + tried * (high - low)
        places[left] = at
        left = left[~within(mesh, triangles, at)]
    if len(left) > len(index) / 2:
        raise ZygomorphError(
            "Hardly any place inside was found.",
            "Close the surface, or let the swarm be born on it.",
        )
    if len(left):
        # The last few begin where others do.
        places[left] = places[np.setdiff1d(np.arange(len(index)), left)[: len(left)]]
    middle = (low + high) / 2
    ways = places - middle
    ways /= np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12)
    return places.astype(np.float32), ways.astype(np.float32)
