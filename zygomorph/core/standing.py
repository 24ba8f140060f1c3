"""Where pieces and markers stand on the stage, those among them that others carry.

What is carried goes where its carrier goes and turns as it turns; of its size it takes nothing, so
that a place is always a move, a turn and a scale.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.carriers import PlaceAt, carried_things, inverse
from zygomorph.core.markers import MARKER_VALUES
from zygomorph.core.place import PLACE_VALUES, matrix_of, placement
from zygomorph.core.resolve import Resolved, in_jumps, is_moving, prepare
from zygomorph.core.study import Study

ONE_SIZE = np.ones(3)
STILL = np.zeros(1)


@dataclass(frozen=True)
class Standing:
    """Where something stands on the stage. Each function takes times, (1,) frames, to (4, 4).

    at : its place
    firm : its place without its scale, which is what carries others
    base : what carries it: from its own move and turn to the stage; the identity where nothing does
    moves : whether it differs from frame to frame
    jumps : whether it goes from place to place at once
    """

    at: PlaceAt
    firm: PlaceAt
    base: PlaceAt
    moves: bool
    jumps: bool


def _never(times: np.ndarray) -> np.ndarray:
    return np.eye(4)


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
    base: PlaceAt = _never
    carried = held.get("carried")
    above = standing_of(study, carried["by"], carried["id"], final) if carried else None
    # Of a carrier that is gone nothing is known; what it carried stays where it was.
    if carried and above:
        back = inverse(start_of(carried))
        moves, jumps = moves or above.moves, jumps or above.jumps

        def base(times: np.ndarray) -> np.ndarray:
            moved: np.ndarray = above.firm(times) @ back
            return moved

    def at(times: np.ndarray) -> np.ndarray:
        values = own.at(times)
        whole = matrix_of(values) if "scale" in specs else _firm(values)
        placed: np.ndarray = base(times) @ whole
        return placed

    def firm(times: np.ndarray) -> np.ndarray:
        placed: np.ndarray = base(times) @ _firm(own.at(times))
        return placed

    if not moves:
        return Standing(_once(at), _once(firm), _once(base), moves, jumps)
    return Standing(at, firm, base, moves, jumps)


def _once(place: PlaceAt) -> PlaceAt:
    matrix = place(STILL)
    return lambda times: matrix


def _firm(values: Resolved) -> np.ndarray:
    return placement(values.vector("move"), values.vector("turn"), ONE_SIZE)


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
