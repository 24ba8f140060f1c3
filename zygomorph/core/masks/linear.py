"""A flat front: nothing before it, everything behind it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.masks.measured import MEASURED, measured_points
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import unit
from zygomorph.core.values import direction, number, vector


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    towards = unit(values.vector("direction"))
    width = np.maximum(values.array("width"), np.float32(1e-6))
    behind = measured_points(mesh, values, context) @ towards.astype(np.float32)
    behind -= np.float32(values.vector("position") @ towards)
    return behind / width + np.float32(0.5)


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    middle = [round(float(m), 3) for m in (low + high) / 2]
    return {"position": middle, "width": round(float((high - low).max()) / 2, 3) or 0.5}


DEFINITION = Definition(
    sort="layer",
    key="linear",
    title="Linear front",
    help="A flat front: 0 on one side, 1 on the other, with a soft edge of a chosen width.",
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
    reads=frozenset({"place"}),
    suggest=suggest,
    handle="front",
    order=10,
)
