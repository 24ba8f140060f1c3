"""Orthographic: a view without perspective, in which what is far is as large as what is near."""

from __future__ import annotations

from dataclasses import replace

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.view import View, upright
from zygomorph.core.shared.camera_values import (
    CLIP_VALUES,
    FORMAT_VALUES,
    MOTION_VALUES,
    PLACE_VALUES,
    aspect_of,
)
from zygomorph.core.values.definitions import CameraDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.value import number


def apply(values: Resolved) -> View:
    is_set = values.discrete("clips") == "set"
    position, target = values.vector("position"), values.vector("target")
    return replace(
        View(position, target, upright(position, target)),
        aspect=aspect_of(values),
        height=values.scalar("height"),
        near=values.scalar("near") if is_set else None,
        far=max(values.scalar("far"), values.scalar("near") * 1.001) if is_set else None,
        shutter=values.scalar("shutter") / 360,
    )


DEFINITION = CameraDefinition(
    key="orthographic",
    title="Orthographic camera",
    help="Looks from a place at another without perspective.",
    also=("parallel", "flat", "isometric"),
    values={
        **PLACE_VALUES,
        "height": number(
            1.6,
            "Height seen",
            "From the lower to the upper edge of the picture.",
            "m",
            (0.1, 10.0),
            hard=(1e-4, 1e5),
            scale="log",
        ),
        **FORMAT_VALUES,
        **MOTION_VALUES,
        **CLIP_VALUES,
    },
    sentence="Sees a height of {height}, without perspective",
    apply=apply,
    grips=(spot("position"), spot("target")),
    order=20,
)
