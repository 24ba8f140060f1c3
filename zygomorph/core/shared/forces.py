"""Forces: steps before a system that say what moves its points, each with its What, Where, When.

A force is a step of the recipe. It changes nothing by itself and is handed on with the geometry; a
system asks all those before it what they do to its points where these are, through their masks.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.per_element import at_elements
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.blending import ResolvedLayer, weights


@dataclass(frozen=True)
class Moving:
    """The points that forces act on, K of them.

    mesh : them as loose points, at rest where they were born, with their ids
    speeds : (K, 3) float32, m/s
    age : (K,) float32 seconds
    seconds : that a step of time lasts
    """

    mesh: Mesh
    speeds: np.ndarray
    age: np.ndarray
    seconds: float

    @property
    def places(self) -> np.ndarray:
        return self.mesh.points


@dataclass
class Acting:
    """What forces do together: speeds v become (v + push dt + towards dt) / (1 + rate dt).

    push : (K, 3) m/s²
    rate : (K,) per second, how fast speeds go over to those that forces want
    towards : (K, 3) m/s², the sum of these speeds times their rates
    held : (K,) bool, points that stay where they are
    """

    push: np.ndarray
    rate: np.ndarray
    towards: np.ndarray
    held: np.ndarray = field(default_factory=lambda: np.zeros(0, bool))

    @classmethod
    def on(cls, count: int) -> Acting:
        return cls(
            np.zeros((count, 3), np.float32),
            np.zeros(count, np.float32),
            np.zeros((count, 3), np.float32),
        )

    def pushes(self, ways: np.ndarray, weights: np.ndarray) -> None:
        """ways : (K, 3) m/s²; weights : (K,) or (1,)"""
        self.push += weights[:, None] * ways

    def wants(self, speeds: np.ndarray, rate: np.ndarray) -> None:
        """speeds : (K, 3) m/s; rate : (K,) or (1,) per second"""
        self.rate += rate
        self.towards += rate[:, None] * speeds


@dataclass(frozen=True)
class Force:
    """A force at a moment.

    act : ``(acting, moving, values, weights, context)``, adds to what forces do together; or None
    hold : ``(before, after, speeds, values, weights, context) -> (places, speeds, held)`` of what
        keeps points from going somewhere; or None
    motion : (4, 4) how its parent has moved since it was attached, or None
    """

    act: Any
    hold: Any
    values: Resolved
    layers: Sequence[ResolvedLayer]
    motion: np.ndarray | None

    def _seen(self, mesh: Mesh, context: Context) -> tuple[Resolved, np.ndarray, Context]:
        own = replace(context, parent_motion=self.motion)
        found = np.asarray(weights(mesh, self.layers, context), np.float32)
        return at_elements(self.values, mesh, context), found, own

    def acts(self, acting: Acting, moving: Moving, context: Context) -> None:
        if self.act is not None:
            self.act(acting, moving, *self._seen(moving.mesh, context))

    def holds(
        self, before: Mesh, after: np.ndarray, speeds: np.ndarray, context: Context
    ) -> tuple[np.ndarray, np.ndarray, np.ndarray | None]:
        """Where points go that were at ``before`` and would be at ``after``, (K, 3), with what
        speeds, and which of them stay there, (K,) bool or None."""
        if self.hold is None:
            return after, speeds, None
        values, found, own = self._seen(before, context)
        held: tuple[np.ndarray, np.ndarray, np.ndarray | None] = self.hold(
            before.points, after, speeds, values, found, own
        )
        return held
