"""How a piece's surface is drawn: its colour, glow, roughness and shading."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.appearance import Appearance, Colouring
from zygomorph.core.values.definitions import CopiesTake, Discrete, LookDefinition
from zygomorph.core.values.gradients import LABELS
from zygomorph.core.values.value import choice, colour, gradient, number


def colouring(mesh: Mesh, values: Resolved) -> Colouring:
    """Height (y) or distance from the rest shape, at each point; metres."""
    by = values.discrete("colour_by")
    low, high = values.scalar("low"), values.scalar("high")
    if by == "height":
        return Colouring(np.ascontiguousarray(mesh.points[:, 1]), low, high)
    if by == "displacement":
        apart = mesh.points - mesh.rest
        return Colouring(np.sqrt(np.einsum("ij,ij->i", apart, apart)), low, high)
    return Colouring(None, low, high)


def apply(mesh: Mesh, values: Resolved) -> Appearance:
    by_value = values.discrete("colour_by") != "fixed"
    return Appearance(
        colour=values.discrete("colour"),
        colouring=colouring(mesh, values),
        gradient=values.discrete("gradient") if by_value else "",
        glow=values.scalar("glow") / 100,
        roughness=values.scalar("roughness") / 100,
        flat=values.discrete("shading") == "flat",
        thickness=values.scalar("thickness"),
    )


def copies_take(discrete: Discrete) -> CopiesTake:
    """Height is that of each point on the stage; displacement that of each copy's centre."""
    taken: dict[str, CopiesTake] = {"height": "height", "displacement": "copy"}
    return taken.get(discrete["colour_by"], "base")


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
            "Drawn in",
            "One colour, or by a value through a gradient.",
            {
                "fixed": "one colour",
                "height": "colour by height",
                "displacement": "colour by displacement",
            },
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
    sentence="{colour_by}",
    apply=apply,
    copies_take=copies_take,
    suggest=suggest,
    begins=({"id": "surface"},),
)
