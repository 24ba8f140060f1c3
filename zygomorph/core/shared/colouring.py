"""The number at each point that a gradient colours."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh


@dataclass(frozen=True)
class Colouring:
    """The number at each point that the gradient colours, and its range.

    values : (P,) float32, metres; None for one fixed colour
    """

    values: np.ndarray | None
    low: float
    high: float


def colour_values(mesh: Mesh, look: Resolved) -> Colouring:
    """Height (y) or distance from the rest shape, at each point."""
    by = look.discrete("colour_by")
    low, high = look.scalar("low"), look.scalar("high")
    if by == "height":
        return Colouring(np.ascontiguousarray(mesh.points[:, 1]), low, high)
    if by == "displacement":
        apart = mesh.points - mesh.rest
        return Colouring(np.sqrt(np.einsum("ij,ij->i", apart, apart)), low, high)
    return Colouring(None, low, high)


@dataclass(frozen=True)
class CopyColouring:
    """What colours copies by a value.

    by : "height", of each point where it is placed; "copy", a value of each copy; "base", what
        the points of the base have, or one fixed colour
    values : (K,) float32 of each copy, or None
    """

    by: Literal["height", "copy", "base"]
    values: np.ndarray | None
    low: float
    high: float


def copy_colours(geometry: Geometry, look: Resolved) -> CopyColouring:
    """Height as it is on the stage before the piece's place; displacement of each copy's centre."""
    by = look.discrete("colour_by")
    low, high = look.scalar("low"), look.scalar("high")
    copies = geometry.copies
    if copies is None or by not in ("height", "displacement"):
        return CopyColouring("base", None, low, high)
    if by == "height":
        return CopyColouring("height", None, low, high)
    apart = copies.placements[:, :, 3] - copies.rest[:, :, 3]
    return CopyColouring("copy", np.linalg.norm(apart, axis=1).astype(np.float32), low, high)
