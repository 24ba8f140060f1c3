"""Routes that tell which step takes long, and stop it."""

from __future__ import annotations

import time as clock

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import PiecePath, StudyPath

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
