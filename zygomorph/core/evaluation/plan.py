"""The plan of a piece: its steps, what stands still, what moves, and which pieces it uses."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from zygomorph.core.document.parts import Part, roots, steps_of
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.plan_looks import plan_looks
from zygomorph.core.evaluation.plan_steps import plan_step
from zygomorph.core.evaluation.planned import PiecePlan, PlannedLayer, PlannedLook, PlannedStep
from zygomorph.core.transforms.motion import WorldTransform
from zygomorph.core.transforms.parents import Parent
from zygomorph.core.transforms.world_transform import world_transform


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
    """Whether the mesh of a piece depends on where the study's camera is."""
    return any(step.dependencies.camera for step in _own_steps(study, piece_id, final))


def is_seen_by_camera(study: Study, piece_id: str, final: bool = False) -> bool:
    """Whether its looks depend on where the study's camera is."""
    return any(look.dependencies.camera for look in plan_piece(study, piece_id, final).looks)


def _with_others(study: Study, step: PlannedStep, place_moves: bool, final: bool) -> PlannedStep:
    """The step, which moves where another piece that it uses moves against its own."""
    known = {piece["id"] for piece in study.pieces}
    used = [each for each in step.dependencies.pieces if each in known]
    plans = [plan_piece(study, each, final) for each in used]
    moves = bool(plans) and (place_moves or any(p.moves or p.place_moves for p in plans))
    return replace(step, moves=step.moves or (step.on and moves))


def _last_needing_neighbours(steps: Sequence[PlannedStep]) -> int:
    return max([0, *(k for k, step in enumerate(steps) if step.on and not step.pointwise)])


def _with_other_looks(
    study: Study, look: PlannedLook, place_moves: bool, final: bool
) -> PlannedLook:
    """The look, which moves where another piece that it reads moves against its own."""
    known = {piece["id"] for piece in study.pieces}
    read = [each for each in look.dependencies.pieces if each in known]
    moves = bool(read) and (place_moves or any(_moves_at_all(study, p, final) for p in read))
    return replace(look, moves=look.moves or moves)


def _moves_at_all(study: Study, piece_id: str, final: bool) -> bool:
    """Whether a piece or its place moves, whatever its looks do, which may read pieces that read
    this one."""
    return _world(study, piece_id, final).moves or any(
        step.moves
        for each in (piece_id, *used_pieces(study, piece_id, final))
        for step in _own_steps(study, each, final)
    )


def read_pieces(study: Study, piece_id: str, final: bool = False) -> list[str]:
    """Ids of the pieces that frames of a piece depend on: those that it uses, those that its looks
    read, and what these use."""
    looks = plan_piece(study, piece_id, final).looks
    known = {piece["id"] for piece in study.pieces}
    read = [p for look in looks for p in look.dependencies.pieces if p in known]
    used = [p for each in (piece_id, *read) for p in used_pieces(study, each, final)]
    return list(dict.fromkeys([*used, *read]))


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
            looks=tuple(
                _with_other_looks(study, look, world.moves, final)
                for look in plan_looks(study, piece, world.moves, final)
            ),
            moves=any(step.moves for step in steps),
            last_needing_neighbours=_last_needing_neighbours(steps),
            jumps=any(step.jumps for step in steps) or world.jumps,
        )

    return study.once(("plan", piece_id, final), make)


def to_stage(study: Study, piece_id: str, times: np.ndarray) -> dict[str, np.ndarray]:
    """For each step and mask layer of a piece that has a parent, those of its looks as well, by its
    address: the (T, 4, 4) that take its values to the stage at times, (T,) frames."""
    plan = plan_piece(study, piece_id)
    found: dict[str, np.ndarray] = {}

    def matrices(parent: Parent, in_space: bool) -> np.ndarray:
        return parent.to_stage(times, plan.world.matrices(times), in_space)

    def of_layers(address: str, layers: Sequence[PlannedLayer]) -> None:
        for layer in layers:
            if layer.parent is not None:
                at = f"{address}/where/layers/{layer.id}"
                found[at] = matrices(layer.parent, layer.in_space)

    for step in plan.steps:
        address = f"/pieces/{piece_id}/recipe/{step.id}"
        if step.parent is not None:
            found[address] = matrices(step.parent, step.samples_space)
        of_layers(address, step.layers)
    for look in plan.looks:
        address = f"/pieces/{piece_id}/looks/{look.id}"
        of_layers(address, look.layers)
        for by in look.by:
            of_layers(f"{address}/by/{by.name}", by.layers)
    return found
