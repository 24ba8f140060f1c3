"""How a pattern or picture lies on a surface: by its UVs, seen along a direction or by the camera,
or wrapped round a cylinder or sphere."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import transformed, unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.uvs import uv_of_points
from zygomorph.core.values.definitions.printed import On, Round
from zygomorph.core.values.grips import X, both_ways, spot
from zygomorph.core.values.value import Value, choice, direction, number, vector

_PLACED = ("laid", ("seen", "cylinder", "sphere"))
_WIDE = ("laid", ("seen", "cylinder"))
_ROUND: Mapping[str, Round] = {"cylinder": "cylinder", "sphere": "sphere"}

LAID_VALUES: dict[str, Value] = {
    "laid": choice(
        "seen",
        "Laid",
        "How it lies on the surface.",
        {
            "uv": "by the UVs",
            "seen": "along a direction",
            "camera": "as the camera sees it",
            "cylinder": "round a cylinder",
            "sphere": "round a sphere",
        },
        reads=(("camera", "camera"),),
    ),
    "from": direction(
        (0.0, 1.0, 0.0),
        "From",
        "Where it is seen upright from; of a cylinder or sphere, its axis.",
        shown_when=_PLACED,
    ),
    "width": number(
        1.0,
        "Width",
        "How wide it is before it repeats; round a cylinder, how high.",
        "m",
        (0.1, 10.0),
        scale="log",
        hard=(1e-4, 1e6),
        shown_when=_WIDE,
    ),
    "times": number(
        2.0,
        "Repeats",
        "How often it goes across.",
        "×",
        (0.25, 16.0),
        scale="log",
        hard=(1e-3, 1e4),
    ),
    "across": number(
        0.0,
        "Travel across",
        "Shares of its width to the right; 1 closes a loop.",
        "cycle",
        (-2.0, 2.0),
    ),
    "upward": number(
        0.0,
        "Travel upward",
        "Shares of its height upwards; 1 closes a loop.",
        "cycle",
        (-2.0, 2.0),
    ),
    "turn": number(
        0.0, "Turn", "Turns it about its middle.", "°", (-180.0, 180.0), main=False, period=360.0
    ),
    "middle": vector(
        (0.0, 0.0, 0.0), "Middle", "Where its middle is.", main=False, shown_when=_PLACED
    ),
    "sampled": choice(
        "piece",
        "Sampled",
        "Whether it stays on the stage, moves with the piece, or sticks to the surface as it "
        "was at rest.",
        {"rest": "on the rest shape", "piece": "in the piece", "space": "in space"},
        main=False,
        shown_when=_PLACED,
        reads=(("space", "place"),),
    ),
}
# What every layer that lies so declares besides its values.
LAID_LAYER: Mapping[str, Any] = {
    "handle": "arrows",
    "grips": (spot("middle"), both_ways("width", X, "middle")),
    "reach": "pointwise",
    "on_copies": "base",
    "by_uv": lambda discrete: bool(discrete["laid"] == "uv"),
}


def laid_values(*, before: Mapping[str, Value], after: Mapping[str, Value]) -> dict[str, Value]:
    """The values of what lies so, with its own before and after them."""
    return {**before, **LAID_VALUES, **after}


def _own_axes(away: np.ndarray) -> np.ndarray:
    """(3, 3) rows: right, up, and towards who sees it upright from a direction.

    Up is the height, or, from above and below, away from the viewer's side (-z).
    """
    up = np.array([0.0, 1.0, 0.0]) if abs(away[1]) < 0.999 else np.array([0.0, 0.0, -1.0])
    right = np.cross(up, away)
    right /= np.linalg.norm(right)
    return np.stack([right, np.cross(away, right), away])


def found_on(values: Resolved) -> tuple[On, Round]:
    """What its own space is found from, and what it is wrapped round there."""
    laid = values.discrete("laid")
    if laid == "uv":
        return "uv", "flat"
    if laid == "camera":
        return "eye", "flat"
    return ("rest" if values.discrete("sampled") == "rest" else "piece"), _ROUND.get(laid, "flat")


def own_space(values: Resolved, context: Context) -> np.ndarray:
    """(3, 4) from places in the piece, or UVs, to its own space, in which its middle is 0.

    Lengths are in its widths along a direction and along a cylinder's axis.
    """
    found = np.zeros((3, 4))
    on, round_ = found_on(values)
    if on in ("uv", "eye"):
        found[:, :3] = np.eye(3)
        found[:2, 3] = -0.5 if on == "uv" else 0.0
        return found
    axes = _own_axes(unit(values.vector("from")))
    if round_ != "sphere":
        axes = axes / values.scalar("width")
    found[:, :3], found[:, 3] = axes, -axes @ values.vector("middle")
    before = np.eye(4)
    if values.discrete("sampled") == "space":
        before = context.place
    if context.undo_parent is not None:
        before = context.undo_parent @ before
    return found @ before


def _as_seen(mesh: Mesh, context: Context) -> tuple[np.ndarray, np.ndarray]:
    """(P,) right and up in the picture that the study's camera sees, in heights of it."""
    view = context.view
    own = (transformed(mesh.points, context.place) - view.position) @ view.axes
    if view.height is not None:
        return own[:, 0] / view.height, own[:, 1] / view.height
    depth = np.maximum(-own[:, 2], 1e-6) * 2 * np.tan(np.radians(view.angle) / 2)
    return own[:, 0] / depth, own[:, 1] / depth


