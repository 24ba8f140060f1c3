"""Move copies as wholes: a deformer is asked what it does at the centre of each, or, to tilt, turn
and size them, what it does to a small square around it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from zygomorph.core.geometry.geometry import Copies
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, REST, SHARD, UNIT, Mesh
from zygomorph.core.geometry.rigid_shards import FEELERS, REACH, TURNS, frames, units
from zygomorph.core.geometry.topology import Topology

Deform = Callable[[Mesh, Mapping[str, np.ndarray], np.ndarray], Mesh]


def move_copies(
    copies: Copies,
    points: Mesh,
    weights: np.ndarray,
    numbers: Mapping[str, np.ndarray],
    deform: Deform,
    *,
    tilt: bool,
    resize: bool,
    reach: np.ndarray,
) -> Copies:
    """What a deformer does to points, done to each copy as a whole.

    points : the copies as loose points
    weights : (K,) or (1,) float32; numbers : values of the deformer, (1,) or (K,)
    deform : from a mesh, values and weights to the moved mesh
    tilt : turn each copy as the deformer slopes there, besides carrying it
    resize : take over how the deformer sizes and turns it
    reach : (B,) metres, about how far each base reaches from its origin
    """
    if not (tilt or resize):
        made = deform(points, numbers, weights)
        linear = copies.placements[:, :, :3]
        return _taken_over(copies, points, made, linear, made.points)
    asked, feelers = _squares(copies, points, reach)
    count = len(copies)
    each = {n: np.repeat(a, FEELERS) if a.shape == (count,) else a for n, a in numbers.items()}
    share = np.repeat(weights, FEELERS) if len(weights) == count else weights
    made = deform(asked, each, np.ascontiguousarray(share, np.float32))
    found = made.points.reshape(count, FEELERS, 3).astype(np.float64)
    turn = frames(found) @ frames(feelers).transpose(0, 2, 1)
    if resize:
        turn *= (_spans(found) / np.maximum(_spans(feelers), 1e-12))[:, None, None]
    linear = turn @ copies.placements[:, :, :3]
    return _taken_over(copies, asked, made, linear, found.mean(axis=1))


def _taken_over(
    copies: Copies, asked: Mesh, made: Mesh, linear: np.ndarray, centres: np.ndarray
) -> Copies:
    """The copies at their new placements, with what the deformer wrote at its points."""
    placements = np.empty_like(copies.placements)
    placements[:, :, :3], placements[:, :, 3] = linear, centres
    attributes = dict(copies.attributes)
    every = len(asked.points) // max(len(copies), 1)
    known = asked.attributes["point"]
    for name, values in made.attributes.get("point", {}).items():
        if values is known.get(name):
            continue
        if name.startswith(MASK):
            attributes[name] = np.ascontiguousarray(values[::every])
        elif name == REST:
            rest = copies.placements.copy()
            rest[:, :, 3] = values.reshape(len(copies), every, 3).mean(axis=1)
            attributes[REST] = rest
    # Where they are at rest is where they were made.
    attributes.setdefault(REST, copies.placements)
    return replace(copies, placements=placements, attributes=attributes)


def _spans(feelers: np.ndarray) -> np.ndarray:
    """(K,) how far the feelers are from their middle."""
    away = feelers - feelers.mean(axis=1, keepdims=True)
    found: np.ndarray = np.linalg.norm(away, axis=2).mean(axis=1)
    return found


def _squares(copies: Copies, points: Mesh, reach: np.ndarray) -> tuple[Mesh, np.ndarray]:
    """Four points around each copy, across its own y axis, as the mesh of their squares and as
    (K, 4, 3) float64."""
    linear = copies.placements[:, :, :3].astype(np.float64)
    scale = np.linalg.norm(linear, axis=1).max(axis=1)
    up = units(linear[:, :, 1], (0, 1, 0))
    first = linear[:, :, 2] - up * np.sum(linear[:, :, 2] * up, axis=1, keepdims=True)
    first = units(first, (0, 0, 1))
    second = np.cross(up, first)
    round_ = np.cos(TURNS)[:, None, None] * first + np.sin(TURNS)[:, None, None] * second
    # What has no size now may be given one.
    size = REACH * np.maximum(reach[copies.base] * np.where(scale > 0, scale, 1), 1e-6)
    around = (size[:, None] * round_).transpose(1, 0, 2)
    feelers = points.points[:, None] + around
    rest = points.rest[:, None] + around
    count = len(copies)
    numbers = np.repeat(np.arange(count, dtype=np.int32), FEELERS)
    named = points.attributes["point"]
    asked = Mesh(
        np.ascontiguousarray(feelers.reshape(-1, 3), np.float32),
        Topology(
            FEELERS * count,
            np.arange(FEELERS * count, dtype=np.int32),
            np.arange(count + 1, dtype=np.int32) * FEELERS,
        ),
        {
            "point": {
                **{n: np.repeat(v, FEELERS) for n, v in named.items() if n.startswith(MASK)},
                REST: np.ascontiguousarray(rest.reshape(-1, 3), np.float32),
                ELEMENT_ID: np.repeat(copies.ids, FEELERS),
                UNIT: numbers,
            },
            "face": {SHARD: np.arange(count, dtype=np.int32)},
        },
    )
    return asked, feelers
