"""Height: how far along an axis, between the lowest and the highest point of the piece."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.measured import MEASURED, measured_points
from zygomorph.core.transforms.axis_frame import spine_of
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import direction, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    points = measured_points(mesh, values, context)
    if len(points) == 0:
        return np.zeros(0, np.float32)
    along = points @ unit(values.vector("axis")).astype(np.float32)
    lowest, highest = along.min(), along.max()
    place = (along - lowest) / np.maximum(highest - lowest, np.float32(1e-9))
    low = values.array("low") / np.float32(100)
    high = values.array("high") / np.float32(100)
    span = high - low
    span = np.where(np.abs(span) < 1e-6, np.float32(1e-6), span)
    return (place - low) / span


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    size = mesh.points.max(axis=0) - mesh.points.min(axis=0)
    return {"axis": np.eye(3)[spine_of(size)].tolist()}


DEFINITION = MaskDefinition(
    key="height",
    title="Height",
    group=FRONTS,
    help="Rises with the height in the piece, or along another axis, however large the piece is.",
    also=("up", "top", "bottom", "altitude"),
    values={
        "low": number(0.0, "From", "Where the weight is 0.", "%", (0.0, 100.0)),
        "high": number(100.0, "To", "Where the weight is 1.", "%", (0.0, 100.0)),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "Along which it is measured."),
        "measured": MEASURED,
    },
    sentence="height from {low} to {high}",
    apply=apply,
    per_element=frozenset({"low", "high"}),
    suggest=suggest,
    handle="arrows",
    order=12,
)
