"""Rebuild through voxels: one skin around everything, made anew from its distance on a grid."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import mesh_beside
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import ELEMENT_ID, SHARD, Mesh
from zygomorph.core.geometry.voxels.rebuilding import (
    AROUND,
    Skinned,
    distance_of,
    grid_around,
    has_an_inside,
    hollowed,
    skinned,
    smoothed,
)
from zygomorph.core.geometry.voxels.skin import skin_of
from zygomorph.core.values.definitions import MASK_INPUT, Stands, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, piece, switch


def structure(
    mesh: Mesh, values: Resolved, mask: np.ndarray | None, parts: Sequence[Mesh]
) -> Skinned:
    cell, smooth, wall = (values.scalar(name) for name in ("size", "smooth", "wall"))
    grow = values.scalar("grow")
    hollow = values.discrete("inside") == "hollow"
    is_open = not all(has_an_inside(part) for part in parts)
    margin = max(grow, 0.0) + (wall / 2 if is_open else 0.0) + 2 * cell
    band = abs(grow) + 2 * smooth + (wall if hollow else 0.0) + AROUND * cell
    grid = grid_around(parts, cell, margin + smooth)
    field = distance_of(parts, grid, band, wall)
    distance = smoothed(field.distance, grid, smooth, values.discrete("volume"))
    if grow:
        distance = distance - np.float32(grow) * _shares(mesh, mask, field.nearest)
    if hollow and not is_open:
        distance = hollowed(distance, wall)
    skin = skin_of(distance, grid)
    return skinned(mesh, skin, field.nearest, values.discrete("cut") == "rest")


def _shares(mesh: Mesh, mask: np.ndarray | None, nearest: np.ndarray) -> np.ndarray:
    """How much of the growth each grid point has: the mask at the triangle it is nearest to."""
    if mask is None or len(mask) == 1:
        return np.ones(1, np.float32) if mask is None else mask
    weights = np.zeros(len(mesh.points), np.float32)
    weights[: len(mask)] = mask
    each = weights[mesh.topology.drawn_triangles].mean(axis=1)
    return np.where(nearest >= 0, each[np.maximum(nearest, 0)], 0).astype(np.float32)


def apply(
    mesh: Mesh, structure: Skinned, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    if values.discrete("cut") == "rest":
        return structure.place.carry(mesh.points)
    return structure.points


def _stands(values: Resolved) -> Stands:
    return "at rest" if values.discrete("cut") == "rest" else "now"


def beside(values: Resolved, context: Context) -> tuple[tuple[Mesh, ...], Hashable]:
    if not values.discrete("piece"):
        return (), None
    _, mesh, key = mesh_beside(values.discrete("piece"), context)
    return (mesh,), key


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    if found is None:
        return {}
    cell = found.share(0.025)
    return {"size": {"draft": cell, "final": cell / 2}, "wall": found.share(0.05)}


DEFINITION = TopologyDefinition(
    key="voxels",
    title="Rebuild through voxels",
    group=MAKE,
    help="Makes one skin around all that is there, however it overlaps or is broken; another piece "
    "can melt into it. A mask says where it grows.",
    also=(
        "remesh",
        "skin",
        "melt",
        "union",
        "metaball",
        "hollow",
        "shell",
        "smooth",
        "grow",
        "heal",
    ),
    values={
        "size": number(
            0.05,
            "Voxel",
            "The finest that is left is twice as wide.",
            "m",
            (0.01, 0.5),
            hard=(1e-4, 1e4),
            scale="log",
            draft=True,
        ),
        "piece": piece("Together with", "Another piece that the skin goes around, too."),
        "smooth": number(
            0.0,
            "Smooth",
            "What is finer is rounded off, and what is nearer melts together.",
            "m",
            (0.0, 0.2),
            hard=(0.0, 1e4),
            idle=0.0,
        ),
        "volume": switch(
            False,
            "Keep volume",
            "Grow it back by what smoothing takes away.",
        ),
        "grow": number(
            0.0,
            "Grow",
            "How far the skin goes outward; below 0, inward.",
            "m",
            (-0.1, 0.1),
            hard=(-1e4, 1e4),
            idle=0.0,
        ),
        "inside": choice(
            "solid",
            "Inside",
            "All of it, or a wall below the skin.",
            {"solid": "solid", "hollow": "hollow"},
        ),
        "wall": number(
            0.05,
            "Wall",
            "Its thickness; what is open becomes a wall, too.",
            "m",
            (0.005, 0.3),
            hard=(0.0, 1e4),
        ),
        "cut": choice(
            "now",
            "Made",
            "From all as it is at every frame; or once at rest, and the skin bends along.",
            {"now": "anew at every frame", "rest": "at rest, and follows"},
            main=False,
        ),
    },
    sentence="Rebuild through voxels of {size}[, together with {piece}][, smooth {smooth}]"
    "[, grown by {grow}]",
    structure=structure,
    changes_with=frozenset(
        {"size", "piece", "smooth", "volume", "grow", "inside", "wall", "cut", MASK_INPUT}
    ),
    exact_mask=lambda discrete: True,
    acts_per=lambda discrete: "points",
    stands=_stands,
    reads=(("face", SHARD), ("shard", ELEMENT_ID)),
    beside=beside,
    takes_in=True,
    apply=apply,
    rest_by_origin=True,
    voxel="size",
    keeps_volume="volume",
    edges=lambda discrete: "rounds",
    suggest=suggest,
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.42, "halvings": 3}),
        {"size": 0.045, "smooth": 0.07, "piece": "o"},
        before=[{"step": "place", "values": {"move": [sine(-0.75, -0.2), 0, 0]}}],
        other=("icosphere", {"radius": 0.42, "halvings": 3}),
    ),
    order=68,
)
