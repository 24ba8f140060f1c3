"""What can be known of a recipe before the frame is: its steps, what stands still, what moves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition, definitions, recipe_definitions
from zygomorph.core.looks.surface import DEFINITION as SURFACE
from zygomorph.core.loop import Loop
from zygomorph.core.masks.layers import COMMON_VALUES, ResolvedLayer
from zygomorph.core.place import PLACE_VALUES, matrix_of, place_moves
from zygomorph.core.resolve import Prepared, prepare, words_of
from zygomorph.core.study import Study


@dataclass(frozen=True)
class PlannedLayer:
    """One layer of a mask that is in use."""

    definition: Definition
    own: Prepared
    common: Prepared


@dataclass(frozen=True)
class PlannedStep:
    """One step of a recipe.

    store : the name its mask is stored under, or ""
    in_space : whether its result depends on where the piece stands on the stage
    by_time : whether its result depends on the frame besides its values
    moved : what it moves: "points", "shards" as a whole, or shards "tilted" to the slope
    uses : ids of other pieces that its result depends on
    moves : whether its result differs from frame to frame for the same input
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

    def layers_at(self, times: np.ndarray) -> list[ResolvedLayer]:
        """Its mask's layers at a moment; times : (1,) frames."""
        return [
            ResolvedLayer(x.definition, x.own.at(times), x.common.at(times)) for x in self.layers
        ]


@dataclass(frozen=True)
class PiecePlan:
    """What is known of a piece.

    standing : (4, 4) its place where that does not move, else None
    moves : whether the piece's mesh differs from frame to frame (its place may all the same)
    last_together : number of the last step for which points are more than each alone, after which
        loose ones may be left out; the form is one
    """

    steps: tuple[PlannedStep, ...]
    place: Prepared
    standing: np.ndarray | None
    look: Prepared
    place_moves: bool
    moves: bool
    last_together: int

    def place_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) from the piece to the stage at a moment; times : (1,) frames."""
        return matrix_of(self.place.at(times)) if self.standing is None else self.standing


def _is_in_space(values: Prepared) -> bool:
    words = values.still.words
    return "space" in (words.get("sampled"), words.get("measured"))


def _uses(definition: Definition, words: Mapping[str, Any]) -> tuple[str, ...]:
    """Pieces that a step's words name, where those values apply."""
    return tuple(
        words[name]
        for name, value in definition.values.items()
        if value.kind == "piece"
        and words[name]
        and (value.shown_when is None or words[value.shown_when[0]] in value.shown_when[1])
    )


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
                for used in _uses(recipe_definitions()[step["step"]], words_of(step)):
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


def _plan_step(step: Mapping[str, Any], carried: bool, loop: Loop, final: bool) -> PlannedStep:
    definition = recipe_definitions()[step["step"]]
    values = prepare(definition.values, step.get("values", {}), loop, final)
    where = step.get("where", {})
    layers = []
    for layer in where.get("layers", []):
        if layer.get("on", True):
            own = definitions("layer")[layer["layer"]]
            layers.append(
                PlannedLayer(
                    own,
                    prepare(own.values, layer.get("values", {}), loop, final),
                    prepare(COMMON_VALUES, layer, loop, final),
                )
            )
    in_space = _is_in_space(values) or any(_is_in_space(layer.own) for layer in layers)
    parts = [values, *(p for layer in layers for p in (layer.own, layer.common))]
    on = step.get("on", True)
    by_time = definition.by_time is not None and definition.by_time(values.still.words)
    return PlannedStep(
        id=step["id"],
        definition=definition,
        on=on,
        values=values,
        layers=tuple(layers),
        store=where.get("store", ""),
        in_space=in_space,
        by_time=by_time,
        uses=_uses(definition, values.still.words),
        moved=where.get("moves", "points") if definition.rigid else "points",
        moves=on and (by_time or any(part.moving for part in parts) or (in_space and carried)),
    )


def _last_together(steps: Sequence[PlannedStep]) -> int:
    together = [
        index
        for index, step in enumerate(steps)
        if step.on
        and not (
            step.definition.alone
            and step.moved == "points"
            and all(layer.definition.alone for layer in step.layers)
        )
    ]
    return max([0, *together])


def plan_piece(study: Study, piece_id: str, final: bool = False) -> PiecePlan:
    """The plan of a piece, made once for a study. Raises ZygomorphError where it is not there."""

    def make() -> PiecePlan:
        piece = study.piece(piece_id)
        place = piece.get("place", {})
        carried = place_moves(place)
        steps = tuple(_plan_step(step, carried, study.loop, final) for step in piece["recipe"])
        # A piece that depends on itself cannot be made at all, and is not gone into.
        if piece_id not in used_pieces(study, piece_id):
            steps = tuple(_with_others(study, step, carried, final) for step in steps)
        prepared = prepare(PLACE_VALUES, place, study.loop, final)
        return PiecePlan(
            steps=steps,
            place=prepared,
            standing=None if carried else matrix_of(prepared.still),
            look=prepare(
                SURFACE.values, piece.get("look", {}).get("surface", {}), study.loop, final
            ),
            place_moves=carried,
            moves=any(step.moves for step in steps),
            last_together=_last_together(steps),
        )

    return study.once(("plan", piece_id, final), make)
