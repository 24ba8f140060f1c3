"""Routes that tell which step takes long, and stop it; and which steps a change would let begin
again."""

from __future__ import annotations

import time as clock
from dataclasses import asdict
from typing import Annotated

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import PiecePath, Quality, Strict, StudyPath
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import check_document

working_routes = APIBlueprint("working", __name__, url_prefix="/api", abp_responses=FAILURES)


class StepAtWork(BaseModel):
    """share : how much of it is done, from 0 to 1, or 0 where that is not known; seconds : since it
    began"""

    piece: str
    step: str
    share: float
    seconds: float


class AtWork(BaseModel):
    steps: list[StepAtWork]


class StoppedFrames(BaseModel):
    frames: int


class RestartsBody(Strict):
    """Changes that are not stored."""

    operations: Annotated[list[Operation], Field(max_length=500)] = []
    quality: Quality = "draft"


class RestartState(BaseModel):
    """A step whose past is walked again from its first frame.

    title : of the step; name : of its piece
    at_most : whether frames may be fewer, which nobody knows yet
    seconds : that it takes about; None where nobody knows
    """

    piece: str
    name: str
    step: str
    title: str
    frames: int
    at_most: bool
    seconds: float | None


class Restarts(BaseModel):
    restarts: list[RestartState]


@working_routes.get("/studies/<string:study_id>/working", responses={200: AtWork})
def working(path: StudyPath) -> Response:
    """The steps that frames of a study are at."""
    now = clock.monotonic()
    steps = [
        {
            "piece": each.piece,
            "step": each.step,
            "share": round(each.share, 3),
            "seconds": round(now - each.since, 2),
        }
        for each in service().working.of_study(path.study_id)
    ]
    return jsonify({"steps": steps})


@working_routes.post(
    "/studies/<string:study_id>/pieces/<string:piece_id>/stop", responses={200: StoppedFrames}
)
def stop(path: PiecePath) -> Response:
    """Stop making frames of a piece as it is; it is made again once it is changed."""
    return jsonify({"frames": service().working.stop(path.study_id, path.piece_id)})


@working_routes.post("/studies/<string:study_id>/restarts", responses={200: Restarts})
def restarts_of(path: StudyPath, body: RestartsBody) -> Response:
    """Systems, and masks that remember, which changes that are not stored would let begin again."""
    own = service()
    stored = own.studies.document(path.study_id)
    document, _ = apply_edit(stored, body.operations)
    before, after = own.study(stored), own.study(check_document(document).document)
    names = {piece["id"]: piece["name"] for piece in after.pieces}
    found = own.evaluator.restarts(before, after, body.quality == "final")
    return jsonify({"restarts": [asdict(each) | {"name": names[each.piece]} for each in found]})
