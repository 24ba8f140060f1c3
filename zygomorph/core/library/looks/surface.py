"""How a piece's surface is drawn: its colour, glow, roughness and shading."""

from __future__ import annotations

from typing import Any

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.colouring import colour_values
from zygomorph.core.values.definitions import LookDefinition
from zygomorph.core.values.gradients import LABELS
from zygomorph.core.values.value import choice, colour, gradient, number


def suggest(mesh: Mesh) -> dict[str, Any]:
    """A range of heights that holds the mesh."""
    if len(mesh.points) == 0:
        return {}
    low, high = float(mesh.points[:, 1].min()), float(mesh.points[:, 1].max())
    if high - low < 1e-6:
        low, high = low - 0.25, high + 0.25
    return {"low": round(low, 3), "high": round(high, 3)}


_BY_VALUE = ("colour_by", ("height", "displacement"))

DEFINITION = LookDefinition(
    key="surface",
    title="Surface",
    help="Colour, glow and roughness of the surface.",
    values={
        "colour_by": choice(
            "height",
            "Colour",
            "One colour, or by a value through a gradient.",
            {"fixed": "one colour", "height": "by height", "displacement": "by displacement"},
        ),
        "colour": colour(
            "#c98f6b",
            "One colour",
            "The colour of the whole surface.",
            shown_when=("colour_by", ("fixed",)),
        ),
        "gradient": gradient(
            "petal", "Gradient", "The colours from low to high.", LABELS, shown_when=_BY_VALUE
        ),
        "low": number(
            -0.5,
            "Low end",
            "The value that gets the first colour.",
            "m",
            (-3.0, 3.0),
            shown_when=_BY_VALUE,
        ),
        "high": number(
            0.5,
            "High end",
            "The value that gets the last colour.",
            "m",
            (-3.0, 3.0),
            shown_when=_BY_VALUE,
        ),
        "glow": number(
            0.0,
            "Glow",
            "Light of its own, in the surface's colour.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 400.0),
        ),
        "roughness": number(
            55.0, "Roughness", "From mirror-like to chalky.", "%", (0.0, 100.0), hard=(0.0, 100.0)
        ),
        "thickness": number(
            0.008,
            "Thickness",
            "Width of curves and size of loose points; neither is drawn thinner than it can be "
            "seen.",
            "m",
            (0.001, 0.1),
            scale="log",
            hard=(0.0, 1e3),
            main=False,
        ),
        "shading": choice(
            "smooth",
            "Shading",
            "Round the surface over its faces, or show them.",
            {"smooth": "smooth", "flat": "flat"},
        ),
    },
    sentence="Colour {colour_by}",
    apply=colour_values,
    suggest=suggest,
)
