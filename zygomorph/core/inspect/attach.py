"""Attaching a piece, marker, light, camera, step or mask layer to its parent, and letting it go.

What is attached keeps the place that it has at that moment.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import is_moving
from zygomorph.core.document.edits import Set, apply_edit, value_at
from zygomorph.core.document.parents import MOVED, attached_parts, carries_itself
from zygomorph.core.document.parts import Part, part_at, roots
from zygomorph.core.document.study import Study, SurfacePlace
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.plan_steps import parent_of, plan_layers
from zygomorph.core.evaluation.planned import PlannedLayer, PlannedStep
from zygomorph.core.geometry.affine import inverse, placed, transformed, turns_of
from zygomorph.core.geometry.surface_frame import nearest_at_rest
from zygomorph.core.transforms.parents import Parent, layer_place
from zygomorph.core.transforms.world_transform import moving_parent, world_transform
from zygomorph.core.values.value import Value

Operations = list[dict[str, Any]]
# Finer than this no place is told from another.
DIGITS = 9


@dataclass(frozen=True)
class Attached:
    """What is to get another parent.

    motion : (4, 4) how its present parent has moved since it was attached
    place : (4, 4) from its piece to the stage; None for a part that is in stage coordinates itself
    layers : of a mask, those that may carry it
    in_space : whether it is measured on the stage
    places : of what has no place of its own, its values that are on the stage
    """

    part: Mapping[str, Any]
    motion: np.ndarray
    place: np.ndarray | None = None
    layers: Mapping[str, PlannedLayer] | None = None
    in_space: bool = False
    places: Mapping[str, Value] = field(default_factory=dict)


def attach(
    study: Study,
    path: str,
    by: str,
    name: str,
    frame: float,
    on_surface: bool = False,
    smooth: float = 0.0,
) -> Operations:
    """Edits that let a "piece", a "marker" or a "layer" be the parent of the part at a path.

    path : of a piece, a marker, a step or a mask layer, as edits have it
    on_surface : whether it sticks to the nearest point of the piece's surface
    smooth : metres over which the motion of the surface there is smoothed

    Raises ZygomorphError where there is no such parent, EditError where there is no such path.
    """
    times = np.array([frame], np.float64)
    held = _held(study, path, times)
    if on_surface:
        carried = _stuck(study, path, held, by, name, frame, smooth)
    else:
        # Where it is carried to already is where it stays.
        start = inverse(held.motion) @ _seen(study, held, by, name, times)
        carried = {"by": by, "id": name, "start": _flat(start)}
    operation = Set(do="set", path=f"{path}/carried", value=carried)
    _refuse_circles(study, operation)
    return [{"do": "set", "path": operation.path, "value": carried}]


def _flat(matrix: np.ndarray) -> list[float]:
    return [round(float(v), DIGITS) for v in matrix.reshape(-1)]


def _refuse_circles(study: Study, operation: Set) -> None:
    """Raises ZygomorphError where something would move itself after an edit."""
    changed, _ = apply_edit(dict(study.document), [operation])
    for root in roots(changed):
        if root.kind in MOVED and carries_itself(changed, root.kind, root.id):
            raise ZygomorphError(
                f"“{root.given['name']}” would then move itself: what carries it depends on it.",
                "Choose something else to carry it, or let go of what leads back to it first.",
            )


def _stuck(
    study: Study, path: str, held: Attached, by: str, name: str, frame: float, smooth: float
) -> dict[str, Any]:
    """What the document says of something that sticks to a piece's surface."""
    if by != "piece":
        raise ZygomorphError("Only a piece has a surface.", "Let a piece carry it.")
    stands = _stands(study, path, held, np.array([frame]))
    before = held.part.get("carried") or {}
    # What sticks there already does so at the same place, however smoothly.
    stuck = before.get("at_rest") if before.get("id") == name else None
    if stuck is None:
        stuck = _nearest(study, name, stands, frame)
    now = None
    if stuck is not None:
        now = study.surfaces(study, SurfacePlace(name, tuple(stuck), smooth), frame, False)
    if now is None:
        raise ZygomorphError("The piece has no surface.", "Choose one that has faces.")
    start = _flat(inverse(held.motion) @ now)
    return {"by": by, "id": name, "start": start, "at_rest": stuck, "smooth": smooth}


def _nearest(study: Study, piece: str, place: np.ndarray, frame: float) -> Sequence[float] | None:
    """On the rest shape of a piece, the point of its surface that is nearest to a place now."""
    made = study.meshes(study, piece, frame, False)
    if made is None:
        return None
    mesh, to_stage = made
    found = nearest_at_rest(mesh.moved(transformed(mesh.points, to_stage)), place)
    return None if found is None else [round(float(v), DIGITS) for v in found]


def _stands(study: Study, path: str, held: Attached, times: np.ndarray) -> np.ndarray:
    """(3,) where something stands that is to stick to a surface, metres on the stage."""
    by, name = _name_of(path) if path.count("/") == 2 else ("", "")
    if by in ("piece", "marker", "camera"):
        world = world_transform(study, by, name)
        assert world is not None  # it was found at its path
        found: np.ndarray = world.at(times)[:3, 3]
        return found
    place = next((n for n, spec in held.places.items() if spec.kind == "vector"), None)
    if by != "light" or place is None:
        raise ZygomorphError(
            "Only what has a place on the stage sticks to a surface.",
            "Let a marker stick there, and let it carry this.",
        )
    given = held.part.get("values", {}).get(place, held.places[place].default)
    if is_moving(given):
        raise ZygomorphError(
            "The light moves by itself.", "Let its place stand still, and put it to the surface."
        )
    return placed(np.array(given, np.float64), held.motion)


