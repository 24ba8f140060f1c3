"""Two pieces that swap along one front: the second is brought to the middle and size of the first
and goes along with it, and as the front passes one leaves and the other comes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from itertools import count
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.geometry.affine import turns_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.inspect.attach import Operations, attach
from zygomorph.core.transforms.axis_frame import spine_of

# So far beyond the piece the front waits, as a share of its length.
BEYOND = 0.02
# Of the loop: when the first piece is gone, and when it begins to come back.
GONE, BACK = 0.42, 0.58
FEWEST_DIGITS = 6


def _figures(values: np.ndarray) -> list[float]:
    return [round(float(v), FEWEST_DIGITS) + 0.0 for v in values]


def _box(result: Result, name: str) -> tuple[np.ndarray, np.ndarray]:
    """Middle and size, (3,) metres, in the piece's own space."""
    low, high = np.asarray(result.low, np.float64), np.asarray(result.high, np.float64)
    if result.geometry.point_count == 0 or not (high - low).max() > 0:
        raise ZygomorphError(
            f"“{name}” has no size at this frame.", "Choose a frame at which it is there."
        )
    return (low + high) / 2, high - low


def _onto(first: Result, second: Result, names: tuple[str, str]) -> tuple[float, Operations]:
    """By how much the second piece is sized so that it is as large as the first and around the same
    middle, and its place for that as values of a piece."""
    middle, size = _box(first, names[0])
    own_middle, own_size = _box(second, names[1])
    by = float(size.max() / own_size.max())
    linear = first.place[:3, :3]
    scale = np.linalg.norm(linear, axis=0)
    turn = turns_of((linear / np.maximum(scale, 1e-30))[None])[0]
    move = first.place[:3, 3] + linear @ (middle - by * own_middle)
    return by, [
        {"do": "set", "path": f"place/{name}", "value": _figures(value)}
        for name, value in (("move", move), ("turn", turn), ("scale", scale * by))
    ]


def _travel(study: Study, low: float, high: float) -> dict[str, Any]:
    """A front that goes from one end to the other; in a loop it comes back."""
    last = study.loop.last
    ends = [round(low, FEWEST_DIGITS), round(high, FEWEST_DIGITS)]
    keys = [(0, 0), (last, 1)]
    if not study.loop.one_way:
        keys = [(0, 0), (round(GONE * last), 1), (round(BACK * last), 1), (last, 0)]
    return {
        "signal": "keys",
        "keys": [{"frame": frame, "value": ends[end]} for frame, end in keys],
    }


def _leaving(
    piece: Mapping[str, Any],
    geometry: Geometry,
    axis: int,
    travel: dict[str, Any],
    size: float,
    comes: bool,
) -> list[dict[str, Any]]:
    """The steps that take away what the front has passed, or of the piece that comes, what it has
    not passed yet. Copies are written out first, since a front goes through each as it stands."""
    direction = np.zeros(3)
    direction[axis] = 1.0 if comes else -1.0
    position: list[Any] = [0.0, 0.0, 0.0]
    position[axis] = travel
    taken = {step["id"] for step in piece["recipe"]}
    free = (n for n in map("swap-{}".format, count(1)) if n not in taken)
    what: dict[str, Any] = {"way": "contour"}
    if geometry.face_count == 0:
        what = {"way": "whole", "of": "points"}
    values = {
        "direction": direction.tolist(),
        "position": position,
        "width": round(max(0.02 * size, 1e-4), FEWEST_DIGITS),
    }
    remove = {
        "id": next(free),
        "step": "remove",
        "values": what,
        "where": {"layers": [{"id": "front", "layer": "linear", "values": values}]},
    }
    return [remove] if geometry.copies is None else [{"id": next(free), "step": "real"}, remove]


def swap(
    evaluator: Evaluator,
    study: Study,
    first_id: str,
    second_id: str,
    frame: float,
    study_of: Callable[[dict[str, Any]], Study],
) -> Operations:
    """Edits after which two pieces swap: the second is as large as the first and around the same
    middle at that frame, moves with it, and comes as the first leaves.

    study_of : reads a document, with the sounds that belong to it

    Raises ZygomorphError where one is not there, or where one uses the other in such a way that
    neither could carry the other.
    """
    pieces = {piece["id"]: piece for piece in study.pieces}
    for name in (first_id, second_id):
        if name not in pieces:
            raise ZygomorphError(f"There is no piece {name!r}.", "It may have been removed.")
    if first_id == second_id:
        raise ZygomorphError("A piece cannot swap with itself.", "Choose another piece.")
    first, second = (evaluator.evaluate(study, Request(p, frame)) for p in (first_id, second_id))
    names = (pieces[first_id]["name"], pieces[second_id]["name"])
    by, placed = _onto(first, second, names)
    at = f"/pieces/{second_id}"
    operations: Operations = [{"do": "set", "path": f"{at}/carried", "value": None}]
    operations += [{**each, "path": f"{at}/{each['path']}"} for each in placed]
    operations.append({"do": "set", "path": f"{at}/visible", "value": True})
    checked = [TypeAdapter(Operation).validate_python(each) for each in operations]
    moved = study_of(apply_edit(dict(study.document), checked)[0])
    operations += attach(moved, at, "piece", first_id, frame)

    middle, size = _box(first, names[0])
    own_middle, own_size = _box(second, names[1])
    axis = spine_of(size)
    # Both fronts are at one place on the stage: the larger of the two spans, in each one's space.
    reach = max(size[axis], by * own_size[axis]) * (0.5 + BEYOND)
    for found, piece, centre, span, comes in (
        (first, pieces[first_id], middle, reach, False),
        (second, pieces[second_id], own_middle, reach / by, True),
    ):
        travel = _travel(study, centre[axis] - span, centre[axis] + span)
        after = piece["recipe"][-1]["id"]
        for step in _leaving(piece, found.geometry, axis, travel, 2 * span, comes):
            path = f"/pieces/{piece['id']}/recipe"
            operations.append({"do": "insert", "path": path, "after": after, "item": step})
            after = step["id"]
    return operations
