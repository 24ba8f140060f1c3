"""Plans of looks: their values, their masks, and what of them goes by value."""

from __future__ import annotations

from collections.abc import Sequence

from zygomorph.core.document.parts import Part, by_of, looks_of
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.dependencies import Dependencies
from zygomorph.core.evaluation.plan_steps import plan_layers, prepared
from zygomorph.core.evaluation.planned import PlannedBy, PlannedLayer, PlannedLook
from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.evaluation.viewed import depends_on_eye, split_viewed
from zygomorph.core.values.definitions import LookDefinition


def looks_in_use(piece: Part) -> list[Part]:
    """The looks of a piece that are on; the first where none is."""
    every = list(looks_of(piece))
    return [look for look in every if look.on] or every[:1]


def plan_looks(
    study: Study, piece: Part, place_moves: bool, final: bool
) -> tuple[PlannedLook, ...]:
    """place_moves : whether the piece's own place moves"""
    return tuple(
        _plan_look(study, look, number == 0, place_moves, final)
        for number, look in enumerate(looks_in_use(piece))
    )


def _on(study: Study, owner: Part, final: bool) -> tuple[PlannedLayer, ...]:
    return tuple(layer for layer in plan_layers(study, owner, final).values() if layer.on)


def _plan_look(
    study: Study, look: Part, everywhere: bool, place_moves: bool, final: bool
) -> PlannedLook:
    definition = look.definition
    assert isinstance(definition, LookDefinition)  # it is a look
    by = tuple(
        PlannedBy(
            part.id,
            definition.values[part.id],
            prepared(study, part.sections[0], final),
            _on(study, part, final),
        )
        for part in by_of(look)
    )
    by = tuple(each for each in by if each.layers)
    layers = () if everywhere else _on(study, look, final)
    values = prepared(study, look.sections[0], final)
    masks = [layers, *(each.layers for each in by)]
    read = [layer for mask in masks for layer in _worked_out_here(mask)]
    viewer_moves = plan_camera(study, final).moves
    moves = (
        values.moves
        or any(each.values.moving for each in by)
        or any(layer.moves(place_moves, viewer_moves) for layer in read)
    )
    where = look.given.get("where", {})
    return PlannedLook(
        look.id,
        definition,
        values,
        layers,
        by,
        where.get("blended", "points") == "faces",
        Dependencies().joined(layer.dependencies for layer in read),
        moves,
    )


def _worked_out_here(mask: Sequence[PlannedLayer]) -> Sequence[PlannedLayer]:
    """Without what each viewer finds for its own eye; of patterns and pictures it has all numbers
    from here."""
    below, viewed = split_viewed(mask)
    return [*below, *(layer for layer in viewed if not depends_on_eye(layer))]
