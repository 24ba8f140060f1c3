"""A flat front: nothing before it, everything behind it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.masks.linear import behind
from zygomorph.core.masking.measured import MEASURED, measured_points
from zygomorph.core.transforms.axis_frame import spine_of
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import direction, number, vector


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    towards = unit(values.vector("direction"))
    width = np.maximum(values.array("width"), np.float32(1e-6))
    out = np.empty(len(mesh.points), np.float32)
    points = measured_points(mesh, values, context)
    start = np.float32(values.vector("position") @ towards)
    behind(points, towards.astype(np.float32), start, width, out)
    return out


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    size = high - low
    return {
        "position": [round(float(m), 3) for m in (low + high) / 2],
        "direction": np.eye(3)[spine_of(size)].tolist(),
        "width": round(float(size.max()) / 2, 3) or 0.5,
    }


DEFINITION = MaskDefinition(
    key="linear",
    title="Linear front",
    group=FRONTS,
    help="A flat front: 0 on one side, 1 on the other, with a soft edge of a chosen width.",
    also=("front", "sweep", "wipe", "gradient", "plane", "ramp"),
    values={
        "position": vector((0.0, 0.0, 0.0), "Position", "A point in the middle of the front."),
        "direction": direction((0.0, 1.0, 0.0), "Direction", "Towards where the weight is 1."),
        "width": number(
            0.5,
            "Width",
            "From weight 0 to weight 1.",
            "m",
            (0.01, 3.0),
            scale="log",
            hard=(0.0, 1e6),
        ),
        "measured": MEASURED,
    },
    sentence="front {width} wide",
    apply=apply,
    per_element=frozenset({"width"}),
    reach="pointwise",
    suggest=suggest,
    handle="front",
    order=10,
)
