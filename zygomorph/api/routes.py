"""The routes of the API."""

from __future__ import annotations

import json
import time as clock
from typing import Any

from flask import Response, current_app, jsonify, request
from flask_openapi3 import APIBlueprint

from zygomorph.api import shapes
from zygomorph.api.catalogue_shapes import Catalogue
from zygomorph.api.fast_frames import IMMUTABLE, as_file, has_left, timing
from zygomorph.api.frames import MEDIA_TYPE, FrameOptions
from zygomorph.api.scene_shapes import SceneMoment
from zygomorph.api.service import Service
from zygomorph.api.state import scene_moment
from zygomorph.api.thumbnails import Wanted, of_entry, of_study
from zygomorph.core.document.beginnings import beginnings
from zygomorph.core.document.edits import apply_edit
from zygomorph.core.document.schema import FORMAT, VERSION, study_model
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.names import safe_name
from zygomorph.core.inspect.autofocus import focus_at
from zygomorph.core.inspect.formula_plot import plot_formula
from zygomorph.core.registry import describe_catalogue
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.formula.errors import FormulaError
from zygomorph.core.values.value import beginning
from zygomorph.render.thumbnail import still_of
from zygomorph.store.studies import Stored

# By reference: describing the same shape anew for each route takes half a second of the start. The
# application's own answer to invalid bodies puts the shape itself among the components.
_FAILURE = {"application/json": {"schema": {"$ref": "#/components/schemas/Failure"}}}
FAILURES: Any = {code: {"content": _FAILURE} for code in ("400", "403", "404", "409", "422")}
BINARY: Any = {"content": {MEDIA_TYPE: {"schema": {"type": "string", "format": "binary"}}}}
HEAT: Any = {
    "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}
}
WEBP: Any = {"content": {"image/webp": {"schema": {"type": "string", "format": "binary"}}}}

api = APIBlueprint("api", __name__, url_prefix="/api", abp_responses=FAILURES)


def service() -> Service:
    return current_app.extensions["zygomorph"]


def _state(stored: Stored, status: int = 200) -> tuple[Response, int]:
    return jsonify(service().state(stored)), status


def _changed(stored: Stored, window: str) -> tuple[Response, int]:
    service().events.publish(
        "study", {"id": stored.id, "revision": stored.revision, "window": window}
    )
    return _state(stored)


@api.get("/catalogue", responses={200: Catalogue})
def get_catalogue() -> Response:
    """Every form, step, layer and signal, with units, bounds and help."""
    return jsonify(describe_catalogue())


@api.get("/schema")
def get_schema() -> Response:
    """JSON Schema of the study document."""
    return jsonify(study_model().model_json_schema())


@api.get("/studies", responses={200: shapes.StudyList})
def list_studies(query: shapes.StudiesQuery) -> Response:
    """All studies in the gallery."""
    found = []
    for stored in service().studies.all():
        study = service().study(stored.document)
        wanted = of_study(stored, service().assets.sound)
        picture = service().thumbnails.state(wanted) if query.thumbnails else None
        address = f"/api/studies/{stored.id}/thumbnail.webp"
        former = service().thumbnails.former(wanted) if picture == "drawing" else None
        found.append(
            {
                "id": stored.id,
                "name": study.name,
                "note": stored.document.get("note", ""),
                "revision": stored.revision,
                "changed": stored.changed,
                "frames": study.loop.frames,
                "rate": study.loop.rate,
                "pieces": len(study.pieces),
                "thumbnail_state": picture,
                "thumbnail": f"{address}?edition={stored.revision}",
                "former": f"{address}?former=true&edition={former.stem}" if former else None,
            }
        )
    return jsonify({"studies": found})


def _first_looks() -> list[dict[str, Any]]:
    """By the height in the piece, from its lowest to its highest point, however large it is."""
    looks = beginnings("look")
    for by in looks[0]["by"]:
        by["values"]["gradient"] = "dusk"
        for layer in by["where"]["layers"]:
            layer["values"] = {"axis": [0.0, 1.0, 0.0]}
    return looks


def _new_document(body: shapes.NewStudy) -> dict[str, Any]:
    own: str = "icosphere"
    values: dict[str, Any] = {}
    if body.asset:
        own, values = service().assets.form(body.asset)
    form = body.form or own
    if form not in definitions("form"):
        raise ZygomorphError(
            f"There is no form {form!r}.", f"Forms: {', '.join(definitions('form'))}."
        )
    if form != own:
        values = {}
    if definitions("form")[form].needs_file and not values:
        raise ZygomorphError(f"The form {form!r} needs a file.", "Send the file first.")
    title = definitions("form")[form].title
    begun = beginning(definitions("form")[form].values)
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": body.name or "New study",
        "loop": {"frames": 240, "rate": 24},
        "pieces": [
            {
                "id": "piece",
                "name": title,
                "recipe": [{"id": "form", "step": form, "values": {**begun, **values}}],
                "looks": _first_looks(),
            }
        ],
    }


