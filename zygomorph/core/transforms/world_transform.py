"""Where pieces and markers stand on the stage, those among them that others carry.

What is carried goes where its carrier goes and turns as it turns; of its size it takes nothing, so
that a place is always a move, a turn and a scale.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.carriers import Course, carried_things, inverse
from zygomorph.core.markers import MARKER_VALUES
from zygomorph.core.place import PLACE_VALUES, placement
from zygomorph.core.resolve import Prepared, in_jumps, is_moving, prepare
from zygomorph.core.study import Study

STILL = np.zeros(1)


@dataclass(frozen=True)
class Standing:
    """Where something stands on the stage. Each course takes times, (T,) frames, to (T, 4, 4).

    course : its place
    firm_course : its place without its scale, which is what carries others
    base_course : what carries it: from its own move and turn to the stage; the identity where
        nothing does
    moves : whether it differs from frame to frame
    jumps : whether it goes from place to place at once
    """

    course: Course
    firm_course: Course
    base_course: Course
    moves: bool
    jumps: bool

    def at(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) its place at a moment, (1,) frames."""
        found: np.ndarray = self.course(times)[0]
        return found

    def firm(self, times: np.ndarray) -> np.ndarray:
        found: np.ndarray = self.firm_course(times)[0]
        return found

    def base(self, times: np.ndarray) -> np.ndarray:
        found: np.ndarray = self.base_course(times)[0]
        return found


def _never(times: np.ndarray) -> np.ndarray:
    return np.broadcast_to(np.eye(4), (len(times), 4, 4))


def _holding(study: Study, by: str, name: str) -> Mapping[str, Any] | None:
    """A piece or marker of the document by its id."""
    held = study.pieces if by == "piece" else study.markers
    return next((each for each in held if each["id"] == name), None)


def start_of(carried: Mapping[str, Any]) -> np.ndarray:
    """(4, 4) where the carrier was when something was attached to it."""
    return np.array(carried.get("start", np.eye(4)), np.float64).reshape(4, 4)


def standing_of(study: Study, by: str, name: str, final: bool = False) -> Standing | None:
    """Where a "piece" or a "marker" stands; None where it is gone.

    A checked document has no carriers that carry each other.
    """
    return study.once(("standing", by, name, final), lambda: _standing(study, by, name, final))


def _standing(study: Study, by: str, name: str, final: bool) -> Standing | None:
    held = _holding(study, by, name)
    if held is None:
        return None
    given = held.get("place", {})
    specs = PLACE_VALUES if by == "piece" else MARKER_VALUES
    own = prepare(specs, given, study.loop, final, study.ties)
    moves = any(is_moving(value) for value in given.values())
    jumps = any(in_jumps(value) for value in given.values())
    base: Course = _never
    carried = held.get("carried")
    above = standing_of(study, carried["by"], carried["id"], final) if carried else None
    # Of a carrier that is gone nothing is known; what it carried stays where it was.
    if carried and above:
        back = inverse(start_of(carried))
        moves, jumps = moves or above.moves, jumps or above.jumps

        def base(times: np.ndarray) -> np.ndarray:
            moved: np.ndarray = above.firm_course(times) @ back
            return moved

    def course(times: np.ndarray) -> np.ndarray:
        placed: np.ndarray = base(times) @ _own(own, times, sized=True)
        return placed

    def firm(times: np.ndarray) -> np.ndarray:
        placed: np.ndarray = base(times) @ _own(own, times, sized=False)
        return placed

    if not moves:
        return Standing(_once(course), _once(firm), _once(base), moves, jumps)
    return Standing(course, firm, base, moves, jumps)


def _own(values: Prepared, times: np.ndarray, sized: bool) -> np.ndarray:
    """(T, 4, 4) of the values of a place."""
    numbers = values.at(times).numbers

    def triples(name: str) -> np.ndarray:
        return np.broadcast_to(numbers[name], (3, len(times))).T

    scale = triples("scale") if sized and "scale" in numbers else np.ones((len(times), 3))
    return placement(triples("move"), triples("turn"), scale)


def _once(course: Course) -> Course:
    matrix = course(STILL)[0]
    return lambda times: np.broadcast_to(matrix, (len(times), 4, 4))


def carriers_of(study: Study, piece_id: str) -> dict[tuple[str, str], dict[str, Any]]:
    """What the document says of each place that a piece, its steps and its masks are carried by,
    directly or through others; those that exist."""
    found: dict[tuple[str, str], dict[str, Any]] = {}
    own = carried_things({"pieces": [study.piece(piece_id)]})
    waiting = [(carried["by"], carried["id"]) for _, carried in own if carried["by"] != "layer"]
    while waiting:
        name = waiting.pop()
        held = _holding(study, *name)
        if name in found or held is None:
            continue
        found[name] = {"place": held.get("place", {}), "carried": held.get("carried")}
        if held.get("carried"):
            waiting.append((held["carried"]["by"], held["carried"]["id"]))
    return found
