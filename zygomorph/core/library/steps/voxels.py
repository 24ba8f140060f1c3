"""Rebuild through voxels: one skin around everything, made anew from its distance on a grid."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
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
from zygomorph.core.shared.solid_values import (
    SMOOTH,
    VOXEL,
    mask_at_nearest,
    piece_beside,
    stands_by_cut,
    voxel_suggested,
)
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
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
        distance = distance - np.float32(grow) * mask_at_nearest(mesh, mask, field.nearest)
    if hollow and not is_open:
        distance = hollowed(distance, wall)
    skin = skin_of(distance, grid)
    return skinned(mesh, skin, field.nearest, values.discrete("cut") == "rest")


def apply(
    mesh: Mesh, structure: Skinned, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    if values.discrete("cut") == "rest":
        return structure.place.carry(mesh.points)
    return structure.points


def beside(values: Resolved, context: Context) -> tuple[tuple[Mesh, ...], Hashable]:
    return piece_beside(values, context) if values.discrete("piece") else ((), None)


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    if found is None:
        return {}
    return {"size": voxel_suggested(found), "wall": found.share(0.05)}


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
        "size": VOXEL,
        "piece": piece("Together with", "Another piece that the skin goes around, too.", idle=""),
        "smooth": SMOOTH,
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
    stands=stands_by_cut,
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
