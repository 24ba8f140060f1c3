"""The routes of studies with all they use: out as a ZIP, and in."""

from __future__ import annotations

import tempfile
from typing import Any

from flask import Response, jsonify, request, send_file
from flask_openapi3 import APIBlueprint

from zygomorph.api.errors import describe
from zygomorph.api.file_shapes import AssetQuery, BroughtList, BroughtStudy
from zygomorph.api.routes import FAILURES, service
from zygomorph.api.security import BUNDLE_LIMIT
from zygomorph.api.shapes import StudyPath
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.collection import write_collection
from zygomorph.core.formats.names import safe_name
from zygomorph.store.exchange import Brought

ZIP: Any = {
    "content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}},
}

bundle_routes = APIBlueprint("bundles", __name__, url_prefix="/api", abp_responses=FAILURES)


@bundle_routes.get("/studies/<string:study_id>/bundle", responses={200: ZIP})
def get_bundle(path: StudyPath) -> Response:
    """The study with all it uses, as one ZIP."""
    own = service()
    document = own.studies.document(path.study_id)
    response = Response(own.bundle(document), mimetype="application/zip")
    name = f"{safe_name(document['name'])}.zip"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@bundle_routes.get("/bundles", responses={200: ZIP})
def get_bundles() -> Response:
    """All studies of the gallery, each with all it uses, as one ZIP."""
    # Closed, and with that removed, when the answer is sent.
    out = tempfile.TemporaryFile()  # noqa: SIM115
    if write_collection(service().exchange.all(), out) == 0:
        raise ZygomorphError("There is no study to save.", "Begin one.")
    out.seek(0)
    return send_file(out, "application/zip", as_attachment=True, download_name="studies.zip")


@bundle_routes.post("/bundles", responses={201: BroughtList})
def bring_bundles(query: AssetQuery) -> tuple[Response, int]:
    """Bring in a study with all it uses, or a ZIP of such: its bytes are the body."""
    own = service()
    request.max_content_length = BUNDLE_LIMIT
    name = query.name.replace("\\", "/").rsplit("/", 1)[-1]
    brought = own.exchange.bring_in(request.get_data(), name)
    errors = [each.error for each in brought if each.error is not None]
    if len(errors) == len(brought):
        raise errors[0]
    own.events.publish("studies", {})
    return jsonify({"brought": [_told(each).model_dump() for each in brought]}), 201


def _told(brought: Brought) -> BroughtStudy:
    told = BroughtStudy(
        filename=brought.name, missing=len(brought.missing), presets=brought.presets
    )
    if brought.error is not None:
        _, body = describe(brought.error)
        told.error = f"{body.message} {body.hint}".strip()
    elif brought.study is not None:
        told.id, told.name = brought.study.id, brought.study.document["name"]
    return told
