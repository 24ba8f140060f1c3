"""What keeps a loop open that no signal answers for, by looking at what each step makes of it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.fit import Remains
from zygomorph.core.animation.loop_closure import ends_of, moving_numbers
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.inspect.seam import CLOSED_POSITION, seam


def what_stays_open(study: Study, evaluator: Evaluator) -> list[Remains]:
    """For each visible piece whose seam is not closed, what opens it and why."""
    found: list[Remains] = []
    if study.loop.one_way:
        return found
    for piece in study.pieces:
        if not piece.get("visible", True):
            continue
        try:
            state = seam(study, piece["id"], evaluator)
            if state.state == "closed":
                continue
            apart = state.position_relative is None or state.position_relative > CLOSED_POSITION
            if apart:
                found.append(_first_that_opens(study, piece["id"], evaluator))
            else:
                found += _jumps_of_speed(study, piece["id"])
        except ZygomorphError:
            # What cannot be computed is told where it stands.
            continue
    return found


def _first_that_opens(study: Study, piece: str, evaluator: Evaluator) -> Remains:
    plan = plan_piece(study, piece)
    for step in plan.steps:
        if not step.on or not step.moves:
            continue
        first, last = (
            evaluator.evaluate(study, Request(piece, frame, until=step.id, shared=True)).mesh
            for frame in (0.0, float(study.loop.frames))
        )
        size = max(float(np.linalg.norm(np.ptp(first.points, axis=0))), 1e-9)
        same = first.topology.digest == last.topology.digest
        if same and np.abs(last.points - first.points).max() <= CLOSED_POSITION * size:
            continue
        address = f"/pieces/{piece}/recipe/{step.id}"
        return Remains(piece, step.id, address, step.definition.title, _reason(study, step))
    reason = "where it stands at the end is not where it stood"
    return Remains(piece, "", f"/pieces/{piece}/place", "Place", reason)


def _reason(study: Study, step: PlannedStep) -> str:
    names = {piece["id"]: piece["name"] for piece in study.pieces}
    if any(layer.memory is not None and layer.memory.way != "fades" for layer in step.layers):
        return "what its mask has reached stays so, and nothing of it was there at the beginning"
    if any(layer.memory is not None for layer in step.layers):
        return "its mask remembers further back than one loop"
    definitions = [step.definition, *(layer.definition for layer in step.layers)]
    if any(definition.formulas is not None for definition in definitions):
        return "its formula goes by t or f, which go on and on; p and its whole turns come back"
    used = [names[each] for each in step.dependencies.pieces if each in names]
    if used:
        return f"it goes by “{used[0]}”, which does not close"
    return "what it makes at the end is not what it made at the beginning"


def _jumps_of_speed(study: Study, piece: str) -> list[Remains]:
    """Signals that come back in value and not in speed."""
    found = [
        Remains(
            moving.piece,
            moving.step,
            moving.address,
            moving.label,
            "it comes back, but leaves at another speed; smooth keys that repeat run on",
        )
        for moving in moving_numbers(study)
        if moving.piece == piece and not ends_of(moving.signal, study.loop, study.signals).flows()
    ]
    if found:
        return found
    reason = "its speed jumps at the seam, though its signals run on"
    return [Remains(piece, "", f"/pieces/{piece}", "Motion", reason)]
