"""What can be known of a recipe before the frame is: its steps, what stands still, what moves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Prepared, discrete_values_of, in_jumps, prepare
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parents import carrying_order
from zygomorph.core.document.study import Study
from zygomorph.core.geometry.affine import inverse
from zygomorph.core.masking.blending import ResolvedLayer
from zygomorph.core.masking.memory import Memory
from zygomorph.core.transforms.parents import Parent, by_a_layer, layer_place, on_the_stage
from zygomorph.core.transforms.world_transform import WorldTransform, start_of, world_transform
from zygomorph.core.values.definitions import Definition, MaskDefinition, StepDefinition
from zygomorph.core.values.entries import definitions, recipe_definitions
from zygomorph.core.values.layer_values import LAYER_VALUES


@dataclass(frozen=True)
class PlannedLayer:
    """One layer of a mask that is in use.

    parent : what it is attached to, or None
    memory : how it remembers, or None
    """

    id: str
    definition: MaskDefinition
    own: Prepared
    common: Prepared
    parent: Parent | None = None
    memory: Memory | None = None

    @property
    def in_space(self) -> bool:
        return _is_in_space(self.own)

    @property
    def by_time(self) -> bool:
        """Whether its weight depends on the frame besides its values."""
        asks = self.definition.by_time
        return asks is not None and asks(self.own.still.discrete_values)

    @property
    def alone(self) -> bool:
        """Whether the weight of a point depends on that point alone."""
        on_points = self.common.still.discrete_values["read"] == "points"
        return self.definition.reach == "pointwise" and on_points and self.memory is None

    def at(self, times: np.ndarray, place: np.ndarray) -> ResolvedLayer:
        """The layer at a moment; place : (4, 4) from the piece to the stage."""
        carried = None
        if self.parent is not None:
            carried = self.parent.undone(times, place, self.in_space)
        own, common = self.own.at(times), self.common.at(times)
        return ResolvedLayer(self.definition, own, common, self.id, carried, self.memory)


@dataclass(frozen=True)
class PlannedStep:
    """One step of a recipe.

    store : the name its mask is stored under, or ""
    in_space : whether its result depends on where the piece stands on the stage
    by_view : whether its result depends on where the study's camera is
    by_time : whether its result depends on the frame besides its values
    moved : what it moves: "points", "shards" as a whole, or shards "tilted" to the slope
    uses : ids of other pieces that its result depends on
    moves : whether its result differs from frame to frame for the same input
    jumps : whether it goes from place to place at once
    parent : what the place where it happens is attached to, or None
    """

    id: str
    definition: Definition
    on: bool
    values: Prepared
    layers: tuple[PlannedLayer, ...]
    store: str
    in_space: bool
    by_time: bool
    moves: bool
    uses: tuple[str, ...] = ()
    moved: str = "points"
    by_view: bool = False
    jumps: bool = False
    parent: Parent | None = None

    @property
    def samples_space(self) -> bool:
        """Whether its own values, not those of its mask, are measured on the stage."""
        return _is_in_space(self.values)

    @property
    def remembers(self) -> bool:
        return any(layer.memory is not None for layer in self.layers)

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
class PiecePlan:
    """What is known of a piece.

    world : its world transform
    jumps : whether it goes from place to place at once
    moves : whether the piece's mesh differs from frame to frame (its place may all the same)
    last_needing_neighbours : number of the last step that is not pointwise, after which
        loose ones may be left out; the form is one
    """

    steps: tuple[PlannedStep, ...]
    world: WorldTransform
    look: Prepared
    moves: bool
    last_needing_neighbours: int
    jumps: bool = False

    @property
    def place_moves(self) -> bool:
        return self.world.moves

    def place_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) from the piece to the stage at a moment; times : (1,) frames."""
        return self.world.at(times)


def _is_in_space(values: Prepared) -> bool:
    words = values.still.discrete_values
    return "space" in (words.get("sampled"), words.get("measured"), words.get("against"))


def _uses(definition: Definition, words: Mapping[str, Any]) -> tuple[str, ...]:
    """Pieces that a step's words name, where those values apply."""
    return tuple(
        words[name]
        for name, value in definition.values.items()
        if value.kind == "piece"
        and words[name]
        and (value.shown_when is None or words[value.shown_when[0]] in value.shown_when[1])
    )


def _used_by(step: Mapping[str, Any]) -> list[str]:
    """Pieces whose meshes a step of the document needs, for what it does and for its mask."""
    found = list(_uses(recipe_definitions()[step["step"]], discrete_values_of(step)))
    for layer in step.get("where", {}).get("layers", []):
        if layer.get("on", True):
            own = definitions("layer")[layer["layer"]]
            words = {n: v.default for n, v in own.values.items()} | layer.get("values", {})
            found += _uses(own, words)
    return found


