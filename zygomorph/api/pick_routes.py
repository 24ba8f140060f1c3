"""Routes of picking elements and places on the stage."""

from __future__ import annotations

import numpy as np
from flask import Response, jsonify
from flask_openapi3 import APIBlueprint

from zygomorph.api import pick_shapes, shapes
from zygomorph.api.routes import FAILURES, service
from zygomorph.core.inspect.clicking import place_of_click
from zygomorph.core.inspect.picking import Box, Facing, Grow, Others, Selection, Sized, pick
from zygomorph.core.inspect.rays import Ray

pick_routes = APIBlueprint("picking", __name__, url_prefix="/api", abp_responses=FAILURES)


def _selection(body: pick_shapes.PickBody) -> Selection:
    selection = body.selection
    if isinstance(selection, pick_shapes.PickRay):
        return Ray(np.array(selection.origin), np.array(selection.direction))
    if isinstance(selection, pick_shapes.PickBox):
        view = np.array(selection.view).reshape(4, 4)
        low, high = np.array(selection.low), np.array(selection.high)
        return Box(view, low, high, np.array(selection.eye), selection.through)
    if isinstance(selection, pick_shapes.PickGrow):
        return Grow(selection.times)
    if isinstance(selection, pick_shapes.PickSize):
        return Sized(selection.share, selection.largest)
    if isinstance(selection, pick_shapes.PickOthers):
        return Others()
    return Facing(np.array(selection.direction), selection.angle)


@pick_routes.post(
    "/studies/<string:study_id>/pieces/<string:piece_id>/pick",
    responses={200: pick_shapes.Picked},
)
def pick_elements(path: shapes.PiecePath, body: pick_shapes.PickBody) -> Response:
    """The picked elements after a click, a box, a direction, by size, or by what was picked."""
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


@pick_routes.post(
    "/studies/<string:study_id>/pieces/<string:piece_id>/place",
    responses={200: pick_shapes.ClickedPlace},
)
def place_click(path: shapes.PiecePath, body: pick_shapes.PlaceBody) -> Response:
    """The place on a surface that a click means, for a step that takes places."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    found = place_of_click(
        own.evaluator,
        study,
        path.piece_id,
        body.step,
        Ray(np.array(body.ray.origin), np.array(body.ray.direction)),
        body.frame,
        body.quality == "final",
    )
    if found is None:
        return jsonify({"place": None})
    at, normal = ([round(float(v), 6) for v in part] for part in found)
    return jsonify({"place": {"at": at, "normal": normal}})
