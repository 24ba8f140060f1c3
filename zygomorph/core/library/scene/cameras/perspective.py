"""Perspective: a camera at a place that looks at another, through a lens."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import View
from zygomorph.core.values.definitions import CameraDefinition
from zygomorph.core.values.value import number, vector


def apply(values: Resolved) -> View:
    return View(values.vector("position"), values.vector("target"), values.scalar("angle"))


DEFINITION = CameraDefinition(
    key="perspective",
    title="Camera",
    help="Looks from a place at another.",
    values={
        "position": vector((1.6, 1.0, 2.4), "Position", "Where it is on the stage."),
        "target": vector((0.0, 0.0, 0.0), "Target", "What it looks at."),
        "angle": number(
            32.0,
            "Angle of view",
            "From the lower to the upper edge of the picture.",
            "°",
            (10.0, 90.0),
            hard=(5.0, 120.0),
        ),
    },
    sentence="Camera of {angle}",
    apply=apply,
    begins=({"id": "camera", "name": "Camera"},),
)
