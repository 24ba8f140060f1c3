"""What is drawn of a mesh by its look, the same for every renderer and every file."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import CopiesTake, LookDefinition


@dataclass(frozen=True)
class Colouring:
    """The number at each point that a gradient colours, and its range.

    values : (P,) float32; None for one fixed colour
    """

    values: np.ndarray | None
    low: float
    high: float


ONE_COLOUR = Colouring(None, 0.0, 1.0)


@dataclass(frozen=True)
class Appearance:
    """How a mesh is drawn. Renderers know nothing else of a look.

    colour : "#rrggbb", of what no gradient colours
    colouring : what a gradient colours
    gradient : its key, or "" where there is one colour
    glow : light of its own, in shares of its colour
    roughness : from 0, mirror-like, to 1, chalky
    flat : whether faces are shown instead of a surface rounded over them
    thickness : of curves and loose points, metres
    """

    colour: str
    colouring: Colouring = ONE_COLOUR
    gradient: str = ""
    glow: float = 0.0
    roughness: float = 0.5
    flat: bool = False
    thickness: float = 0.008


@dataclass(frozen=True)
class CopyColouring:
    """What colours copies by a value.

    by : see :class:`zygomorph.core.values.definitions.LookDefinition`
    values : (K,) float32 of each copy, or None
    """

    by: CopiesTake
    values: np.ndarray | None
    low: float
    high: float


@dataclass(frozen=True)
class ResolvedLook:
    """A look at one moment."""

    definition: LookDefinition
    values: Resolved

    def on(self, mesh: Mesh) -> Appearance:
        """How a mesh is drawn."""
        found: Appearance = self.definition.apply(mesh, self.values)
        return found

    def on_copies(self, geometry: Geometry) -> CopyColouring:
        """What colours copies, or the points that are copied where there are no copies."""
        by = self.definition.copies_take(self.values.discrete_values)
        if geometry.copies is None or by == "base":
            return CopyColouring("base", None, 0.0, 1.0)
        if by == "height":
            # Found where each point is placed, by whoever draws it: only the range is needed.
            found = self.on(geometry.bases[0]).colouring
            return CopyColouring(by, None, found.low, found.high)
        found = self.on(geometry.copies.as_points()).colouring
        if found.values is None:
            # The copies know nothing of it; what is copied may.
            return CopyColouring("base", None, 0.0, 1.0)
        return CopyColouring(by, found.values, found.low, found.high)
