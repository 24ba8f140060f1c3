"""Routes that give edits for what is measured on the stage: attaching things to what carries them,
keeping a view, and letting two pieces swap."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import Frame, Strict, StudyPath
from zygomorph.core.document.edits import Path
from zygomorph.core.inspect.attach import attach, let_go, remove_carrier
from zygomorph.core.inspect.keep_view import keep_view
from zygomorph.core.inspect.swapping import swap
from zygomorph.core.shared.light_setups import set_up

# Finite, and within what 32 bits place well.
Coordinate = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Triple = tuple[Coordinate, Coordinate, Coordinate]

carrier_routes = APIBlueprint("carriers", __name__, url_prefix="/api", abp_responses=FAILURES)


class Carrier(Strict):
    by: Literal["piece", "marker", "camera", "layer"]
    id: Annotated[str, Field(max_length=40)]


class AttachBody(Strict):
    """path : of a piece, marker, light, camera, step or mask layer; carrier : None lets it go
    on_surface : whether it sticks to the nearest point of the piece's surface
    smooth : metres over which the motion of the surface there is smoothed"""

    path: Path
    carrier: Carrier | None = None
    frame: Frame = 0.0
    on_surface: bool = False
    smooth: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0


class Edits(BaseModel):
    """operations : as an edit of the study takes them"""

    operations: list[dict[str, Any]]


@carrier_routes.post("/studies/<string:study_id>/attach", responses={200: Edits})
def attach_to(path: StudyPath, body: AttachBody) -> Response:
    """The edits after which something is carried, or let go, and keeps the place it has."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    if body.carrier is None:
        operations = let_go(study, body.path, body.frame)
    else:
        by, name = body.carrier.by, body.carrier.id
        operations = attach(study, body.path, by, name, body.frame, body.on_surface, body.smooth)
    return jsonify({"operations": operations})


class ViewBody(Strict):
    """position, target : metres on the stage
    how : set the study's camera, key it at the frame, or make a new one"""

    position: Triple
    target: Triple
    frame: Frame = 0.0
    how: Literal["set", "key", "new"] = "set"


@carrier_routes.post("/studies/<string:study_id>/view", responses={200: Edits})
def keep_the_view(path: StudyPath, body: ViewBody) -> Response:
    """The edits after which the study's camera has a view."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    operations = keep_view(study, body.position, body.target, body.frame, body.how)
    return jsonify({"operations": operations})


class SetUpBody(Strict):
    """key : of the set-up; low, high : corners of a box around what is shown, metres"""

    key: Annotated[str, Field(max_length=40)]
    low: Triple
    high: Triple


@carrier_routes.post("/studies/<string:study_id>/light", responses={200: Edits})
def begin_with_light(path: StudyPath, body: SetUpBody) -> Response:
    """The edits after which a study is lit by a ready set-up around what it shows."""
    service().studies.document(path.study_id)
    operations = set_up(body.key, np.array(body.low, float), np.array(body.high, float))
    return jsonify({"operations": operations})


class RemovalBody(Strict):
    """path : of a piece or a marker"""

    path: Path
    frame: Frame = 0.0


@carrier_routes.post("/studies/<string:study_id>/removal", responses={200: Edits})
def removal_of_carrier(path: StudyPath, body: RemovalBody) -> Response:
    """The edits that remove a piece or a marker; what it carried stays where it is."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    return jsonify({"operations": remove_carrier(study, body.path, body.frame)})


class SwapBody(Strict):
    """first, second : ids of the pieces; the second is brought to the first"""

    first: Annotated[str, Field(max_length=40)]
    second: Annotated[str, Field(max_length=40)]
    frame: Frame = 0.0


@carrier_routes.post("/studies/<string:study_id>/swap", responses={200: Edits})
def swap_pieces(path: StudyPath, body: SwapBody) -> Response:
    """The edits after which two pieces swap along one front."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    operations = swap(own.evaluator, study, body.first, body.second, body.frame, own.study)
    return jsonify({"operations": operations})
