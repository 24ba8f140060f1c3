"""The place on a surface that a click means, as the step that asks for it uses it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.inspect.rays import Ray, hit_of
from zygomorph.core.values.definitions import TopologyDefinition


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
        hit = hit_of(mesh, before.place, ray)
        if hit is None:
            return None
        values = step.values.at(np.array([frame]))
        at_rest = (
            isinstance(step.definition, TopologyDefinition)
            and step.definition.stands(values) == "at rest"
        )
        return hit.on(mesh.rest if at_rest else mesh.points)
    away, found = np.inf, None
    for piece in study.pieces:
        if piece["id"] == piece_id or not piece.get("visible", True):
            continue
        other = evaluator.evaluate(study, Request(piece["id"], frame, final, keep_tail=True))
        hit = hit_of(other.mesh, other.place, ray)
        if hit is None:
            continue
        at, normal = hit.on(other.mesh.points)
        on_stage = (other.place @ np.append(at, 1.0))[:3]
        distance = float(np.linalg.norm(on_stage - ray.origin))
        if distance < away:
            # A normal goes by the inverse transpose.
            turned = normal @ np.linalg.pinv(other.place[:3, :3]) @ before.place[:3, :3]
            turned /= max(float(np.linalg.norm(turned)), 1e-30)
            here = (np.linalg.pinv(before.place) @ np.append(on_stage, 1.0))[:3]
            away, found = distance, (here, turned)
    return found
