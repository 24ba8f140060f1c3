"""World transforms of pieces, markers and cameras: from their own space to the stage, with their
parents.

What is attached to a parent moves and turns with it; of the parent's scale it takes nothing, so
that a place is always a move, a turn and a scale.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Prepared, in_jumps, is_moving, prepare
from zygomorph.core.document.parents import named
from zygomorph.core.document.parts import Part, parts_of, roots
from zygomorph.core.document.study import Study, SurfacePlace
from zygomorph.core.geometry.affine import inverse, placement
from zygomorph.core.transforms.camera import PlannedCamera
from zygomorph.core.transforms.motion import MovingParent, WorldTransform
from zygomorph.core.transforms.parents import MatricesAt
from zygomorph.core.values.place_values import MARKER_VALUES, PLACE_VALUES

STILL = np.zeros(1)


def _identity(times: np.ndarray) -> np.ndarray:
    return np.broadcast_to(np.eye(4), (len(times), 4, 4))


def _part(study: Study, by: str, name: str) -> Mapping[str, Any] | None:
    """A piece, marker or camera of the document by its id."""
    parts = {"piece": study.pieces, "marker": study.markers, "camera": study.cameras}[by]
    return next((each for each in parts if each["id"] == name), None)


def start_of(carried: Mapping[str, Any]) -> np.ndarray:
    """(4, 4) where the parent was when something was attached to it."""
    return np.array(carried.get("start", np.eye(4)), np.float64).reshape(4, 4)


def world_transform(study: Study, by: str, name: str, final: bool = False) -> WorldTransform | None:
    """The world transform of a "piece", a "marker" or a "camera"; None where it is gone.

    A checked document has no circles of parents.
    """
    return study.once(("world transform", by, name, final), lambda: _made(study, by, name, final))


def _made(study: Study, by: str, name: str, final: bool) -> WorldTransform | None:
    part = _part(study, by, name)
    if part is None:
        return None
    if by == "camera":
        return _of_camera(study, name, final)
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


def planned_camera(study: Study, name: str, final: bool = False) -> PlannedCamera | None:
    """A camera by its id, planned once; None where it is gone."""
    part = next((each for each in roots(study.document, "camera") if each.id == name), None)
    if part is None:
        return None
    found = part

    def make() -> PlannedCamera:
        section = found.sections[0]
        values = prepare(section.specs, section.given, study.loop, final, study.signals)

        def stands(anchor: str) -> WorldTransform | None:
            return world_transform(study, *named(anchor), final)

        above = moving_parent(study, found.given, final)
        return PlannedCamera(study, found, values, above, stands, final)

    return study.once(("camera", name, final), make)


def _of_camera(study: Study, name: str, final: bool) -> WorldTransform:
    """A camera as what carries others: its own axes, where it is."""
    camera = planned_camera(study, name, final)
    assert camera is not None  # it is one of the document's

    def matrices(times: np.ndarray) -> np.ndarray:
        return np.stack([camera.at(times[k : k + 1]).place for k in range(len(times))])

    return WorldTransform(
        camera.values, matrices, matrices, _identity, camera.parent is not None, camera.moves, False
    )


def moving_parent(study: Study, part: Mapping[str, Any], final: bool) -> MovingParent | None:
    """What carries a part of the document on the stage; None where nothing does, or it is gone,
    since then the part stays where it was."""
    carried = part.get("carried")
    above = world_transform(study, carried["by"], carried["id"], final) if carried else None
    if not carried or above is None:
        return None
    back = inverse(start_of(carried))
    if carried.get("at_rest") is not None:
        return _stuck(study, carried, above, back, final)

    def motion(times: np.ndarray) -> np.ndarray:
        moved: np.ndarray = above.unscaled(times) @ back
        return moved

    return MovingParent(motion, above.moves, above.jumps)


def surface_place(carried: Mapping[str, Any]) -> SurfacePlace:
    """Where something sticks to a surface, by what the document says of its carrier."""
    return SurfacePlace(carried["id"], tuple(carried["at_rest"]), carried.get("smooth", 0.0))


def _stuck(
    study: Study, carried: Mapping[str, Any], above: WorldTransform, back: np.ndarray, final: bool
) -> MovingParent:
    """What sticks to a place of a piece's surface; where there is no surface it moves with the
    piece.

    back : (4, 4) the inverse of where that place was when something was attached to it
    """
    place = surface_place(carried)

    def motion(times: np.ndarray) -> np.ndarray:
        frames = []
        for k, time in enumerate(times):
            found = study.surfaces(study, place, float(time), final)
            frames.append(above.unscaled_at(times[k : k + 1]) if found is None else found)
        return np.stack(frames) @ back

    return MovingParent(motion, True, above.jumps)


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
        if name[0] == "camera":
            values = part.get("values", {})
            found[name]["values"] = values
            found[name]["path"] = _part(study, "piece", values.get("path", ""))
            anchors = (values.get(each) for each in ("aim", "focus_anchor"))
            waiting += (named(each) for each in anchors if each)
        if part.get("carried"):
            waiting.append((part["carried"]["by"], part["carried"]["id"]))
    return found


def parents_of_piece(study: Study, piece_id: str) -> dict[tuple[str, str], dict[str, Any]]:
    """The same for a piece, its steps and its masks."""
    piece = next(roots({"pieces": [study.piece(piece_id)]}))
    return parents_of(study, parts_of(piece))


def surfaces_under(study: Study, parts: Iterable[Part]) -> list[str]:
    """Ids of the pieces to whose surfaces some parts stick, directly or through others."""
    walked = list(parts)
    own = [part.given.get("carried") or {} for part in walked]
    others = [each["carried"] or {} for each in parents_of(study, walked).values()]
    stuck = {each["id"] for each in (*own, *others) if each.get("at_rest") is not None}
    return sorted(name for name in stuck if _part(study, "piece", name) is not None)
