"""What finders know of the study's camera over the loop, and of what it sees."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.results import Result
from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.surface_search import search_of
from zygomorph.core.geometry.view import View
from zygomorph.core.inspect.findings.finding import Look

# Points of the copies of a holdout that are written out.
MOST_WRITTEN = 200_000
# Moments of a loop that are looked at where something moves.
MOMENTS = 5


@dataclass(frozen=True)
class Seen:
    """A piece at a moment, and the view that the camera has then."""

    piece: str
    frame: float
    view: View
    result: Result


def moments(look: Look) -> list[float]:
    """Frames spread over the loop."""
    return [float(round(k * look.study.loop.frames / MOMENTS)) for k in range(MOMENTS)]


def seen(look: Look) -> Iterator[Seen]:
    """Every piece that is shown, at some moments where it or the camera moves, or else at one; what
    cannot be made is left out."""
    camera = plan_camera(look.study)
    frames = moments(look)
    views = {frame: camera.at(np.array([frame])) for frame in frames}
    for piece in look.study.pieces:
        if not piece.get("visible", True):
            continue
        plan = look.plan(piece["id"])
        moves = plan.moves or plan.world.moves
        for frame in frames if moves or camera.moves else frames[:1]:
            try:
                result = look.at(piece["id"], frame if moves else 0.0)
            except ZygomorphError:
                break
            yield Seen(piece["id"], frame, views[frame], result)


def within(view: View, points: np.ndarray) -> np.ndarray:
    """(n,) bool: which of some points on the stage, (n, 3), are within the picture."""
    right, up, back = ((points - view.position) @ view.axes).T
    ahead = -back
    if view.height is not None:
        high = np.full(len(points), view.height / 2)
    else:
        high = np.maximum(ahead, 1e-9) * np.tan(np.radians(view.angle) / 2)
    inside: np.ndarray = (ahead > 0) & (np.abs(up) < high) & (np.abs(right) < high * view.aspect)
    return inside


def visible(look: Look, each: Seen, points: np.ndarray) -> np.ndarray:
    """(n,) bool: which of some points on the stage are within the picture and not hidden by a
    holdout."""
    found = within(each.view, points)
    for piece in look.study.pieces:
        if not piece.get("holdout") or not piece.get("visible", True) or piece["id"] == each.piece:
            continue
        try:
            result = look.at(piece["id"], each.frame)
        except ZygomorphError:
            continue
        mesh = result.geometry.some(MOST_WRITTEN).real
        triangles = mesh.topology.triangles(mesh.points)
        if len(triangles) == 0 or not found.any():
            continue
        ways = points[found] - each.view.position
        far = np.linalg.norm(ways, axis=1)
        search = search_of(transformed(mesh.points, result.place), triangles)
        begins = np.broadcast_to(each.view.position, ways.shape)
        distance, face = search.cast(begins, ways / np.maximum(far, 1e-9)[:, None])
        found[found] = (face < 0) | (distance > far)
    return found
