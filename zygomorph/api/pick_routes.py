"""Routes of picking elements on the stage."""

from __future__ import annotations

import numpy as np
from flask import Response, jsonify
from flask_openapi3 import APIBlueprint

from zygomorph.api import pick_shapes, shapes
from zygomorph.api.routes import FAILURES, service
from zygomorph.core.inspect.picking import Box, Facing, Ray, Selection, pick

pick_routes = APIBlueprint("picking", __name__, url_prefix="/api", abp_responses=FAILURES)


def _selection(body: pick_shapes.PickBody) -> Selection:
    selection = body.selection
    if isinstance(selection, pick_shapes.PickRay):
        return Ray(np.array(selection.origin), np.array(selection.direction))
    if isinstance(selection, pick_shapes.PickBox):
        view = np.array(selection.view).reshape(4, 4)
        low, high = np.array(selection.low), np.array(selection.high)
        return Box(view, low, high, np.array(selection.eye), selection.through)
    return Facing(np.array(selection.direction), selection.angle)


@pick_routes.post(
    "/studies/<string:study_id>/pieces/<string:piece_id>/pick",
    responses={200: pick_shapes.Picked},
)
def pick_elements(path: shapes.PiecePath, body: pick_shapes.PickBody) -> Response:
    """The picked elements after a click, a box, or a direction."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    runs, count = pick(
        own.evaluator,
        study,
        path.piece_id,
        body.step,
        body.of,
        _selection(body),
        how=body.how,
        picked=[list(run) for run in body.picked],
        frame=body.frame,
        final=body.quality == "final",
    )
    return jsonify({"picked": runs, "count": count})
