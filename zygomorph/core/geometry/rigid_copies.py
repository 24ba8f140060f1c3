"""Move copies as wholes: a deformer is asked what it does at the centre of each, or, to tilt, turn
and size them, what it does to a small square around it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from zygomorph.core.geometry.geometry import Copies
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, REST, SHARD, UNIT, Mesh
from zygomorph.core.geometry.rigid_shards import FEELERS, REACH
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.copies import moved_to, placed_by_squares, squares_of

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
    placements = np.empty_like(copies.placements)
    if not (tilt or resize):
        made = deform(points, numbers, weights)
        moved_to(copies.placements, made.points, placements)
        return _taken_over(copies, points, made, placements)
    count = len(copies)
    sizes = _sizes(copies, reach)
    asked = _squares(copies, points, sizes)
    each = {n: np.repeat(a, FEELERS) if a.shape == (count,) else a for n, a in numbers.items()}
    share = np.repeat(weights, FEELERS) if len(weights) == count else weights
    made = deform(asked, each, np.ascontiguousarray(share, np.float32))
    squares = np.ascontiguousarray(made.points.reshape(count, FEELERS, 3))
    placed_by_squares(copies.placements, squares, sizes, resize, placements)
    return _taken_over(copies, asked, made, placements)


def _sizes(copies: Copies, reach: np.ndarray) -> np.ndarray:
    """(K,) float32 metres: how far from its centre each copy is felt."""
    largest = np.abs(copies.placements[:, :, 0]).max(axis=1)
    # What has no size now may be given one.
    scale = np.where(largest > 0, largest, 1)
    return (REACH * np.maximum(reach[copies.base] * scale, 1e-6)).astype(np.float32)


def _taken_over(copies: Copies, asked: Mesh, made: Mesh, placements: np.ndarray) -> Copies:
    """The copies at their new placements, with what the deformer wrote at its points."""
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


def _squares(copies: Copies, points: Mesh, sizes: np.ndarray) -> Mesh:
    """Four points around each copy, across its own y axis, as a mesh of squares."""
    count = len(copies)

    def around(centres: np.ndarray) -> np.ndarray:
        out = np.empty((count, FEELERS, 3), np.float32)
        squares_of(copies.placements, centres, sizes, out)
        return out.reshape(-1, 3)

    here = around(points.points)
    rest = here if points.rest is points.points else around(points.rest)
    named = points.attributes["point"]
    corners = np.arange(FEELERS * count, dtype=np.int32)
    starts = np.arange(count + 1, dtype=np.int32) * FEELERS
    return Mesh(
        here,
        Topology(FEELERS * count, corners, starts),
        {
            "point": {
                **{n: np.repeat(v, FEELERS) for n, v in named.items() if n.startswith(MASK)},
                REST: rest,
                ELEMENT_ID: np.repeat(copies.ids, FEELERS),
                UNIT: np.repeat(np.arange(count, dtype=np.int32), FEELERS),
            },
            "face": {SHARD: np.arange(count, dtype=np.int32)},
        },
    )