def laid_places(mesh: Mesh, values: Resolved, context: Context) -> tuple[np.ndarray, np.ndarray]:
    """(P,) u and v of the points from its middle: widths and heights of it, or, round a cylinder or
    sphere, whole turns, and of a sphere half turns from its equator.

    Raises ZygomorphError where it lies by UVs that the mesh has not.
    """
    on, round_ = found_on(values)
    if on == "eye":
        return _as_seen(mesh, context)
    if on == "uv":
        u, v = (uv_of_points(mesh) - 0.5).astype(np.float64).T
        return u, v
    points = (mesh.rest if on == "rest" else mesh.points).astype(np.float64)
    if "width" in values.numbers and values.numbers["width"].size > 1:
        # Each element has its own: the space is found without, and scaled by each.
        numbers = {**values.numbers, "width": np.ones(1)}
        plain = Resolved(numbers, values.discrete_values)
        right, up, along = (_in_space(points, plain, context) / values.numbers["width"][:, None]).T
    else:
        right, up, along = _in_space(points, values, context).T
    if round_ == "flat":
        return right, up
    u = np.arctan2(right, up) / (2 * np.pi)
    if round_ == "cylinder":
        return u, along
    return u, np.arctan2(along, np.hypot(right, up)) / np.pi


def _in_space(points: np.ndarray, values: Resolved, context: Context) -> np.ndarray:
    space = own_space(values, context)
    return points @ space[:, :3].T + space[:, 3]


def repeats(
    values: Resolved, u: np.ndarray, v: np.ndarray, height: float = 1.0
) -> tuple[np.ndarray, np.ndarray]:
    """(P,) s and t of places from its middle: turned, repeated, and as far as it has travelled.
    Each whole number is the beginning of a repeat.

    height : of a repeat, in its widths
    """
    number = values.numbers
    turn = np.radians(number["turn"])
    c, s = np.cos(turn), np.sin(turn)
    u, v = u * c + v * s, v * c - u * s
    times = number["times"]
    return (
        u * times + 0.5 - number["across"],
        v * times / height + 0.5 - number["upward"],
    )


def repeats_matrix(values: Resolved, height: float = 1.0) -> np.ndarray:
    """(2, 3) the same from (u, v, 1)."""
    corners = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
    s, t = repeats(values, corners[:, 0], corners[:, 1], height)
    ends = np.stack([s, t])
    return np.column_stack([ends[:, 1] - ends[:, 0], ends[:, 2] - ends[:, 0], ends[:, 0]])


def suited(mesh: Mesh) -> dict[str, object]:
    """Over all of the mesh, by its UVs where it has them."""
    found = extent_of(mesh)
    if not found:
        return {}
    laid = {"laid": "uv"} if mesh.get("corner", UV) is not None else {}
    return {"width": found.share(1.0), **laid}