@api.post("/studies", responses={201: shapes.StudyState})
def create_study(body: shapes.NewStudy) -> tuple[Response, int]:
    """A new study from a document, a form, or a mesh that was brought in."""
    given = _new_document(body) if body.document is None else body.document
    stored = service().studies.create(given)
    service().events.publish("studies", {})
    return _state(stored, 201)


@api.get("/studies/<string:study_id>", responses={200: shapes.StudyState})
def get_study(path: shapes.StudyPath, query: shapes.WindowQuery) -> tuple[Response, int]:
    return _state(service().studies.get(path.study_id, query.window))


@api.delete("/studies/<string:study_id>", responses={204: None})
def remove_study(path: shapes.StudyPath) -> tuple[str, int]:
    """Take a study out of the gallery; it is kept and can be brought back."""
    service().studies.set_removed(path.study_id, True)
    service().events.publish("studies", {})
    return "", 204


@api.post("/studies/<string:study_id>/restore", responses={204: None})
def restore_study(path: shapes.StudyPath) -> tuple[str, int]:
    service().studies.set_removed(path.study_id, False)
    service().events.publish("studies", {})
    return "", 204


@api.post("/studies/<string:study_id>/edits", responses={200: shapes.StudyState})
def edit_study(path: shapes.StudyPath, body: shapes.EditBody) -> tuple[Response, int]:
    """Apply and store an edit; edits of other windows are merged unless they touch the same."""
    stored = service().studies.edit(
        path.study_id, body.operations, body.revision, body.window, body.label
    )
    return _changed(stored, body.window)


@api.post("/studies/<string:study_id>/undo", responses={200: shapes.StudyState})
def undo(path: shapes.StudyPath, body: shapes.WindowBody) -> tuple[Response, int]:
    return _changed(service().studies.undo(path.study_id, body.window, body.clashing), body.window)


@api.post("/studies/<string:study_id>/redo", responses={200: shapes.StudyState})
def redo(path: shapes.StudyPath, body: shapes.WindowBody) -> tuple[Response, int]:
    return _changed(service().studies.redo(path.study_id, body.window, body.clashing), body.window)


@api.get("/studies/<string:study_id>/history", responses={200: shapes.History})
def history(path: shapes.StudyPath) -> Response:
    return jsonify({"edits": service().studies.history(path.study_id)})


@api.get("/studies/<string:study_id>/document")
def export_document(path: shapes.StudyPath) -> Response:
    """The study as a JSON file."""
    document = service().studies.document(path.study_id)
    response = Response(
        json.dumps(document, indent=1, ensure_ascii=False) + "\n",
        mimetype="application/json",
    )
    name = safe_name(document["name"])
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.json"'
    return response


