"""Where copies stand: turned to surfaces, made uneven by chance, and kept apart."""

from __future__ import annotations

import numpy as np
import scipy

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.values.formula.functions import chance

# Chance of one thing must not follow that of another.
SIZE, TURN, RANK = 0, 7919, 15485863


def upright(normals: np.ndarray, ahead: np.ndarray) -> np.ndarray:
    """(K, 3, 3) turns that take the y axis to each normal and the x axis as near as can be to the
    way ahead.

    normals : (K, 3) units; ahead : (K, 3)
    """
    y = normals.astype(np.float64)
    x = ahead - y * np.einsum("ij,ij->i", ahead, y)[:, None]
    length = np.linalg.norm(x, axis=1, keepdims=True)
    # Where the way ahead runs along the normal, the axis that is most across it.
    axis = np.eye(3)[np.argmin(np.abs(y), axis=1)]
    other = axis - y * np.einsum("ij,ij->i", axis, y)[:, None]
    other /= np.maximum(np.linalg.norm(other, axis=1, keepdims=True), 1e-20)
    x = np.where(length > 1e-9, x / np.maximum(length, 1e-9), other)
    return np.stack([x, y, np.cross(x, y)], axis=2)


def uneven(
    linear: np.ndarray, ids: np.ndarray, smallest: float, turn: np.ndarray, seed: int
) -> np.ndarray:
    """(K, 3, 3) matrices sized and turned by chance.

    ids : (K,) what chance goes by
    smallest : each is from so many times to once as large
    turn : (3,) degrees; each is turned about x, y and z by up to so much either way
    """
    found = linear
    if np.any(turn):
        shares = np.stack([chance(ids, seed + TURN + axis) for axis in range(3)], axis=1)
        found = found @ rotation((2 * shares.astype(np.float64) - 1) * turn)
    if smallest != 1:
        size = smallest + (1 - smallest) * chance(ids, seed + SIZE).astype(np.float64)
        found = found * size[:, None, None]
    return found


def placed(
    places: np.ndarray, linear: np.ndarray | None, ids: np.ndarray, values: Resolved
) -> np.ndarray:
    """(K, 3, 4) placements of copies, made uneven as the values of
    :mod:`zygomorph.core.values.copy_values` say.

    places : (K, 3) metres; linear : (K, 3, 3) how each stands, or None where all stand upright
    ids : (K,) what chance goes by
    """
    if linear is None:
        linear = np.broadcast_to(np.eye(3), (len(places), 3, 3))
    smallest, turn = values.scalar("smallest") / 100, values.vector("turned")
    found = uneven(linear, ids, smallest, turn, values.count("seed"))
    return np.concatenate([found, places[:, :, None]], axis=2)


def kept_apart(places: np.ndarray, distance: float, ids: np.ndarray, seed: int) -> np.ndarray:
    """(K,) bool: the places that stay so that no two are nearer than a distance.

    In an order by chance each stays that is not too near to one that stays before it (dart
    throwing; R. Cook, "Stochastic sampling in computer graphics", 1986; from memory).
    """
    count = len(places)
    if distance <= 0 or count < 2:
        return np.ones(count, bool)
    pairs = scipy.spatial.cKDTree(places).query_pairs(distance, output_type="ndarray")
    order = np.lexsort((ids, chance(ids, seed + RANK)))
    rank = np.empty(count, np.int64)
    rank[order] = np.arange(count)
    first = np.where(rank[pairs[:, 0]] < rank[pairs[:, 1]], pairs[:, 0], pairs[:, 1])
    second = pairs.sum(axis=1) - first
    stays, open_ = np.zeros(count, bool), np.ones(count, bool)
    # Who has none before it that is undecided stays; whoever is too near to that goes.
    while open_.any():
        waits = np.zeros(count, bool)
        waits[second[open_[first]]] = True
        chosen = open_ & ~waits
        stays |= chosen
        open_ &= ~chosen
        gone = second[chosen[first]]
        open_[gone] = False
    return stays
