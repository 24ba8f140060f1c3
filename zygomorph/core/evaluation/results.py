"""What is asked of an evaluation, and what it gives."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from zygomorph.core.evaluation.apply_step import Weighed
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh


@dataclass
class StepReport:
    """What a step cost and did: milliseconds, counts after it, whether it was in the cache.

    points, faces : of copies, those of all together
    volume_change : of a step that smooths a solid, the share by which its volume grew or, below 0,
        shrank
    told : what the step says that it has chosen by itself, or ""
    """

    step_id: str
    milliseconds: float
    points: int
    faces: int
    copies: int
    reused: bool
    volume_change: float | None = None
    told: str = ""


@dataclass
class Result:
    """A piece at a frame.

    weights : the mask of the step that was asked for, (n,) or (1,) float32, or None
    weighed : what the mask is of: "points", "copies", or points of the "bases" one after the other
    low, high : the box of the points, (3,) metres
    whole : how many points there are, of which the mesh may have only every so many
    """

    geometry: Geometry
    place: np.ndarray
    key: str
    low: np.ndarray
    high: np.ndarray
    steps: list[StepReport] = field(default_factory=list)
    weights: np.ndarray | None = None
    weighed: Weighed = "points"
    whole: int = 0

    @property
    def mesh(self) -> Mesh:
        """The mesh, with all copies written out. Raises ZygomorphError where they are too many."""
        return self.geometry.real


@dataclass
class Request:
    """What to evaluate, and how.

    mask_of : id of a step whose mask is wanted
    until : id of the last step to apply, or None for all
    keep_tail : keep what moving steps made, for when the same frame will be asked for again
    cancelled : asked between steps and inside long ones; where it says yes, Cancelled is raised
    patience : seconds to wait for the cores, then one is taken beside those that work; None for
        as long as it takes
    dragged : a value is in the hand: of a past that is not known yet only some frames are walked
    stride : of loose points, only every so many are wanted
    shared : take one core, because many frames are wanted; otherwise all cores work on this one
    """

    piece: str
    frame: float = 0.0
    final: bool = False
    mask_of: str | None = None
    until: str | None = None
    keep_tail: bool = False
    dragged: bool = False
    stride: int = 1
    shared: bool = False
    cancelled: Callable[[], bool] = lambda: False
    patience: float | None = None
