"""The Flask application: the API, and the built pages."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from flask import Response, jsonify, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic.json_schema import models_json_schema

from zygomorph.api.bundle_routes import bundle_routes
from zygomorph.api.carrier_routes import carrier_routes
from zygomorph.api.errors import NoSuchRoute, from_validation, handle_errors
from zygomorph.api.fast_frames import FastFrames
from zygomorph.api.file_routes import file_routes
from zygomorph.api.finding_routes import finding_routes
from zygomorph.api.frame_shapes import HEADERS
from zygomorph.api.gradient_routes import gradients
from zygomorph.api.job_routes import job_routes
from zygomorph.api.json_bodies import BoundedJSON
from zygomorph.api.pick_routes import pick_routes
from zygomorph.api.picture_routes import picture_routes
from zygomorph.api.preset_routes import presets
from zygomorph.api.preview_routes import preview_routes
from zygomorph.api.routes import api
from zygomorph.api.security import ASSET_LIMIT, LOCAL_HOSTS, guard, page_nonce
from zygomorph.api.service import Service
from zygomorph.api.shapes import Failure
from zygomorph.api.signal_routes import signal_routes
from zygomorph.api.table_routes import table_routes
from zygomorph.api.tables import Tables
from zygomorph.api.trial_routes import trial_routes
from zygomorph.api.variant_routes import variant_routes
from zygomorph.api.working_routes import working_routes
from zygomorph.core.errors import ZygomorphError

PAGES = Path(__file__).parents[1] / "web"


def make_app(service: Service, hosts: frozenset[str] = LOCAL_HOSTS, pages: Path = PAGES) -> OpenAPI:
    app = OpenAPI(
        "zygomorph",
        info=Info(title="Zygomorph", version="1"),
        doc_ui=False,
        static_folder=None,
        validation_error_status=422,
        validation_error_model=Failure,
        validation_error_callback=from_validation,
    )
    app.config["MAX_CONTENT_LENGTH"] = ASSET_LIMIT
    app.extensions["zygomorph"] = service
    app.extensions["zygomorph-tables"] = Tables(service.evaluator)
    app.json = BoundedJSON(app)
    app.json.sort_keys = False
    guard(app, hosts)
    app.wsgi_app = FastFrames(app.wsgi_app, service, hosts)  # type: ignore[assignment]
    handle_errors(app)
    app.register_api(api)
    routes = (
        table_routes,
        file_routes,
        pick_routes,
        signal_routes,
        carrier_routes,
        finding_routes,
        working_routes,
        bundle_routes,
        preview_routes,
    )
    more_routes = (variant_routes, trial_routes, presets, gradients, picture_routes, job_routes)
    for more in (*routes, *more_routes):
        app.register_api(more)

    @app.route("/api/openapi.json")
    def openapi() -> Response:
        return jsonify(openapi_document(app))

    @app.route("/assets/<path:name>")
    def asset(name: str) -> Response:
        response = send_from_directory(pages / "assets", name)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @app.route("/", defaults={"path": ""})
    @app.route("/<path:path>")
    def page(path: str) -> Response:
        if path.startswith("api/"):
            raise NoSuchRoute(f"There is no /{path}.", "The routes are in /api/openapi.json.")
        index = pages / "index.html"
        if path and "." in path.rsplit("/", 1)[-1]:
            return send_from_directory(pages, path)
        if not index.is_file():
            raise ZygomorphError("The pages are not built.", "Run `make web`.")
        text = index.read_text(encoding="utf-8").replace("__NONCE__", page_nonce())
        return Response(text, mimetype="text/html")

    return app


def openapi_document(app: OpenAPI) -> dict[str, Any]:
    """The OpenAPI document, without the empty entries that its standard does not allow, and with
    the headers of binary answers."""
    document = dict(app.api_doc)
    parts = {n: part for n, part in document.get("components", {}).items() if part is not None}
    at = "#/components/schemas/{model}"
    _, headers = models_json_schema([(m, "serialization") for m in HEADERS], ref_template=at)
    parts["schemas"] = {**parts["schemas"], **headers["$defs"]}
    document["components"] = parts
    return document