def let_go(study: Study, path: str, frame: float) -> Operations:
    """Edits after which the part at a path has no parent. A piece, marker, light or camera that
    does not move by itself stays where it is."""
    times = np.array([frame], np.float64)
    held = _held(study, path, times)
    operations: Operations = [{"do": "set", "path": f"{path}/carried", "value": None}]
    if held.places:
        return [*operations, *_kept_places(path, held)]
    given = held.part.get("place", {})
    alone = not any(is_moving(given.get(name)) for name in ("move", "turn"))
    if held.place is None and held.part.get("carried") and alone:
        by, name = _name_of(path)
        world = world_transform(study, by, name)
        assert world is not None  # it was found at its path
        place = world.unscaled_at(times)
        turn = turns_of(place[None, :3, :3])[0]
        for value, triple in (("move", place[:3, 3]), ("turn", turn)):
            figures = [round(float(v), 6) + 0.0 for v in triple]
            operations.append({"do": "set", "path": f"{path}/place/{value}", "value": figures})
    return operations


def _kept_places(path: str, held: Attached) -> Operations:
    """Edits that set places and directions on the stage to where its parent has brought them."""
    operations: Operations = []
    for name, spec in held.places.items():
        given = held.part.get("values", {}).get(name, spec.default)
        if is_moving(given):
            continue
        vector = np.array(given, np.float64)
        if spec.kind == "direction":
            moved = held.motion[:3, :3] @ vector
        else:
            moved = held.motion[:3, :3] @ vector + held.motion[:3, 3]
        figures = [round(float(v), 6) + 0.0 for v in moved]
        operations.append({"do": "set", "path": f"{path}/values/{name}", "value": figures})
    return operations


def _places_of(part: Part) -> dict[str, Value]:
    """Values of a light or camera that are places and directions on the stage."""
    specs = part.sections[0].specs
    return {
        name: spec
        for name, spec in specs.items()
        if spec.kind == "direction" or (spec.kind == "vector" and spec.unit == "m" and not spec.own)
    }


def remove_carrier(study: Study, path: str, frame: float) -> Operations:
    """Edits that let go whatever a piece or marker carries, and remove it.

    Raises EditError where it is not there, ZygomorphError where the path is of something else.
    """
    value_at(study.document, path)
    if len(path.strip("/").split("/")) != 2 or not path.startswith(("/pieces/", "/markers/")):
        raise ZygomorphError(f"Nothing at {path} carries others.", "Choose a piece or a marker.")
    operations: Operations = []
    for part in attached_parts(study.document):
        carried, address = part.given["carried"], part.address
        if (carried["by"], carried["id"]) == _name_of(path) and not address.startswith(f"{path}/"):
            operations += let_go(study, address, frame)
    return [*operations, {"do": "remove", "path": path}]


def _name_of(path: str) -> tuple[str, str]:
    kind, name = path.strip("/").split("/")
    return kind.removesuffix("s"), name


def _held(study: Study, path: str, times: np.ndarray) -> Attached:
    value_at(study.document, path)
    found = part_at(study.document, path)
    if found is None or found[1] or found[0].kind in ("look", "backdrop"):
        raise ZygomorphError(f"Nothing at {path} can be carried.", "Choose a piece or a marker.")
    part = found[0]
    if part.kind in ("piece", "marker"):
        world = world_transform(study, part.kind, part.id)
        assert world is not None  # it was found at its path
        return Attached(part.given, world.parent_at(times))
    if part.kind in ("light", "camera"):
        parent = moving_parent(study, part.given, False)
        motion = np.eye(4) if parent is None else parent.motion(times)[0]
        return Attached(part.given, motion, places=_places_of(part))
    piece = part.within("piece")
    place = plan_piece(study, piece).place_at(times)
    if part.kind == "step":
        spaced = _step(study, piece, part.id).samples_space
        own_parent = parent_of(study, part.given, {}, False)
        motion = _motion(own_parent, times, place, spaced)
        return Attached(part.given, motion, place, in_space=spaced)
    assert part.owner is not None  # a layer belongs to a step
    layers = plan_layers(study, part.owner, False)
    own = layers[part.id]
    motion = _motion(own.parent, times, place, own.in_space)
    return Attached(part.given, motion, place, layers, own.in_space)


def _step(study: Study, piece: str, step: str) -> PlannedStep:
    return next(each for each in plan_piece(study, piece).steps if each.id == step)


def _motion(
    parent: Parent | None, times: np.ndarray, place: np.ndarray, in_space: bool
) -> np.ndarray:
    return np.eye(4) if parent is None else parent.motion(times, place, in_space)


def _seen(study: Study, held: Attached, by: str, name: str, times: np.ndarray) -> np.ndarray:
    """(4, 4) where a parent is, as what it will carry sees it."""
    if by == "layer":
        if held.layers is None or name not in held.layers:
            raise ZygomorphError(f"This mask has no layer {name!r}.", "Choose another parent.")
        upper = held.layers[name]
        now = layer_place(upper.own)(times)
        assert held.place is not None  # a layer belongs to a piece
        if upper.parent is not None:
            now = upper.parent.motion(times, held.place, upper.in_space) @ now
        if upper.in_space == held.in_space:
            return now
        return held.place @ now if held.in_space else inverse(held.place) @ now
    world = world_transform(study, by, name)
    if world is None:
        raise ZygomorphError(f"There is no {by} {name!r} here.", "Choose another parent.")
    if held.place is None:
        # A part in stage coordinates takes nothing of its parent's size.
        return world.unscaled_at(times)
    now = world.at(times)
    return now if held.in_space else inverse(held.place) @ now
