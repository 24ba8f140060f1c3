"""Distance to another piece: 1 near its surface, 0 far from it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import search_other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import number, piece


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    near, far = values.array("near"), values.array("far")
    search = search_other(context.other(values.discrete("piece")), context)
    # Beyond the farthest that counts nothing is searched.
    limit = float(max(near.max(), far.max(), 1e-6))
    _, away, face = search.nearest(mesh.points, limit)
    away = np.where(face >= 0, away, limit).astype(np.float32)
    span = far - near
    span = np.where(np.abs(span) < 1e-6, np.float32(1e-6), span)
    return np.float32(1) - (away - near) / span


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    size = float((mesh.points.max(axis=0) - mesh.points.min(axis=0)).max())
    return {"far": float(f"{size * 0.3:.2g}") or 0.5}


DEFINITION = MaskDefinition(
    key="distance",
    title="Distance to a piece",
    group=SURFACE,
    help="1 where another piece is near, so that it leaves a trace as it comes by.",
    also=("near", "proximity", "close to"),
    values={
        "piece": piece("To", "The piece whose surface is near or far."),
        "near": number(
            0.0, "Near", "As near as this the weight is 1.", "m", (0.0, 1.0), hard=(0.0, 1e6)
        ),
        "far": number(
            0.5, "Far", "As far as this the weight is 0.", "m", (0.01, 3.0), hard=(0.0, 1e6)
        ),
    },
    sentence="near {piece}",
    apply=apply,
    begins_empty=True,
    per_element=frozenset({"near", "far"}),
    reach="pointwise",
    suggest=suggest,
    order=52,
)
