"""Blend as fields: one shape becomes another, whatever their topology, through their distances.

The distances of both from every place are mixed, and the surface is where the mixture is 0: D.
Cohen-Or, A. Solomovici, D. Levin, "Three-Dimensional Distance Field Metamorphosis", ACM
Transactions on Graphics 17, 1998.
"""

from __future__ import annotations

from collections.abc import Sequence
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
    skinned,
    smoothed,
)
from zygomorph.core.geometry.voxels.skin import skin_of
from zygomorph.core.shared.solid_values import (
    SMOOTH,
    VOXEL,
    mask_at_nearest,
    piece_beside,
    voxel_suggested,
)
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import number, piece


def structure(
    mesh: Mesh, values: Resolved, mask: np.ndarray | None, parts: Sequence[Mesh]
) -> Skinned:
    own, other = parts
    cell, smooth, wall = (values.scalar(name) for name in ("size", "smooth", "wall"))
    band = AROUND * cell
    grid = grid_around(parts, cell, 2 * cell + wall / 2 + smooth)
    first = distance_of((own,), grid, band, wall, far=True)
    second = distance_of((other,), grid, band, wall, far=True)
    share = np.float32(values.scalar("amount") / 100) * mask_at_nearest(own, mask, first.nearest)
    distance = first.distance + share * (second.distance - first.distance)
    skin = skin_of(smoothed(distance, grid, smooth, False), grid)
    count = len(own.topology.drawn_corners)
    nearest = np.where(share < 0.5, first.nearest, second.nearest + count)
    return skinned(mesh, skin, np.ascontiguousarray(np.broadcast_to(nearest, grid.shape)), False)


def apply(
    mesh: Mesh, structure: Skinned, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    return structure.points


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    if found is None:
        return {}
    return {
        "size": voxel_suggested(found),
        "smooth": found.share(0.02),
        "wall": found.share(0.03),
    }


DEFINITION = TopologyDefinition(
    key="melt",
    title="Blend as fields",
    group=JOIN,
    help="Turns the shape into another one, whatever their topology: both are skins of voxels, and "
    "so is everything between. A mask says where it has come how far.",
    also=("morph", "melt", "distance field", "become", "transform", "mix", "metamorphosis"),
    values={
        "piece": piece("Towards", "The piece to become."),
        "amount": number(
            50.0,
            "Amount",
            "0 is this shape, 100 the other.",
            "%",
            (0.0, 100.0),
            hard=(-100.0, 200.0),
        ),
        "size": VOXEL,
        "smooth": SMOOTH,
        "wall": number(
            0.03,
            "Wall",
            "An open surface becomes a wall of this thickness.",
            "m",
            (0.005, 0.3),
            hard=(0.0, 1e4),
            main=False,
        ),
    },
    sentence="Blend {amount} towards {piece} as fields of voxels of {size}",
    structure=structure,
    changes_with=frozenset({"piece", "amount", "size", "smooth", "wall", MASK_INPUT}),
    exact_mask=lambda discrete: True,
    acts_per=lambda discrete: "points",
    stands=lambda values: "now",
    reads=(("face", SHARD), ("shard", ELEMENT_ID)),
    beside=piece_beside,
    takes_in=True,
    apply=apply,
    rest_by_origin=True,
    voxel="size",
    edges=lambda discrete: "rounds",
    suggest=suggest,
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("torus", {"ring_radius": 0.5, "tube_radius": 0.2}),
        {"piece": "o", "amount": sine(0.0, 100.0), "size": 0.04, "smooth": 0.03},
        other=("box", {"size": [0.9, 0.9, 0.9]}),
    ),
    order=22,
)
