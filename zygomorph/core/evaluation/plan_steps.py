"""Plans of steps and mask layers: their values prepared, what they depend on, what they are
attached to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zygomorph.core.animation.resolve import Prepared, in_jumps, prepare
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parents import carrying_order
from zygomorph.core.document.parts import Part, Section, layers_of, parts_of
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.dependencies import dependencies_of
from zygomorph.core.evaluation.planned import (
    PlannedLayer,
    PlannedStep,
    measured_on_stage,
    parent_moves,
)
from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.masking.memory import Memory
from zygomorph.core.transforms.parents import Parent, by_a_layer, layer_place, on_the_stage
from zygomorph.core.transforms.world_transform import start_of, world_transform
from zygomorph.core.values.definitions import (
    FormDefinition,
    MaskDefinition,
    StepDefinition,
    SystemDefinition,
)


def prepared(study: Study, section: Section, final: bool) -> Prepared:
    """The values of a section of a part."""
    return prepare(section.specs, section.given, study.loop, final, study.signals)


def parent_of(
    study: Study, given: Mapping[str, Any], made: Mapping[str, PlannedLayer], final: bool
) -> Parent | None:
    """The parent of a step or a layer; made : the layers of its mask that may be it."""
    carried = given.get("carried")
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
        # What was removed is a parent no more; what was attached to it stays where it was.
        return None
    return Parent(start, on_the_stage(world.at), world.moves, False, world.matrices)


def _memory(common: Prepared, loop: Loop) -> Memory | None:
    discrete, numbers = common.still.discrete_values, common.still
    if discrete.get("memory", "none") == "none":
        return None
    return Memory(
        discrete["memory"],
        numbers.count("fade"),
        numbers.scalar("speed"),
        numbers.scalar("rim"),
        -loop.frames if discrete["begins"] == "ahead" else 0,
        loop.rate,
    )


def plan_layers(study: Study, owner: Part, final: bool) -> dict[str, PlannedLayer]:
    """The layers of a part's mask by their ids, those that are switched off as well."""
    walked = {layer.id: layer for layer in layers_of(owner)}
    made: dict[str, PlannedLayer] = {}
    for each in carrying_order([layer.given for layer in walked.values()]):
        layer = walked[each]
        definition = layer.definition
        assert isinstance(definition, MaskDefinition)  # it is a layer
        own, common = (prepared(study, section, final) for section in layer.sections)
        made[each] = PlannedLayer(
            each,
            layer.given.get("on", True),
            definition,
            own,
            common,
            dependencies_of(definition, own, common),
            parent_of(study, layer.given, made, final),
            _memory(common, study.loop),
        )
    return {each: made[each] for each in walked}


def _jumps(step: Part, definition: FormDefinition | StepDefinition) -> bool:
    walked = [part for part in parts_of(step) if part is step or part.given.get("on", True)]
    if any(in_jumps(value.given) for part in walked for value in part.values()):
        return True
    own = definition.jumps if isinstance(definition, StepDefinition) else None
    return own is not None and own(step.discrete())


def plan_step(study: Study, step: Part, place_moves: bool, final: bool) -> PlannedStep:
    """The plan of a step by itself; what other pieces do to it is not gone into.

    place_moves : whether the piece's own place moves
    """
    definition = step.definition
    assert isinstance(definition, FormDefinition | StepDefinition)  # it is a step
    values = prepared(study, step.sections[0], final)
    layers = tuple(layer for layer in plan_layers(study, step, final).values() if layer.on)
    own = dependencies_of(definition, values)
    parent = parent_of(study, step.given, {}, final) if definition.carriable else None
    moves = own.time or bool(values.moving) or isinstance(definition, SystemDefinition)
    viewer_moves = plan_camera(study, final).moves
    moves = moves or own.seen_to_move(place_moves, viewer_moves)
    moves = moves or parent_moves(parent, measured_on_stage(values), place_moves)
    moves = moves or any(layer.moves(place_moves, viewer_moves) for layer in layers)
    on = step.given.get("on", True)
    where = step.given.get("where", {})
    return PlannedStep(
        part=step,
        definition=definition,
        on=on,
        values=values,
        layers=layers,
        store=where.get("store", ""),
        dependencies=own.joined(layer.dependencies for layer in layers),
        moves=on and moves,
        moved=where.get("moves", "natural") if definition.rigid else "natural",
        jumps=on and _jumps(step, definition),
        parent=parent,
        plays_once=study.loop.one_way,
    )
