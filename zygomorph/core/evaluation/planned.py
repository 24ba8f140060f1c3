"""What is known of a recipe before its frames are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.animation.resolve import Prepared
from zygomorph.core.document.parts import Part
from zygomorph.core.evaluation.dependencies import Dependencies
from zygomorph.core.geometry.affine import inverse
from zygomorph.core.masking.blending import ResolvedLayer
from zygomorph.core.masking.memory import Memory
from zygomorph.core.transforms.motion import WorldTransform
from zygomorph.core.transforms.parents import Parent
from zygomorph.core.values.definitions import (
    FormDefinition,
    LookDefinition,
    MaskDefinition,
    StepDefinition,
    SystemDefinition,
)
from zygomorph.core.values.value import Value


def measured_on_stage(values: Prepared) -> bool:
    """Whether places among the values are in stage coordinates, not in those of the piece."""
    discrete = values.still.discrete_values
    return "space" in (discrete.get(n) for n in ("sampled", "measured", "against"))


@dataclass(frozen=True)
class PlannedLayer:
    """One layer of a mask.

    own, common : the values of its entry, and those that every layer has
    parent : what it is attached to, or None
    memory : how it remembers, or None
    """

    id: str
    on: bool
    definition: MaskDefinition
    own: Prepared
    common: Prepared
    dependencies: Dependencies
    parent: Parent | None = None
    memory: Memory | None = None

    @property
    def in_space(self) -> bool:
        return measured_on_stage(self.own)

    @property
    def pointwise(self) -> bool:
        """Whether the weight of a point depends on that point alone."""
        on_points = self.common.still.discrete("read") == "points"
        return self.definition.reach == "pointwise" and on_points and self.memory is None

    def moves(self, place_moves: bool, viewer_moves: bool) -> bool:
        """Whether its weights differ from frame to frame for the same input.

        place_moves : whether the piece's own place moves; viewer_moves : whether the study's camera
            does
        """
        if self.own.moving or self.common.moving or self.dependencies.time or self.memory:
            return True
        if self.dependencies.seen_to_move(place_moves, viewer_moves):
            return True
        return parent_moves(self.parent, self.in_space, place_moves)

    def at(self, times: np.ndarray, place: np.ndarray) -> ResolvedLayer:
        """The layer at a moment; place : (4, 4) from the piece to the stage."""
        undone = None
        if self.parent is not None:
            undone = self.parent.undone(times, place, self.in_space)
        own, common = self.own.at(times), self.common.at(times)
        return ResolvedLayer(self.definition, own, common, self.id, undone, self.memory)


def parent_moves(parent: Parent | None, in_space: bool, place_moves: bool) -> bool:
    """Whether what has a parent moves with it; place_moves : whether the piece's own place moves"""
    if parent is None:
        return False
    return parent.moves or (place_moves and parent.in_piece == in_space)


@dataclass(frozen=True)
class PlannedStep:
    """One step of a recipe.

    part : what the document has of it
    layers : of its mask, those that are in use
    store : the name its mask is stored under, or ""
    dependencies : of the step and its mask together
    moved : what it moves: "points", "shards" or copies as wholes, the same "tilted" to the slope,
        the "bases" that are copied, or, "natural", points and copies as wholes
    moves : whether its result differs from frame to frame for the same input
    jumps : whether it goes from place to place at once
    parent : what the place where it happens is attached to, or None
    plays_once : whether its study plays one way instead of in a loop
    """

    part: Part
    definition: FormDefinition | StepDefinition
    on: bool
    values: Prepared
    layers: tuple[PlannedLayer, ...]
    store: str
    dependencies: Dependencies
    moves: bool
    moved: str = "natural"
    jumps: bool = False
    parent: Parent | None = None
    plays_once: bool = False

    @property
    def id(self) -> str:
        return self.part.id

    @property
    def samples_space(self) -> bool:
        """Whether its own values, not those of its mask, are measured on the stage."""
        return measured_on_stage(self.values)

    @property
    def remembers(self) -> bool:
        """Whether a layer of its mask does."""
        return any(layer.memory is not None for layer in self.layers)

    @property
    def has_a_past(self) -> bool:
        """Whether what it makes depends on the frames before."""
        return self.remembers or isinstance(self.definition, SystemDefinition)

    @property
    def pointwise(self) -> bool:
        """Whether what becomes of a point depends on that point alone."""
        own = isinstance(self.definition, StepDefinition) and self.definition.pointwise
        return (
            own
            and self.moved in ("natural", "points")
            and all(layer.pointwise for layer in self.layers)
        )

    def motion(self, times: np.ndarray, place: np.ndarray) -> np.ndarray | None:
        """(4, 4) how its parent has moved in the piece since the step was attached; None where
        it has none. place : (4, 4) from the piece to the stage"""
        if self.parent is None:
            return None
        if not self.samples_space:
            return self.parent.motion(times, place, False)
        # Found in stage coordinates, then taken into those of the piece.
        moved: np.ndarray = inverse(place) @ self.parent.motion(times, place, True) @ place
        return moved

    def layers_at(self, times: np.ndarray, place: np.ndarray) -> list[ResolvedLayer]:
        """Its mask's layers at a moment; times : (1,) frames."""
        return [layer.at(times, place) for layer in self.layers]


@dataclass(frozen=True)
class PlannedBy:
    """What of a look goes by value.

    name : of the value; spec : what is declared of it
    values : the gradient, or the ends of the range
    layers : those that are in use
    """

    name: str
    spec: Value
    values: Prepared
    layers: tuple[PlannedLayer, ...]


@dataclass(frozen=True)
class PlannedLook:
    """One look of a piece.

    layers : of its mask, those that are in use; none of the first look, which is everywhere
    whole_faces : whether it takes whole faces instead of going over them smoothly
    moves : whether it differs from frame to frame on the same mesh
    """

    id: str
    definition: LookDefinition
    values: Prepared
    layers: tuple[PlannedLayer, ...]
    by: tuple[PlannedBy, ...]
    whole_faces: bool
    dependencies: Dependencies
    moves: bool


@dataclass(frozen=True)
class PiecePlan:
    """What is known of a piece.

    world : its world transform
    looks : those that are on, the first of which is everywhere
    jumps : whether it goes from place to place at once
    moves : whether the piece's mesh differs from frame to frame (its place may all the same)
    last_needing_neighbours : number of the last step that is not pointwise, after which loose
        points may be left out; the form is one
    """

    steps: tuple[PlannedStep, ...]
    world: WorldTransform
    looks: tuple[PlannedLook, ...]
    moves: bool
    last_needing_neighbours: int
    jumps: bool = False

    @property
    def place_moves(self) -> bool:
        return self.world.moves

    def place_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) from the piece to the stage at a moment; times : (1,) frames."""
        return self.world.at(times)
