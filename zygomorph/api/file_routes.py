"""The routes of files that are brought in: meshes, their reports, and pictures."""

from __future__ import annotations

from flask import Response, jsonify, request
from flask_openapi3 import APIBlueprint

from zygomorph.api.file_shapes import (
    AssetQuery,
    AssetReport,
    ImportReport,
    PicturePath,
    PictureReport,
)
from zygomorph.api.quick import IMMUTABLE
from zygomorph.api.routes import FAILURES, PICTURE, service
from zygomorph.api.shapes import PiecePath
from zygomorph.core.formats.read_picture import small_webp
from zygomorph.core.repair.report import import_report
from zygomorph.core.study import Study

file_routes = APIBlueprint("files", __name__, url_prefix="/api", abp_responses=FAILURES)


@file_routes.get(
    "/studies/<string:study_id>/pieces/<string:piece_id>/import",
    responses={200: ImportReport},
)
def get_import(path: PiecePath) -> Response:
    """What a file held, what its form makes of it now, and what would put it right."""
    own = service()
    study = Study(own.studies.document(path.study_id))
    form = study.piece(path.piece_id)["recipe"][0]
    found = import_report(own.evaluator, own.assets.mesh, study, path.piece_id)
    return jsonify(found | own.assets.told(form["values"]["mesh"]))


@file_routes.post("/assets", responses={201: AssetReport})
def add_asset(query: AssetQuery) -> tuple[Response, int]:
    """Bring in a mesh file: its bytes are the body, its name says the format."""
    filename = query.name.replace("\\", "/").rsplit("/", 1)[-1]
    digest, report = service().assets.add_mesh(request.get_data(), filename)
    form, values = service().assets.form(digest)
    told = {"digest": digest, "filename": filename, "form": form, "values": values}
    return jsonify(told | report), 201


@file_routes.post("/pictures", responses={201: PictureReport})
def add_picture(query: AssetQuery) -> tuple[Response, int]:
    """Bring in a picture for heights: its bytes are the body."""
    filename = query.name.replace("\\", "/").rsplit("/", 1)[-1]
    digest, report = service().assets.add_picture(request.get_data(), filename)
    return jsonify({"digest": digest, "filename": filename} | report), 201


@file_routes.get("/pictures/<string:digest>", responses={200: PictureReport})
def get_picture(path: PicturePath) -> Response:
    """Name and size of a stored picture. Raises an error where it is not stored."""
    own = service()
    rows, columns = own.assets.picture(path.digest).pixels.shape
    name = own.assets.told(path.digest)["filename"]
    return jsonify({"digest": path.digest, "filename": name, "width": columns, "height": rows})


@file_routes.get("/pictures/<string:digest>/small.webp", responses={200: PICTURE})
def get_small_picture(path: PicturePath) -> Response:
    """A stored picture's heights as shades, at most 256 pixels wide and high."""
    data = small_webp(service().assets.picture(path.digest))
    response = Response(data, mimetype="image/webp")
    response.headers["Cache-Control"] = IMMUTABLE
    return response
