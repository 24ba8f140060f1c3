"""The routes of presets: kept groups of steps, and their use in any study."""

from __future__ import annotations

import json
from typing import Any

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint

from zygomorph.api.preset_shapes import (
    PresetBody,
    PresetList,
    PresetPath,
    PresetPiecePath,
    PresetSummary,
    PresetUse,
    UseBody,
)
from zygomorph.api.routes import FAILURES, WEBP, service, thumbnail_response
from zygomorph.api.shapes import ThumbnailQuery
from zygomorph.api.thumbnails import of_preset
from zygomorph.core.document.groups import preset_of, uses
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.names import safe_name
from zygomorph.core.values.entries import definitions
from zygomorph.store.presets import StoredPreset

presets = APIBlueprint("presets", __name__, url_prefix="/api/presets", abp_responses=FAILURES)


def _summary(stored: StoredPreset) -> dict[str, Any]:
    wanted = of_preset(stored, service().evaluator)
    known = definitions("step")
    return {
        "id": stored.id,
        "name": stored.document["name"],
        "note": stored.document.get("note", ""),
        "steps": [known[step["step"]].title for step in stored.document["steps"]],
        "front": len(stored.document.get("front", [])),
        "changed": stored.changed,
        "thumbnail_state": service().thumbnails.state(wanted),
        "address": f"/api/presets/{stored.id}/thumbnail.webp?edition={wanted.edition}",
    }


def _document(body: PresetBody) -> dict[str, Any]:
    if body.document is not None:
        return body.document
    if body.study is None or body.piece is None or body.group is None:
        raise ZygomorphError(
            "A preset needs a document, or a group.", "Give document, or study, piece and group."
        )
    study = service().study(service().studies.document(body.study))
    return preset_of(study, body.piece, body.group, body.name)


@presets.get("", responses={200: PresetList})
def list_presets() -> Response:
    return jsonify({"presets": [_summary(stored) for stored in service().presets.all()]})


@presets.post("", responses={201: PresetSummary})
def keep_preset(body: PresetBody) -> tuple[Response, int]:
    """Keep a group of steps as a preset, or a preset that was taken away as a file."""
    stored = service().presets.keep(_document(body))
    service().events.publish("presets", {})
    return jsonify(_summary(stored)), 201


@presets.put("/<string:preset_id>", responses={200: PresetSummary})
def replace_preset(path: PresetPath, body: PresetBody) -> Response:
    """What the preset is from now on; uses that were made before stay as they are."""
    stored = service().presets.keep(_document(body), path.preset_id)
    service().events.publish("presets", {})
    return jsonify(_summary(stored))


@presets.delete("/<string:preset_id>", responses={204: None})
def remove_preset(path: PresetPath) -> tuple[str, int]:
    """Take a preset off the list; it is kept and can be brought back."""
    service().presets.set_removed(path.preset_id, True)
    service().events.publish("presets", {})
    return "", 204


@presets.post("/<string:preset_id>/restore", responses={204: None})
def restore_preset(path: PresetPath) -> tuple[str, int]:
    service().presets.set_removed(path.preset_id, False)
    service().events.publish("presets", {})
    return "", 204


@presets.get("/<string:preset_id>/document")
def export_preset(path: PresetPath) -> Response:
    """The preset as a JSON file."""
    document = service().presets.get(path.preset_id).document
    text = json.dumps(document, indent=1, ensure_ascii=False) + "\n"
    response = Response(text, mimetype="application/json")
    name = safe_name(document["name"])
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.preset.json"'
    return response


@presets.get("/<string:preset_id>/thumbnail.webp", responses={200: WEBP})
def preset_thumbnail(path: PresetPath, query: ThumbnailQuery) -> Response:
    """Moving picture of what the preset does to a ball, as animated WebP, or a still one."""
    return thumbnail_response(
        of_preset(service().presets.get(path.preset_id), service().evaluator), query
    )


@presets.post(
    "/<string:preset_id>/use/<string:study_id>/<string:piece_id>", responses={200: PresetUse}
)
def use_preset(path: PresetPiecePath, body: UseBody) -> Response:
    """The edit that puts a copy of the preset into a recipe. It is not stored yet."""
    study = service().study(service().studies.document(path.study_id))
    document = service().presets.get(path.preset_id).document
    operations, group = uses(study, path.piece_id, document, body.after)
    first = operations[1]["item"]["id"]
    return jsonify({"operations": operations, "group": group, "first": first})
