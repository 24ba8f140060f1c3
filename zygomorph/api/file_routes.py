"""The routes of files that are brought in: meshes, their reports, and pictures."""

from __future__ import annotations

from typing import Any

import numpy as np
from flask import Response, jsonify, request
from flask_openapi3 import APIBlueprint

from zygomorph.api.fast_frames import IMMUTABLE
from zygomorph.api.file_shapes import (
    AssetQuery,
    AssetReport,
    AudioQuery,
    ImagePath,
    ImageReport,
    ImportReport,
    ShownPath,
    ShownQuery,
    SoundPath,
    SoundReport,
    Waveform,
    WaveformQuery,
)
from zygomorph.api.image_addresses import WEAVE_NAME
from zygomorph.api.routes import FAILURES, WEBP, service
from zygomorph.api.shapes import PiecePath
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.read_image import png_of, small_webp
from zygomorph.core.formats.wav import wav_of
from zygomorph.core.inspect.repair_report import import_report
from zygomorph.core.shared.dome_light import around
from zygomorph.core.values.sound.track import Track

PICTURE: Any = {
    "content": {
        kind: {"schema": {"type": "string", "format": "binary"}}
        for kind in ("image/png", "image/jpeg")
    }
}
# The greatest side of a picture that every graphics card takes.
MOST_SIDE = 4096
NUMBERS: Any = {
    "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}
}
AUDIO: Any = {"content": {"audio/wav": {"schema": {"type": "string", "format": "binary"}}}}

file_routes = APIBlueprint("files", __name__, url_prefix="/api", abp_responses=FAILURES)


@file_routes.get(
    "/studies/<string:study_id>/pieces/<string:piece_id>/import",
    responses={200: ImportReport},
)
def get_import(path: PiecePath) -> Response:
    """What a file held, what its form makes of it now, and what would put it right."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
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


@file_routes.post("/images", responses={201: ImageReport})
def add_image(query: AssetQuery) -> tuple[Response, int]:
    """Bring in a picture for heights: its bytes are the body."""
    filename = query.name.replace("\\", "/").rsplit("/", 1)[-1]
    digest, report = service().assets.add_image(request.get_data(), filename)
    one = {"frames": 1, "rate": None}
    return jsonify({"digest": digest, "filename": filename} | report | one), 201


@file_routes.post("/films", responses={201: ImageReport})
def add_film(query: AssetQuery) -> tuple[Response, int]:
    """Bring in a film, or a ZIP of pictures: its bytes are the body."""
    filename = query.name.replace("\\", "/").rsplit("/", 1)[-1]
    digest, report = service().assets.add_film(request.get_data(), filename)
    return jsonify({"digest": digest, "filename": filename} | report), 201


@file_routes.get("/images/<string:digest>", responses={200: ImageReport})
def get_image(path: ImagePath) -> Response:
    """Name and size of a stored picture or film. Raises an error where it is not stored."""
    images = service().assets.images
    film = images.film(path.digest)
    columns, rows = images.size(path.digest)
    name = service().assets.told(path.digest)["filename"]
    told = {"width": columns, "height": rows, "frames": film.frames, "rate": film.rate}
    return jsonify({"digest": path.digest, "filename": name} | told)


@file_routes.get("/images/<string:digest>/small.webp", responses={200: WEBP})
def get_small_image(path: ImagePath) -> Response:
    """A stored picture, or a film's first, at most 256 pixels wide and high."""
    data = small_webp(service().assets.images.colours(path.digest))
    return _kept_for_ever(Response(data, mimetype="image/webp"))


@file_routes.get("/images/<string:name>/shown", responses={200: PICTURE})
def get_shown_image(path: ShownPath, query: ShownQuery) -> Response:
    """A picture as it is laid on a surface, PNG or JPEG."""
    images = service().assets.images
    name = "" if path.name == WEAVE_NAME else path.name
    if query.soft == 0:
        known = images.encoded(name, query.number)
        if known is not None:
            return _kept_for_ever(Response(known[0], mimetype=known[1]))
    shown = images.colours(name, query.number).softened(query.soft, query.beyond)
    return _kept_for_ever(Response(png_of(shown, MOST_SIDE), mimetype="image/png"))


@file_routes.get("/images/<string:name>/radiance", responses={200: NUMBERS})
def get_radiance(path: ShownPath) -> Response:
    """A picture all round as light: rows from the top of red, green, blue and 1 as 16-bit floats,
    128 × 256 of them, of 1 W/m² on the mean over surfaces that face all ways."""
    light = around(service().assets.images, "" if path.name == WEAVE_NAME else path.name)
    whole = np.concatenate([light, np.ones_like(light[..., :1])], axis=-1)
    data = np.clip(whole, 0, 65000).astype("<f2").tobytes()
    return _kept_for_ever(Response(data, mimetype="application/octet-stream"))


def _kept_for_ever(response: Response) -> Response:
    response.headers["Cache-Control"] = IMMUTABLE
    return response


@file_routes.post("/sounds", responses={201: SoundReport})
def add_sound(query: AssetQuery) -> tuple[Response, int]:
    """Bring in a sound: its bytes are the body."""
    filename = query.name.replace("\\", "/").rsplit("/", 1)[-1]
    digest, report = service().assets.add_sound(request.get_data(), filename)
    return jsonify({"digest": digest, "filename": filename} | report), 201


def _track(name: str) -> Track:
    track = service().assets.sound(name)
    if track is None:
        raise ZygomorphError(
            "This sound is not stored here.", "Bring the file in again and choose it."
        )
    return track


@file_routes.get("/sounds/<string:name>", responses={200: Waveform})
def get_sound(path: SoundPath, query: WaveformQuery) -> Response:
    """Name, length and waveform of a sound that is stored, or that comes with the program."""
    track = _track(path.name)
    told = service().assets.told(path.name)
    found = {"filename": told.get("filename", path.name), "seconds": round(track.seconds, 3)}
    return jsonify(found | {"peaks": track.peaks(query.peaks)})


@file_routes.get("/sounds/<string:name>/part.wav", responses={200: AUDIO})
def get_audio(path: SoundPath, query: AudioQuery) -> Response:
    """A part of a sound, to be heard; also by ranges of bytes, by which a browser moves in it."""
    data = wav_of(_track(path.name), query.begin, query.seconds)
    response = Response(data, mimetype="audio/wav")
    response.headers["Cache-Control"] = IMMUTABLE
    response.make_conditional(request, accept_ranges=True, complete_length=len(data))
    return response
