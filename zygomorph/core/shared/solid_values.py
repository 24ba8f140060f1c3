"""Values of steps that make skins of voxels or cut solids, and what they have to do with other
pieces."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import mesh_beside
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.extent import Extent
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import Stands
from zygomorph.core.values.value import Value, number

# Of the size of a piece, for a new step in draft quality.
DRAFT_VOXEL = 0.025

VOXEL: Value = number(
    0.05,
    "Voxel",
    "The finest that is left is twice as wide.",
    "m",
    (0.01, 0.5),
    hard=(1e-4, 1e4),
    scale="log",
    draft=True,
)

SMOOTH: Value = number(
    0.0,
    "Smooth",
    "What is finer is rounded off, and what is nearer melts together.",
    "m",
    (0.0, 0.2),
    hard=(0.0, 1e4),
    idle=0.0,
)


def voxel_suggested(found: Extent) -> dict[str, Any]:
    cell = found.share(DRAFT_VOXEL)
    return {"draft": cell, "final": cell / 2}


def stands_by_cut(values: Resolved) -> Stands:
    """Of a step with the choice ``cut``: made at rest, or anew at every frame."""
    return "at rest" if values.discrete("cut") == "rest" else "now"


def piece_beside(values: Resolved, context: Context) -> tuple[tuple[Mesh, ...], Hashable]:
    """The mesh of the piece that is named, as this one sees it."""
    _, mesh, key = mesh_beside(values.discrete("piece"), context)
    return (mesh,), key


def mask_at_nearest(mesh: Mesh, mask: np.ndarray | None, nearest: np.ndarray) -> np.ndarray:
    """Of each grid point the mask at the triangle it is nearest to; where there is no mask, 1.

    mask : (P,) or (1,) of the mesh, or of its first points where others are behind them
    nearest : (X, Y, Z) numbers of triangles, -1 where none is near
    """
    if mask is None:
        return np.ones(1, np.float32)
    if len(mask) == 1:
        return mask
    weights = np.zeros(len(mesh.points), np.float32)
    weights[: len(mask)] = mask
    each = weights[mesh.topology.drawn_triangles].mean(axis=1)
    found: np.ndarray = np.where(nearest >= 0, each[np.maximum(nearest, 0)], 0).astype(np.float32)
    return found