def held_on_stage(study: Study, piece_id: str, times: np.ndarray) -> dict[str, np.ndarray]:
    """For each step and mask layer of a piece that something carries, by its address: the
    (T, 4, 4) that take its values to the stage at times, (T,) frames."""
    plan = plan_piece(study, piece_id)
    found: dict[str, np.ndarray] = {}

    def held(parent: Parent, in_space: bool) -> np.ndarray:
        return parent.to_stage(times, plan.world.matrices(times), in_space)

    for step in plan.steps:
        address = f"/pieces/{piece_id}/recipe/{step.id}"
        if step.parent is not None:
            found[address] = held(step.parent, step.samples_space)
        for layer in step.layers:
            if layer.parent is not None:
                found[f"{address}/where/layers/{layer.id}"] = held(layer.parent, layer.in_space)
    return found


def sees_camera(study: Study, piece_id: str) -> bool:
    """Whether a mask of the piece depends on where the study's camera is."""
    return any(step.by_view for step in plan_piece(study, piece_id).steps)


def used_pieces(study: Study, piece_id: str) -> list[str]:
    """Ids of the pieces that a piece depends on, directly or through others; those that exist.

    A piece that depends on itself is among its own.
    """

    def make() -> list[str]:
        known = {piece["id"]: piece for piece in study.pieces}
        found: list[str] = []
        waiting = [piece_id]
        while waiting:
            for index, step in enumerate(known[waiting.pop()]["recipe"]):
                if index > 0 and not step.get("on", True):
                    continue
                for used in _used_by(step):
                    if used in known and used not in found:
                        found.append(used)
                        waiting.append(used)
        return found

    return study.once(("uses", piece_id), make)


def pieces_for(study: Study, piece_id: str) -> list[str]:
    """Ids of the pieces that a piece can use: all others that do not depend on it."""
    return [
        piece["id"]
        for piece in study.pieces
        if piece["id"] != piece_id and piece_id not in used_pieces(study, piece["id"])
    ]


def _with_others(study: Study, step: PlannedStep, carried: bool, final: bool) -> PlannedStep:
    """The step, which moves where another piece that it uses moves against its own."""
    known = {piece["id"] for piece in study.pieces}
    plans = [plan_piece(study, used, final) for used in step.uses if used in known]
    moves = carried if plans else False
    return replace(
        step,
        moves=step.moves or (step.on and (moves or any(p.moves or p.place_moves for p in plans))),
    )


def parent_of(
    study: Study, part: Mapping[str, Any], made: Mapping[str, PlannedLayer], final: bool
) -> Parent | None:
    """What carries a step or a layer; made : the layers of its mask that may carry it."""
    carried = part.get("carried")
    if not carried:
        return None
    start = start_of(carried)
    if carried["by"] == "layer":
        upper = made[carried["id"]]
        above = upper.parent
        return Parent(
            start,
            by_a_layer(layer_place(upper.own), upper.in_space, above),
            bool(upper.own.moving) or (above is not None and above.moves),
            not upper.in_space,
        )
    world = world_transform(study, carried["by"], carried["id"], final)
    if world is None:
        # What was removed carries no more; what it carried stays where it was.
        return None
    return Parent(start, on_the_stage(world.at), world.moves, False, world.matrices)


def _memory(common: Prepared, loop: Loop) -> Memory | None:
    words, numbers = common.still.discrete_values, common.still
    if words["memory"] == "none":
        return None
    return Memory(
        words["memory"],
        numbers.count("fade"),
        numbers.scalar("speed"),
        numbers.scalar("rim"),
        -loop.frames if words["begins"] == "ahead" else 0,
        loop.rate,
    )


def every_layer(study: Study, step: Mapping[str, Any], final: bool) -> dict[str, PlannedLayer]:
    """The layers of a step's mask by their ids, those that are switched off as well."""
    given = {layer["id"]: layer for layer in step.get("where", {}).get("layers", [])}
    made: dict[str, PlannedLayer] = {}
    for each in carrying_order(list(given.values())):
        layer = given[each]
        own = definitions("layer")[layer["layer"]]
        common = prepare(LAYER_VALUES, layer, study.loop, final, study.signals)
        made[each] = PlannedLayer(
            each,
            own,
            prepare(own.values, layer.get("values", {}), study.loop, final, study.signals),
            common,
            parent_of(study, layer, made, final),
            _memory(common, study.loop),
        )
    return {each: made[each] for each in given}


