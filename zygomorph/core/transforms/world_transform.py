"""World transforms of pieces and markers: from their own space to the stage, parents included.

What is attached to a parent moves and turns with it; of the parent's scale it takes nothing, so
that a place is always a move, a turn and a scale.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Prepared, in_jumps, is_moving, prepare
from zygomorph.core.document.parts import Part, parts_of, roots
from zygomorph.core.document.study import Study
from zygomorph.core.geometry.affine import inverse, placement
from zygomorph.core.transforms.parents import MatricesAt
from zygomorph.core.values.place_values import MARKER_VALUES, PLACE_VALUES

STILL = np.zeros(1)


@dataclass(frozen=True)
class WorldTransform:
    """The world transform of a piece or marker. Functions take times, (T,) frames, to (T, 4, 4).

    own : its own move, turn and scale
    matrices : its place on the stage
    unscaled : its place without its scale, which is what children follow
    parent : from its own move and turn to the stage; the identity where it has no parent
    attached : whether the document gives it a parent
    moves : whether it differs from frame to frame
    jumps : whether it goes from place to place at once
    """

    own: Prepared
    matrices: MatricesAt
    unscaled: MatricesAt
    parent: MatricesAt
    attached: bool
    moves: bool
    jumps: bool

    def at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) its place at a moment, (1,) frames."""
        found: np.ndarray = self.matrices(times)[0]
        return found

    def unscaled_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) its place without its scale at a moment, (1,) frames."""
        found: np.ndarray = self.unscaled(times)[0]
        return found

    def parent_at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) from its own move and turn to the stage at a moment, (1,) frames."""
        found: np.ndarray = self.parent(times)[0]
        return found


def _identity(times: np.ndarray) -> np.ndarray:
    return np.broadcast_to(np.eye(4), (len(times), 4, 4))


def _part(study: Study, by: str, name: str) -> Mapping[str, Any] | None:
    """A piece or marker of the document by its id."""
    parts = study.pieces if by == "piece" else study.markers
    return next((each for each in parts if each["id"] == name), None)


def start_of(carried: Mapping[str, Any]) -> np.ndarray:
    """(4, 4) where the parent was when something was attached to it."""
    return np.array(carried.get("start", np.eye(4)), np.float64).reshape(4, 4)


def world_transform(study: Study, by: str, name: str, final: bool = False) -> WorldTransform | None:
    """The world transform of a "piece" or a "marker"; None where it is gone.

    A checked document has no circles of parents.
    """
    return study.once(("world transform", by, name, final), lambda: _made(study, by, name, final))


def _made(study: Study, by: str, name: str, final: bool) -> WorldTransform | None:
    part = _part(study, by, name)
    if part is None:
        return None
    given = part.get("place", {})
    specs = PLACE_VALUES if by == "piece" else MARKER_VALUES
    own = prepare(specs, given, study.loop, final, study.signals)
    moves = any(is_moving(value) for value in given.values())
    jumps = any(in_jumps(value) for value in given.values())
    parent: MatricesAt = _identity
    above = moving_parent(study, part, final)
    if above:
        parent = above.motion
        moves, jumps = moves or above.moves, jumps or above.jumps

    def matrices(times: np.ndarray) -> np.ndarray:
        placed: np.ndarray = parent(times) @ _own(own, times, scaled=True)
        return placed

    def unscaled(times: np.ndarray) -> np.ndarray:
        placed: np.ndarray = parent(times) @ _own(own, times, scaled=False)
        return placed

    kept = _varying if moves else _constant
    return WorldTransform(
        own, kept(matrices), kept(unscaled), kept(parent), bool(part.get("carried")), moves, jumps
    )


@dataclass(frozen=True)
class MovingParent:
    """What carries something on the stage.

    motion : from times, (T,) frames, to (T, 4, 4), how it has moved since its child was attached
    """

    motion: MatricesAt
    moves: bool
    jumps: bool


def moving_parent(study: Study, part: Mapping[str, Any], final: bool) -> MovingParent | None:
    """What carries a part of the document on the stage; None where nothing does, or it is gone,
    since then the part stays where it was."""
    carried = part.get("carried")
    above = world_transform(study, carried["by"], carried["id"], final) if carried else None
    if not carried or above is None:
        return None
    back = inverse(start_of(carried))

    def motion(times: np.ndarray) -> np.ndarray:
        moved: np.ndarray = above.unscaled(times) @ back
        return moved

    return MovingParent(motion, above.moves, above.jumps)


def _own(values: Prepared, times: np.ndarray, scaled: bool) -> np.ndarray:
    """(T, 4, 4) of the values of a place."""
    numbers = values.at(times).numbers

    def vectors(name: str) -> np.ndarray:
        return np.broadcast_to(numbers[name], (3, len(times))).T

    scale = vectors("scale") if scaled and "scale" in numbers else np.ones((len(times), 3))
    return placement(vectors("move"), vectors("turn"), scale)


def _varying(matrices: MatricesAt) -> MatricesAt:
    return matrices


def _constant(matrices: MatricesAt) -> MatricesAt:
    matrix = matrices(STILL)[0]
    return lambda times: np.broadcast_to(matrix, (len(times), 4, 4))


def parents_of(study: Study, parts: Iterable[Part]) -> dict[tuple[str, str], dict[str, Any]]:
    """What the document says of each place that some parts are attached to, directly or through
    others; of those that exist."""
    found: dict[tuple[str, str], dict[str, Any]] = {}
    own = [part.given["carried"] for part in parts if part.given.get("carried")]
    waiting = [(carried["by"], carried["id"]) for carried in own if carried["by"] != "layer"]
    while waiting:
        name = waiting.pop()
        part = _part(study, *name)
        if name in found or part is None:
            continue
        found[name] = {"place": part.get("place", {}), "carried": part.get("carried")}
        if part.get("carried"):
            waiting.append((part["carried"]["by"], part["carried"]["id"]))
    return found


def parents_of_piece(study: Study, piece_id: str) -> dict[tuple[str, str], dict[str, Any]]:
    """The same for a piece, its steps and its masks."""
    piece = next(roots({"pieces": [study.piece(piece_id)]}))
    return parents_of(study, parts_of(piece))
