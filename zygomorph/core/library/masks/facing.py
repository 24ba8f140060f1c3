"""Facing: how far the surface looks along a direction, an axis of the piece, or at the viewer."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.levelness import is_level
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.values.definitions import MaskDefinition, Seen
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import choice, direction, number, switch


def _way(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """What is faced, as the piece sees it: (1, 3) or (P, 3) float32, of length 1."""
    against = values.discrete("against")
    if against == "piece":
        return unit(values.vector("direction"))[None].astype(np.float32)
    if against == "space":
        # Normals go by the inverse transpose, so that a direction they are held against goes by
        # the transpose.
        return unit(context.place[:3, :3].T @ values.vector("direction"))[None].astype(np.float32)
    back = np.linalg.pinv(context.place)
    eye = (back @ np.append(context.viewer, 1.0))[:3].astype(np.float32)
    away = eye - mesh.points
    return away / np.maximum(np.linalg.norm(away, axis=1, keepdims=True), np.float32(1e-9))


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    normals = point_normals(mesh)
    # With the Einstein sum no array of products is made.
    cosine = np.einsum(
        "ij,ij->i", normals, np.broadcast_to(_way(mesh, values, context), normals.shape)
    )
    if values.discrete("both"):
        cosine = np.abs(cosine)
    edge = np.cos(np.radians(values.array("angle")))
    return (cosine - edge) / np.maximum(np.float32(1) - edge, np.float32(1e-6))


def seen(values: Resolved) -> Seen | None:
    if values.discrete("against") != "viewer":
        return None
    edge = float(np.cos(np.radians(values.scalar("angle"))))
    return Seen("facing", edge, 1.0, values.discrete("both"))


DEFINITION = MaskDefinition(
    key="facing",
    title="Facing",
    group=SURFACE,
    help="1 where the surface faces a direction, an axis of the piece, or the viewer.",
    also=("normal", "slope", "camera", "rim", "fresnel", "light"),
    values={
        "against": choice(
            "piece",
            "Faces",
            "What the normals are held against; the viewer of a step is the study's camera, of a "
            "look whoever looks.",
            {
                "piece": "an axis of the piece",
                "space": "a direction on the stage",
                "viewer": "the viewer",
            },
            reads=(("space", "place"), ("viewer", "camera")),
        ),
        "direction": direction(
            (0.0, 1.0, 0.0),
            "Direction",
            "Where the weight is 1.",
            shown_when=("against", ("piece", "space")),
        ),
        "angle": number(
            90.0,
            "Within",
            "Turned away this far, the weight has become 0.",
            "°",
            (1.0, 180.0),
            hard=(0.01, 180.0),
        ),
        "both": switch(False, "Both sides", "What faces away counts as well."),
    },
    sentence="facing {against}",
    apply=apply,
    acts_on=lambda mesh: not is_level(mesh),
    per_element=frozenset({"angle"}),
    handle="arrows",
    seen=seen,
    order=50,
)
