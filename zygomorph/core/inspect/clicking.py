"""The place on a surface that a click means, as the step that asks for it uses it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.solids.pieces import shares_in
from zygomorph.core.geometry.surface_search import FAR, search_of
from zygomorph.core.inspect.picking import Ray


class _Hit:
    """A triangle of a mesh that a ray meets, and the shares of its corners at that place."""

    def __init__(self, mesh: Mesh, corners: np.ndarray, place: np.ndarray) -> None:
        self._corners = corners
        own = mesh.points[corners].astype(np.float64)
        self._shares = shares_in(place[None], own[None])[0]

    def on(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The place and the normal there, where the points of the mesh are these."""
        a, b, c = points[self._corners].astype(np.float64)
        normal = np.cross(b - a, c - a)
        return self._shares @ np.stack([a, b, c]), normal / max(np.linalg.norm(normal), 1e-30)


def _hit(mesh: Mesh, place: np.ndarray, ray: Ray) -> tuple[float, _Hit] | None:
    """How far away, in lengths of the ray's direction, the ray meets a mesh that stands at a place,
    (4, 4), and where; None where it misses."""
    triangles = mesh.topology.triangles(mesh.points)
    if len(triangles) == 0 or not np.any(ray.direction):
        return None
    back = np.linalg.pinv(place)
    origin = (back @ np.append(ray.origin, 1.0))[:3]
    way = back[:3, :3] @ ray.direction
    length = max(float(np.linalg.norm(way)), 1e-30)
    distance, found = search_of(mesh.points, triangles).cast(origin[None], way[None] / length, FAR)
    if found[0] < 0:
        return None
    where = origin + distance[0] * way / length
    return float(distance[0]) / length, _Hit(mesh, triangles[found[0]], where)


def _before(
    evaluator: Evaluator, study: Study, piece_id: str, step_id: str, frame: float, final: bool
) -> Result:
    steps = plan_piece(study, piece_id, final).steps
    index = next((k for k, step in enumerate(steps) if step.id == step_id), 0)
    if index == 0:
        raise ZygomorphError(f"The piece has no step {step_id!r} after its form.")
    request = Request(piece_id, frame, final, until=steps[index - 1].id, keep_tail=True)
    return evaluator.evaluate(study, request)


def place_of_click(
    evaluator: Evaluator,
    study: Study,
    piece_id: str,
    step_id: str,
    ray: Ray,
    frame: float = 0.0,
    final: bool = False,
) -> tuple[np.ndarray, np.ndarray] | None:
    """Where a click meets a surface, (3,) metres in the space of the piece, and the normal there,
    (3,); None where it meets nothing.

    What makes copies is given places on the other pieces that are seen; any other step those on the
    piece as the step finds it, in its rest shape where the step goes by that.

    Raises what evaluating raises, and ZygomorphError where there is no such step.
    """
    before = _before(evaluator, study, piece_id, step_id, frame, final)
    step = next(s for s in plan_piece(study, piece_id, final).steps if s.id == step_id)
    if not step.definition.makes_copies:
        mesh = before.mesh
        hit = _hit(mesh, before.place, ray)
        return None if hit is None else hit[1].on(mesh.rest)
    nearest: tuple[float, np.ndarray, np.ndarray] | None = None
    for piece in study.pieces:
        if piece["id"] == piece_id or not piece.get("visible", True):
            continue
        other = evaluator.evaluate(study, Request(piece["id"], frame, final, keep_tail=True))
        hit = _hit(other.mesh, other.place, ray)
        if hit is None or (nearest is not None and hit[0] >= nearest[0]):
            continue
        at, normal = hit[1].on(other.mesh.points)
        here = np.linalg.pinv(before.place) @ other.place
        turned = normal @ np.linalg.pinv(here[:3, :3])
        turned = turned / max(np.linalg.norm(turned), 1e-30)
        nearest = (hit[0], (here @ np.append(at, 1.0))[:3], turned)
    return None if nearest is None else nearest[1:]
