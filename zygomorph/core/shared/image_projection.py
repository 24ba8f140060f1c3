"""A picture or film on a surface: how bright it is at each point, and what colour it has there."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.image import BEYOND
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.laying import (
    found_on,
    laid_places,
    laid_values,
    own_space,
    repeats,
    repeats_matrix,
)
from zygomorph.core.values.definitions.printed import Print
from zygomorph.core.values.value import Value, choice, image, number

BEYOND_LABELS = {
    "repeat": "repeats",
    "mirror": "repeats mirrored",
    "rim": "goes on as at its rim",
    "nothing": "is black",
}
assert {*BEYOND, "nothing"} == set(BEYOND_LABELS)
_RIM: Mapping[str, Value] = {
    "soft": number(
        0.5,
        "Softness",
        "Smooths it, as a share of its width.",
        "%",
        (0.0, 10.0),
        hard=(0.0, 50.0),
        main=False,
    ),
    "beyond": choice("repeat", "Beyond its rim", "How it goes on.", BEYOND_LABELS, main=False),
}
PICTURE_VALUES = laid_values(
    before={"picture": image("Picture", "PNG, JPEG, WebP or TIFF; a weave where none is chosen.")},
    after=_RIM,
)


def film_values(film: Value, **more: Value) -> dict[str, Value]:
    """Those of a film, which has no softness of its own to begin with."""
    return laid_values(before={"film": film, **more}, after=_RIM)


def _shape(name: str, number: int, values: Resolved, context: Context) -> float:
    """Height of a repeat in its widths: as high as the picture is, but a square of UVs, and once
    over a cylinder's width or from pole to pole."""
    if values.discrete("laid") not in ("seen", "camera"):
        return 1.0
    columns, rows = context.image.size(name, number)
    return rows / columns


def brightness(
    mesh: Mesh, values: Resolved, context: Context, name: str, number: int = 0
) -> np.ndarray:
    """(P,) float32 from 0 to 1. Raises ZygomorphError where the picture is not there, or is laid
    by UVs that the mesh has not."""
    shown = context.image.heights(name, number)
    s, t = _places(mesh, values, context, name, number)
    return shown.at(s, t, values.discrete("beyond"), values.scalar("soft") / 100)


def colours_at(
    mesh: Mesh, values: Resolved, context: Context, name: str, number: int = 0
) -> np.ndarray:
    """(P, 4) float32 sRGB and opacity from 0 to 1. Raises the same."""
    shown = context.image.colours(name, number)
    s, t = _places(mesh, values, context, name, number)
    return shown.at(s, t, values.discrete("beyond"), values.scalar("soft") / 100)


def _places(
    mesh: Mesh, values: Resolved, context: Context, name: str, number: int
) -> tuple[np.ndarray, np.ndarray]:
    u, v = laid_places(mesh, values, context)
    return repeats(values, u, v, _shape(name, number, values, context))


def printed_picture(values: Resolved, context: Context, name: str, number: int = 0) -> Print:
    """The same for viewers. Raises ZygomorphError where the picture is not there."""
    on, round_ = found_on(values)
    return Print(
        "picture",
        on,
        round_,
        own_space(values, context),
        repeats_matrix(values, _shape(name, number, values, context)),
        picture=name,
        moment=number,
        soft=values.scalar("soft") / 100,
        beyond=values.discrete("beyond"),
    )
