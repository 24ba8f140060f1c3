"""Depth: how far from the camera."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.span import between
from zygomorph.core.values.definitions import MaskDefinition, Seen
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import choice, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    apart = transformed(mesh.points, context.place) - context.viewer.astype(np.float32)
    away = np.sqrt(np.einsum("ij,ij->i", apart, apart)).astype(np.float32)
    return between(away, values.array("near"), values.array("far"))


def seen(values: Resolved) -> Seen:
    return Seen("depth", values.scalar("near"), values.scalar("far"))


DEFINITION = MaskDefinition(
    key="depth",
    title="Depth",
    group=FRONTS,
    help="Rises with the distance from the camera.",
    also=("far", "near", "fog", "distance", "camera"),
    values={
        "from": choice(
            "camera",
            "From",
            "In a step this is the study's camera; in a look whoever looks.",
            {"camera": "the camera"},
            main=False,
            reads=(("camera", "camera"),),
        ),
        "near": number(
            1.0, "Near", "So far away the weight is 0.", "m", (0.0, 10.0), hard=(0.0, 1e6)
        ),
        "far": number(
            5.0, "Far", "So far away the weight is 1.", "m", (0.0, 10.0), hard=(0.0, 1e6)
        ),
    },
    sentence="depth from {near} to {far}",
    apply=apply,
    per_element=frozenset({"near", "far"}),
    reach="pointwise",
    seen=seen,
    order=16,
)
