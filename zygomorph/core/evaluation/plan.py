"""The plan of a piece: its steps, what stands still, what moves, and which pieces it uses."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from zygomorph.core.animation.resolve import prepare
from zygomorph.core.document.parts import Part, looks_of, roots, steps_of
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.plan_steps import plan_step
from zygomorph.core.evaluation.planned import PiecePlan, PlannedLook, PlannedStep
from zygomorph.core.transforms.parents import Parent
from zygomorph.core.transforms.world_transform import WorldTransform, world_transform
from zygomorph.core.values.definitions import LookDefinition


def _piece(study: Study, piece_id: str) -> Part:
    study.piece(piece_id)
    return next(each for each in roots(study.document, "piece") if each.id == piece_id)


def _world(study: Study, piece_id: str, final: bool) -> WorldTransform:
    world = world_transform(study, "piece", piece_id, final)
    assert world is not None  # the piece is there
    return world


def _own_steps(study: Study, piece_id: str, final: bool) -> tuple[PlannedStep, ...]:
    """The steps of a piece, each planned by itself."""

    def make() -> tuple[PlannedStep, ...]:
        place_moves = _world(study, piece_id, final).moves
        piece = _piece(study, piece_id)
        return tuple(plan_step(study, step, place_moves, final) for step in steps_of(piece))

    return study.once(("own steps", piece_id, final), make)


def used_pieces(study: Study, piece_id: str, final: bool = False) -> list[str]:
    """Ids of the pieces that a piece depends on, directly or through others; those that exist.

    A piece that depends on itself is among its own.
    """

    def make() -> list[str]:
        known = {piece["id"] for piece in study.pieces}
        found: dict[str, None] = {}
        waiting = [piece_id]
        while waiting:
            for number, step in enumerate(_own_steps(study, waiting.pop(), final)):
                if number > 0 and not step.on:
                    continue
                new = [p for p in step.dependencies.pieces if p in known and p not in found]
                found |= dict.fromkeys(new)
                waiting += new
        return list(found)

    return study.once(("uses", piece_id, final), make)


def pieces_for(study: Study, piece_id: str) -> list[str]:
    """Ids of the pieces that a piece can use: all others that do not depend on it."""
    return [
        piece["id"]
        for piece in study.pieces
        if piece["id"] != piece_id and piece_id not in used_pieces(study, piece["id"])
    ]


def sees_camera(study: Study, piece_id: str, final: bool = False) -> bool:
    """Whether a piece depends on where the study's camera is."""
    return any(step.dependencies.camera for step in _own_steps(study, piece_id, final))


def _with_others(study: Study, step: PlannedStep, place_moves: bool, final: bool) -> PlannedStep:
    """The step, which moves where another piece that it uses moves against its own."""
    known = {piece["id"] for piece in study.pieces}
    used = [each for each in step.dependencies.pieces if each in known]
    plans = [plan_piece(study, each, final) for each in used]
    moves = bool(plans) and (place_moves or any(p.moves or p.place_moves for p in plans))
    return replace(step, moves=step.moves or (step.on and moves))


def _last_needing_neighbours(steps: Sequence[PlannedStep]) -> int:
    return max([0, *(k for k, step in enumerate(steps) if step.on and not step.pointwise)])


def _look(study: Study, piece: Part, final: bool) -> PlannedLook:
    """The look that a piece is drawn with: its first."""
    look = next(looks_of(piece))
    assert isinstance(look.definition, LookDefinition)  # it is a look
    section = look.sections[0]
    values = prepare(section.specs, section.given, study.loop, final, study.signals)
    return PlannedLook(look.id, look.definition, values)


def plan_piece(study: Study, piece_id: str, final: bool = False) -> PiecePlan:
    """The plan of a piece, made once for a study. Raises ZygomorphError where it is not there."""

    def make() -> PiecePlan:
        piece = _piece(study, piece_id)
        world = _world(study, piece_id, final)
        steps = _own_steps(study, piece_id, final)
        # A piece that depends on itself cannot be made at all, and is not gone into.
        if piece_id not in used_pieces(study, piece_id, final):
            steps = tuple(_with_others(study, step, world.moves, final) for step in steps)
        return PiecePlan(
            steps=steps,
            world=world,
            look=_look(study, piece, final),
            moves=any(step.moves for step in steps),
            last_needing_neighbours=_last_needing_neighbours(steps),
            jumps=any(step.jumps for step in steps) or world.jumps,
        )

    return study.once(("plan", piece_id, final), make)


def to_stage(study: Study, piece_id: str, times: np.ndarray) -> dict[str, np.ndarray]:
    """For each step and mask layer of a piece that has a parent, by its address: the (T, 4, 4)
    that take its values to the stage at times, (T,) frames."""
    plan = plan_piece(study, piece_id)
    found: dict[str, np.ndarray] = {}

    def matrices(parent: Parent, in_space: bool) -> np.ndarray:
        return parent.to_stage(times, plan.world.matrices(times), in_space)

    for step in plan.steps:
        address = f"/pieces/{piece_id}/recipe/{step.id}"
        if step.parent is not None:
            found[address] = matrices(step.parent, step.samples_space)
        for layer in step.layers:
            if layer.parent is not None:
                at = f"{address}/where/layers/{layer.id}"
                found[at] = matrices(layer.parent, layer.in_space)
    return found