@api.get("/studies/<string:study_id>/focus", responses={200: shapes.FocusTold})
def focus_of_camera(path: shapes.StudyPath, query: shapes.FocusQuery) -> Response:
    """How far away the study's camera is sharp at a frame; a piece's surface is looked for."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    distance, found = focus_at(own.evaluator, study, query.frame, query.quality == "final")
    return jsonify({"distance": distance, "found": found})


@api.get("/studies/<string:study_id>/seam", responses={200: shapes.SeamList})
def get_seam(path: shapes.StudyPath) -> Response:
    """How well the loop closes, piece by piece."""
    study = service().study(service().studies.document(path.study_id))
    return jsonify({"seams": [seam.describe() for seam in service().seams(study)]})


def thumbnail_response(wanted: Wanted, query: shapes.ThumbnailQuery) -> Response:
    thumbnails = service().thumbnails
    made = thumbnails.read_former(wanted) if query.former else thumbnails.get(wanted)
    response = Response(still_of(made) if query.still else made, mimetype="image/webp")
    response.headers["Cache-Control"] = IMMUTABLE if query.edition == wanted.edition else "no-cache"
    return response


@api.get("/studies/<string:study_id>/thumbnail.webp", responses={200: WEBP})
def thumbnail(path: shapes.StudyPath, query: shapes.ThumbnailQuery) -> Response:
    """Moving picture of the study as animated WebP, or a still one."""
    return thumbnail_response(
        of_study(service().studies.get(path.study_id), service().assets.sound), query
    )


@api.get("/specimens", responses={200: shapes.SpecimenList})
def list_specimens() -> Response:
    """Moving pictures of what forms and steps do; those that are missing are drawn now, aside."""
    found = []
    for sort, kind in (("step", definitions("step")), ("form", definitions("form"))):
        for key, definition in kind.items():
            if definition.needs_file:
                continue
            wanted = of_entry(sort, key)
            found.append(
                {
                    "sort": sort,
                    "key": key,
                    "thumbnail_state": service().thumbnails.state(wanted),
                    "address": f"/api/specimens/{sort}/{key}.webp?edition={wanted.edition}",
                }
            )
    return jsonify({"specimens": found})


@api.get("/specimens/<string:sort>/<string:key>.webp", responses={200: WEBP})
def specimen_thumbnail(path: shapes.SpecimenPath, query: shapes.ThumbnailQuery) -> Response:
    """Moving picture of what a form or a step does, as animated WebP, or a still one."""
    return thumbnail_response(of_entry(path.sort, path.key), query)


def _frame_response(data: memoryview, cache: str, started: float) -> Response:
    body = as_file(request.environ, data)
    response = Response(body, mimetype=MEDIA_TYPE, direct_passthrough=True)
    response.content_length = len(data)
    response.headers["Cache-Control"] = cache
    response.headers["Server-Timing"] = timing(started)
    return response


@api.get("/studies/<string:study_id>/pieces/<string:piece_id>/frame", responses={200: BINARY})
def get_frame(path: shapes.PiecePath, query: shapes.FrameQuery) -> Response:
    """One frame of a piece. The address holds the content key, so the answer never changes."""
    started = clock.perf_counter()
    final = query.quality == "final"
    study = service().study_of(query.key, path.study_id, path.piece_id, final)
    options = FrameOptions.of(query)
    gone = has_left(request.environ)
    data = service().frame(
        study, path.piece_id, options, query.mask_of, query.many, gone, path.study_id
    )
    return _frame_response(data, IMMUTABLE, started)


@api.get("/topologies/<string:digest>", responses={200: BINARY})
def get_topology(path: shapes.TopologyPath) -> Response:
    """Triangles, edges and curves that frames name by this digest, of which they are the same."""
    started = clock.perf_counter()
    return _frame_response(service().topology(path.digest), IMMUTABLE, started)


@api.post("/studies/<string:study_id>/pieces/<string:piece_id>/preview", responses={200: BINARY})
def preview(path: shapes.PiecePath, body: shapes.PreviewBody) -> Response:
    """One frame with changes that are not stored. Answers 204 where a newer request came in."""
    started = clock.perf_counter()
    stored = service().studies.document(path.study_id)
    document, _ = apply_edit(stored, body.operations)
    study = service().study(check_document(document).document if body.operations else document)
    final = body.quality == "final"
    options = FrameOptions(body.frame, final, body.exact, body.stride, shards=body.shards)
    asker = (body.window, path.study_id, path.piece_id)
    data = service().preview(
        study,
        path.piece_id,
        options,
        body.mask_of,
        asker,
        body.sequence,
        body.many,
        has_left(request.environ),
    )
    return _frame_response(data, "no-store", started)


@api.post("/studies/<string:study_id>/scene", responses={200: SceneMoment})
def preview_scene(path: shapes.StudyPath, body: shapes.ScenePreviewBody) -> Response:
    """Light, view, backdrop, ground and finish at a frame with changes that are not stored."""
    document, _ = apply_edit(service().studies.document(path.study_id), body.operations)
    study = service().study(check_document(document).document)
    return jsonify(scene_moment(study, body.frame))


@api.post(
    "/studies/<string:study_id>/pieces/<string:piece_id>/formula",
    responses={200: shapes.FormulaState},
)
def check_formula(path: shapes.PiecePath, body: shapes.FormulaBody) -> Response:
    """What a formula would give along the points of its step, or where it is wrong."""
    study = service().study(service().studies.document(path.study_id))
    try:
        plot = plot_formula(
            service().evaluator,
            study,
            path.piece_id,
            body.step,
            body.text,
            body.frame,
            body.quality == "final",
            body.layer,
        )
    except FormulaError as error:
        place = {"column": error.column, "length": error.length}
        return jsonify({"problem": {"message": error.message, "hint": error.hint, **place}})
    return jsonify({"plot": plot.describe()})


@api.get("/events")
def events() -> Response:
    """Server-sent events: ``study`` and ``studies`` changes, ``job`` progress."""
    response = Response(service().events.stream(), mimetype="text/event-stream")
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Accel-Buffering"] = "no"
    return response


@api.get("/health", responses={200: shapes.Health})
def health() -> Response:
    """Whether it answers; and how many of its kernels are compiled, which happens once."""
    ahead = service().compiling
    done, total = (ahead.done, ahead.total) if ahead else (0, 0)
    return jsonify({"ready": True, "compiling": {"done": done, "total": total}})
