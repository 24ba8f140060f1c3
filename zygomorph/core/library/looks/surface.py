"""How a piece's surface is drawn: its colour, glow, roughness and shading."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.shared.appearance import Appearance, Colouring
from zygomorph.core.values.definitions import CopiesTake, Discrete, LookDefinition
from zygomorph.core.values.gradients import LABELS
from zygomorph.core.values.value import choice, colour, direction, gradient, number, text


def colouring(mesh: Mesh, values: Resolved) -> Colouring:
    """Height (y) or distance from the rest shape, in metres, a stored mask, or the tilt of the
    surface in degrees, at each point."""
    by = values.discrete("colour_by")
    low, high = values.scalar("low"), values.scalar("high")
    if by == "height":
        return Colouring(np.ascontiguousarray(mesh.points[:, 1]), low, high)
    if by == "displacement":
        apart = mesh.points - mesh.rest
        return Colouring(np.sqrt(np.einsum("ij,ij->i", apart, apart)), low, high)
    if by == "tilt":
        up = np.clip(point_normals(mesh) @ unit(values.vector("upright")).astype(np.float32), -1, 1)
        most = max(values.scalar("tilt"), 1e-6)
        return Colouring(np.degrees(np.arccos(up)).astype(np.float32), 0.0, most)
    if by == "mask":
        return Colouring(_stored(mesh, values.discrete("mask")), 0.0, 1.0)
    return Colouring(None, low, high)


def _stored(mesh: Mesh, name: str) -> np.ndarray | None:
    """(P,) float32 a stored mask of points, or of faces at their points; None where there is
    none."""
    found = mesh.get("point", MASK + name)
    if found is None and (of_faces := mesh.get("face", MASK + name)) is not None:
        found = between_domains(mesh, of_faces, "face", "point")
    return found


def apply(mesh: Mesh, values: Resolved) -> Appearance:
    found = colouring(mesh, values)
    return Appearance(
        colour=values.discrete("colour"),
        colouring=found,
        gradient=values.discrete("gradient") if found.values is not None else "",
        glow=values.scalar("glow") / 100,
        roughness=values.scalar("roughness") / 100,
        flat=values.discrete("shading") == "flat",
        thickness=values.scalar("thickness"),
    )


def copies_take(discrete: Discrete) -> CopiesTake:
    """Height is that of each point on the stage; displacement that of each copy's centre."""
    taken: dict[str, CopiesTake] = {
        "height": "height",
        "displacement": "copy",
        "tilt": "copy",
        "mask": "copy",
    }
    return taken.get(discrete["colour_by"], "base")


def suggest(mesh: Mesh) -> dict[str, Any]:
    """A range of heights that holds the mesh."""
    if len(mesh.points) == 0:
        return {}
    low, high = float(mesh.points[:, 1].min()), float(mesh.points[:, 1].max())
    if high - low < 1e-6:
        low, high = low - 0.25, high + 0.25
    return {"low": round(low, 3), "high": round(high, 3)}


_BY_LENGTH = ("colour_by", ("height", "displacement"))
_BY_VALUE = ("colour_by", ("height", "displacement", "tilt", "mask"))

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
                "tilt": "colour by tilt",
                "mask": "colour by a stored mask",
            },
        ),
        "colour": colour(
            "#c98f6b",
            "One colour",
            "The colour of the whole surface, or where no such mask is stored.",
            shown_when=("colour_by", ("fixed", "mask")),
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
            shown_when=_BY_LENGTH,
        ),
        "high": number(
            0.5,
            "High end",
            "The value that gets the last colour.",
            "m",
            (-3.0, 3.0),
            shown_when=_BY_LENGTH,
        ),
        "mask": text(
            "",
            "Mask",
            "The name that a step of the recipe stores it under.",
            shown_when=("colour_by", ("mask",)),
        ),
        "tilt": number(
            45.0,
            "Most tilt",
            "What gets the last colour.",
            "°",
            (1.0, 90.0),
            hard=(0.01, 180.0),
            shown_when=("colour_by", ("tilt",)),
        ),
        "upright": direction(
            (0.0, 1.0, 0.0),
            "Upright",
            "What faces this way, in the piece, has no tilt.",
            shown_when=("colour_by", ("tilt",)),
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
