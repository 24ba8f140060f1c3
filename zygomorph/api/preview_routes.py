"""The routes of previews by path tracing, which become finer while they are looked at."""

from __future__ import annotations

from typing import Annotated, Any

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from zygomorph.api.picture_shapes import EyeBody
from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import Frame, Quality, Strict, StudyPath
from zygomorph.core.document.study import check_document
from zygomorph.jobs.pictures.order import Eye
from zygomorph.jobs.preview.asked import SAMPLES, Asked

# A request is answered after so long, also where there is nothing new.
PATIENCE_S = 8.0
MOST_PIXELS = 4096

PICTURES: Any = {
    "content": {
        kind: {"schema": {"type": "string", "format": "binary"}}
        for kind in ("image/jpeg", "image/webp")
    }
}


class PreviewBody(Strict):
    """eye : where it is looked from; the study's camera where it is left out"""

    window: Annotated[str, Field(min_length=1, max_length=80)]
    frame: Frame = 0.0
    width: Annotated[int, Field(ge=16, le=MOST_PIXELS)]
    height: Annotated[int, Field(ge=16, le=MOST_PIXELS)]
    eye: EyeBody | None = None
    quality: Quality = "draft"


class PreviewTold(BaseModel):
    """samples : paths of light of each pixel, after which it is as fine as it becomes"""

    id: str
    samples: int


class PreviewPath(BaseModel):
    preview_id: Annotated[str, Field(max_length=80)]


class PreviewQuery(BaseModel):
    """after : number of the picture that is known already"""

    after: Annotated[int, Field(ge=0, le=1_000_000)] = 0


preview_routes = APIBlueprint("previews", __name__, url_prefix="/api", abp_responses=FAILURES)


@preview_routes.post("/studies/<string:study_id>/previews", responses={201: PreviewTold})
def begin_preview(path: StudyPath, body: PreviewBody) -> tuple[Response, int]:
    """Begin a preview, instead of the one that the window had."""
    own = service()
    document = check_document(own.studies.document(path.study_id)).document
    at = body.eye
    eye = None if at is None else Eye(at.position, at.target, at.angle)
    size = body.width, body.height
    asked = Asked(dict(document), body.frame, size, eye, body.quality == "final")
    return jsonify({"id": own.previews.begin(body.window, asked), "samples": SAMPLES}), 201


@preview_routes.get("/previews/<string:preview_id>", responses={200: PICTURES, 204: None})
def get_preview(path: PreviewPath, query: PreviewQuery) -> Response:
    """The newest picture, as soon as there is a newer one; nothing after a while without."""
    found = service().previews.picture(path.preview_id, query.after, PATIENCE_S)
    if found is None:
        return Response(status=204)
    number, drawn = found
    response = Response(drawn.data, mimetype=drawn.kind)
    response.headers["X-Number"] = str(number)
    response.headers["X-Samples"] = str(drawn.samples)
    response.headers["Cache-Control"] = "no-store"
    return response


@preview_routes.delete("/previews/<string:preview_id>", responses={204: None})
def end_preview(path: PreviewPath) -> tuple[str, int]:
    """Stop drawing it."""
    service().previews.end(path.preview_id)
    return "", 204
