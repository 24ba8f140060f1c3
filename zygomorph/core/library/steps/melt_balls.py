"""Melt balls: every point or copy becomes a soft ball, with one skin around all."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.balls.skinned import BallSkin, ball_skin
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import BALL_STRENGTH, Mesh
from zygomorph.core.shared.ball_values import MELTING, RADIUS, balls_of
from zygomorph.core.shared.solid_values import VOXEL
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine


def structure(mesh: Mesh, values: Resolved, mask: np.ndarray | None) -> BallSkin:
    if mask is not None:
        # A ball of which the mask takes a part is as much smaller.
        known = mesh.get("point", BALL_STRENGTH)
        own = np.ones(len(mesh.points), np.float32) if known is None else known
        mesh = mesh.with_attribute("point", BALL_STRENGTH, (own * mask).astype(np.float32))
    return ball_skin(balls_of(mesh, values.array("radius"), values), values.scalar("voxel"))


def apply(
    mesh: Mesh, structure: BallSkin, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    return structure.points


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Balls that touch their neighbours, if points were spread evenly over the mesh."""
    found = extent_of(mesh)
    if found is None:
        return {}
    radius = found.size / max(len(mesh.points), 1) ** 0.5
    cell = float(f"{max(radius / 4, found.size / 100):.2g}")
    return {"radius": float(f"{radius:.2g}"), "voxel": {"draft": cell, "final": cell / 2}}


DEFINITION = TopologyDefinition(
    key="melt_balls",
    title="Melt into balls",
    group=MAKE,
    help="Makes each point or copy a soft ball, and one skin around all; a mask says how strong "
    "each is.",
    also=("metaballs", "blobs", "soft balls", "goo", "skin points", "isosurface", "swarm"),
    values={"radius": RADIUS, **MELTING, "voxel": VOXEL},
    sentence="Melt into balls of {radius}, voxels of {voxel}",
    structure=structure,
    changes_with=frozenset({"radius", "threshold", "falloff", "voxel", MASK_INPUT}),
    exact_mask=lambda discrete: True,
    acts_per=lambda discrete: "points",
    stands=lambda values: "now",
    apply=apply,
    per_element=frozenset({"radius"}),
    of_copies=True,
    voxel="voxel",
    forgets_smoothing=True,
    suggest=suggest,
    specimen=Specimen(
        ("icosphere", {"radius": 0.55, "halvings": 1}),
        {"radius": sine(0.12, 0.24), "voxel": 0.05},
    ),
    order=85,
)