def _plan_layers(study: Study, step: Mapping[str, Any], final: bool) -> tuple[PlannedLayer, ...]:
    """The layers of a step's mask that are in use."""
    on = {x["id"] for x in step.get("where", {}).get("layers", []) if x.get("on", True)}
    return tuple(made for each, made in every_layer(study, step, final).items() if each in on)


def _layer_moves(layer: PlannedLayer, carried: bool) -> bool:
    """carried : whether the piece's own place moves"""
    if layer.own.moving or layer.common.moving or layer.by_time or layer.memory is not None:
        return True
    if carried and (layer.in_space or "camera" in layer.definition.reads):
        return True
    return _parent_moves(layer.parent, layer.in_space, carried)


def _parent_moves(parent: Parent | None, in_space: bool, carried: bool) -> bool:
    """Whether what a parent carries moves; carried : whether the piece's own place moves"""
    if parent is None:
        return False
    return parent.moves or (carried and parent.in_piece == in_space)


def _jumps(step: Mapping[str, Any], definition: Definition, words: Mapping[str, Any]) -> bool:
    layers = [x for x in step.get("where", {}).get("layers", []) if x.get("on", True)]
    given = [*step.get("values", {}).values()]
    for layer in layers:
        given += [*layer.get("values", {}).values(), *(layer.get(n) for n in LAYER_VALUES)]
    own = (
        isinstance(definition, StepDefinition)
        and definition.jumps is not None
        and definition.jumps(words)
    )
    return own or any(in_jumps(value) for value in given)


def _plan_step(study: Study, step: Mapping[str, Any], carried: bool, final: bool) -> PlannedStep:
    definition = recipe_definitions()[step["step"]]
    values = prepare(definition.values, step.get("values", {}), study.loop, final, study.signals)
    layers = _plan_layers(study, step, final)
    by_view = any(
        "camera" in x.definition.reads and x.own.still.discrete_values.get("against") == "viewer"
        for x in layers
    )
    spaced = _is_in_space(values)
    in_space = spaced or by_view or any(x.in_space for x in layers)
    on = step.get("on", True)
    by_time = definition.by_time is not None and definition.by_time(values.still.discrete_values)
    parent = parent_of(study, step, {}, final) if definition.carriable else None
    moves = by_time or bool(values.moving) or (spaced and carried)
    moves = moves or _parent_moves(parent, spaced, carried)
    uses = _uses(definition, values.still.discrete_values)
    for layer in layers:
        uses += _uses(layer.definition, layer.own.still.discrete_values)
    where = step.get("where", {})
    return PlannedStep(
        id=step["id"],
        definition=definition,
        on=on,
        values=values,
        layers=layers,
        store=where.get("store", ""),
        in_space=in_space,
        by_time=by_time or any(layer.by_time for layer in layers),
        uses=uses,
        moved=where.get("moves", "points") if definition.rigid else "points",
        moves=on and (moves or any(_layer_moves(layer, carried) for layer in layers)),
        by_view=by_view,
        jumps=on and _jumps(step, definition, values.still.discrete_values),
        parent=parent,
    )


def _last_needing_neighbours(steps: Sequence[PlannedStep]) -> int:
    together = [
        index
        for index, step in enumerate(steps)
        if step.on
        and not (
            getattr(step.definition, "pointwise", False)
            and step.moved == "points"
            and all(layer.alone for layer in step.layers)
        )
    ]
    return max([0, *together])


def plan_piece(study: Study, piece_id: str, final: bool = False) -> PiecePlan:
    """The plan of a piece, made once for a study. Raises ZygomorphError where it is not there."""

    def make() -> PiecePlan:
        piece = study.piece(piece_id)
        world = world_transform(study, "piece", piece_id, final)
        assert world is not None  # the piece is there
        carried = world.moves
        steps = tuple(_plan_step(study, step, carried, final) for step in piece["recipe"])
        # A piece that depends on itself cannot be made at all, and is not gone into.
        if piece_id not in used_pieces(study, piece_id):
            steps = tuple(_with_others(study, step, carried, final) for step in steps)
        return PiecePlan(
            steps=steps,
            world=world,
            look=prepare(
                definitions("look")["surface"].values,
                piece.get("look", {}).get("surface", {}),
                study.loop,
                final,
                study.signals,
            ),
            moves=any(step.moves for step in steps),
            last_needing_neighbours=_last_needing_neighbours(steps),
            jumps=any(step.jumps for step in steps) or world.jumps,
        )

    return study.once(("plan", piece_id, final), make)
