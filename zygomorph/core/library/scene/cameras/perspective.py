"""Perspective: a camera with a lens before a film."""

from __future__ import annotations

from dataclasses import replace

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.camera_values import (
    CLIP_VALUES,
    FOCUS_VALUES,
    FORMAT_VALUES,
    LENS_OPENING,
    MOTION_VALUES,
    PLACE_VALUES,
    aspect_of,
    view_of,
)
from zygomorph.core.shared.lens import angle_of, lens_of, picture_on_film
from zygomorph.core.values.definitions import CameraDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.value import choice, number


def apply(values: Resolved) -> View:
    _, height = picture_on_film(values.scalar("film"), aspect_of(values))
    if values.discrete("seen") == "lens":
        lens = values.scalar("lens")
        angle = angle_of(height, lens)
    else:
        angle = values.scalar("angle")
        lens = lens_of(height, angle)
    return replace(view_of(values, lens), angle=angle)


DEFINITION = CameraDefinition(
    key="perspective",
    title="Camera",
    help="Looks from a place at another through a lens.",
    values={
        **PLACE_VALUES,
        "seen": choice(
            "angle",
            "Sees",
            "As much as a lens before a film, or within an angle.",
            {"lens": "by its lens", "angle": "by an angle"},
        ),
        "lens": number(
            35.0,
            "Lens",
            "Its focal length: a short one sees much, a long one little and flat.",
            "mm",
            (12.0, 200.0),
            hard=(1.0, 5000.0),
            scale="log",
            shown_when=("seen", ("lens",)),
        ),
        "angle": number(
            32.0,
            "Angle of view",
            "From the lower to the upper edge of the picture.",
            "°",
            (10.0, 90.0),
            hard=(0.5, 150.0),
            shown_when=("seen", ("angle",)),
        ),
        "film": number(
            36.0,
            "Film width",
            "As wide as the longer side of the picture; 36 mm is a full frame.",
            "mm",
            (8.0, 70.0),
            hard=(1.0, 1000.0),
            main=False,
        ),
        **FORMAT_VALUES,
        **LENS_OPENING,
        **FOCUS_VALUES,
        **MOTION_VALUES,
        **CLIP_VALUES,
    },
    sentence="Sees [{lens}][{angle}][, sharp at f/{f_number}]",
    apply=apply,
    grips=(spot("position"), spot("target")),
    begins=({"id": "camera", "name": "Camera"},),
    order=10,
)
