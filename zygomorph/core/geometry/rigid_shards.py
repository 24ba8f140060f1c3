"""Move each shard as a whole: a tile in a wave stays a tile.

A deformer is asked what it does to four points round the middle of each shard, two and two opposite
each other. Their middle tells where the shard goes, the square they make how it tilts.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, REST, SHARD, UNIT, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.topology import Topology

# How far from its middle a shard is felt, as a share of its radius.
REACH = 0.3
FEELERS = 4
TURNS = np.arange(FEELERS) * (2 * np.pi / FEELERS)


def shard_of_points(mesh: Mesh) -> tuple[np.ndarray, int]:
    """The shard of each point, (P,) int64, and how many shards there are.

    Raises ZygomorphError where there are none, or points belong to no shard.
    """
    shard = mesh.get("face", SHARD)
    if shard is None or len(shard) == 0:
        raise ZygomorphError(
            "There are no shards here to move as a whole.",
            "Take a tiling, or let the step move points.",
        )
    labels = np.full(len(mesh.points), -1, np.int64)
    labels[mesh.topology.corners] = shard[mesh.topology.corner_face]
    if labels.min(initial=0) < 0:
        raise ZygomorphError("Some points belong to no shard.", "Let the step move points.")
    return labels, int(shard.max()) + 1


def _means(values: np.ndarray, labels: np.ndarray, count: int) -> np.ndarray:
    """Mean of values, (P, k) or (P,), over each shard; float64."""
    sizes = np.maximum(np.bincount(labels, minlength=count), 1)
    if values.ndim == 1:
        return np.bincount(labels, values, count) / sizes
    columns = [np.bincount(labels, column, count) / sizes for column in values.T]
    return np.stack(columns, axis=1)


def _units(vectors: np.ndarray, fallback: tuple[float, float, float]) -> np.ndarray:
    length = np.linalg.norm(vectors, axis=1, keepdims=True)
    return np.where(length > 1e-9, vectors / np.maximum(length, 1e-9), fallback)


def _across(normals: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Two directions across each normal, so that first × second is the normal."""
    helper = np.where(np.abs(normals[:, :1]) < 0.9, [1.0, 0.0, 0.0], [0.0, 0.0, 1.0])
    first = _units(helper - normals * np.sum(helper * normals, axis=1, keepdims=True), (1, 0, 0))
    return first, np.cross(normals, first)


def _frames(feelers: np.ndarray) -> np.ndarray:
    """(K, 3, 3) with columns across, other way across, and normal of each square, (K, 4, 3)."""
    first, second = feelers[:, 0] - feelers[:, 2], feelers[:, 1] - feelers[:, 3]
    normal = _units(np.cross(first, second), (0, 1, 0))
    first = _units(first - normal * np.sum(first * normal, axis=1, keepdims=True), (1, 0, 0))
    return np.stack([first, np.cross(normal, first), normal], axis=2)


def sample_frame(mesh: Mesh, array: np.ndarray) -> np.ndarray:
    """A value of each point, (P,), as a value of each feeler of the shards; others as they are."""
    if array.ndim != 1 or len(array) == 1 or len(array) != len(mesh.points):
        return array
    labels, count = shard_of_points(mesh)
    return np.repeat(_means(array, labels, count), FEELERS)


def move_shards(
    mesh: Mesh,
    weights: np.ndarray,
    tilt: bool,
    deform: Callable[[Mesh, np.ndarray], Mesh],
) -> Mesh:
    """What a deformer does to points, done to each shard as a whole.

    weights : (P,) or (1,) float32; of a shard their mean counts
    tilt : turn each shard as the deformer slopes there, besides carrying it
    deform : from a mesh and its weights to the moved mesh
    """
    labels, count = shard_of_points(mesh)
    middle = _means(mesh.points, labels, count)
    away = np.linalg.norm(mesh.points - middle[labels], axis=1)
    radius = np.zeros(count)
    np.maximum.at(radius, labels, away)
    normals = _units(_means(point_normals(mesh), labels, count), (0, 1, 0))
    first, second = _across(normals)
    round_ = np.cos(TURNS)[:, None, None] * first + np.sin(TURNS)[:, None, None] * second
    reach = REACH * np.maximum(radius, 1e-6)[:, None]
    feelers = (middle + reach * round_).transpose(1, 0, 2)
    rest = feelers
    if mesh.rest is not mesh.points:
        rest = feelers + (_means(mesh.rest, labels, count) - middle)[:, None]
    corners = np.arange(FEELERS * count, dtype=np.int32)
    point = {
        name: np.repeat(_means(array, labels, count), FEELERS).astype(np.float32)
        for name, array in mesh.attributes.get("point", {}).items()
        if name.startswith(MASK)
    }
    asked = Mesh(
        np.ascontiguousarray(feelers.reshape(-1, 3), np.float32),
        Topology(len(corners), corners, np.arange(count + 1, dtype=np.int32) * FEELERS),
        {
            "point": point
            | {
                REST: np.ascontiguousarray(rest.reshape(-1, 3), np.float32),
                # Chance is the same for a whole shard.
                ELEMENT_ID: np.repeat(mesh.ids("shard"), FEELERS),
                UNIT: np.repeat(np.arange(count, dtype=np.int32), FEELERS),
            },
            "face": {SHARD: np.arange(count, dtype=np.int32)},
        },
    )
    share = weights
    if len(weights) > 1:
        share = np.repeat(_means(weights, labels, count), FEELERS).astype(np.float32)
    found = deform(asked, share).points.reshape(count, FEELERS, 3).astype(np.float64)
    moved = found.mean(axis=1)
    if not tilt:
        return mesh.moved((mesh.points + (moved - middle)[labels]).astype(np.float32))
    turn = _frames(found) @ _frames(feelers).transpose(0, 2, 1)
    own = mesh.points - middle[labels]
    turned = np.einsum("pij,pj->pi", turn[labels], own)
    return mesh.moved((moved[labels] + turned).astype(np.float32))
