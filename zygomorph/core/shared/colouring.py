"""The number at each point that a gradient colours."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.animation.resolve import Resolved
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
