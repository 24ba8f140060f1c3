"""The routes of pictures of the loop: asked for by one window, drawn by it or another, and encoded
here."""

from __future__ import annotations

import uuid
from dataclasses import replace
from typing import Any

from flask import Response, jsonify, request
from flask_openapi3 import APIBlueprint

from zygomorph.api import shapes
from zygomorph.api.job_shapes import JobState
from zygomorph.api.picture_shapes import (
    CannotBody,
    ClipQuery,
    FramePath,
    GoesOn,
    MomentQuery,
    PictureBody,
    PicturesBody,
    PictureTaskTold,
)
from zygomorph.api.routes import FAILURES, WEBP, service
from zygomorph.api.scene_shapes import SceneMoment
from zygomorph.api.security import CLIP_LIMIT
from zygomorph.api.state import scene_moment
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import CLIPS
from zygomorph.core.inspect.autofocus import focus_at
from zygomorph.jobs.pictures.kept import Kept
from zygomorph.jobs.pictures.order import Eye, PictureOrder
from zygomorph.jobs.pictures.reencode import reencoding

picture_routes = APIBlueprint("pictures", __name__, url_prefix="/api", abp_responses=FAILURES)
# A body is copied in parts of so many bytes.
PART = 1 << 20


def asked_of_pictures(body: PicturesBody, study: Study) -> dict[str, Any]:
    """What is asked for of pictures, whoever draws them, as an order has it."""
    at = body.eye
    asked = body.model_dump(exclude={"study", "width", "height", "quality"})
    return {
        **asked,
        "size": (body.width, body.height),
        "last": study.loop.frames - 1 if body.last is None else body.last,
        "final": body.quality == "final",
        "eye": None if at is None else Eye(at.position, at.target, at.angle),
    }


@picture_routes.post("/pictures", responses={202: JobState})
def ask_for_pictures(body: PictureBody) -> tuple[Response, int]:
    """Begin a job; a window that opens /picture/JOB draws for it."""
    own = service()
    stored = own.studies.get(body.study)
    if body.camera is not None:
        chosen = {**stored.document, "camera": body.camera}
        stored = replace(stored, document=dict(check_document(chosen).document))
    study = own.study(stored.document)
    order = PictureOrder(**asked_of_pictures(body, study))
    words = CLIPS[body.kind].title if body.kind in CLIPS else body.kind
    kept = Kept(
        own.jobs.new_id(),
        f"{study.name} as {words}",
        stored.id,
        stored.revision,
        stored.document,
        order,
    )
    order.check()
    own.drawn.keep(kept)
    return jsonify(own.draw_kept(kept).describe()), 202


@picture_routes.get("/pictures/<string:job_id>", responses={200: PictureTaskTold})
def picture_task(path: shapes.JobPath) -> Response:
    """What a window is to draw."""
    task = service().pictures.task(path.job_id)
    task.heard()
    order = task.order
    eye = order.eye
    return jsonify(
        {
            "state": task.state,
            "width": order.size[0],
            "height": order.size[1],
            "times": task.times,
            "spacing": task.order.spacing(task.study.loop),
            "missing": task.missing(),
            "samples": order.samples,
            "blur": order.blur,
            "quality": "final" if order.final else "draft",
            "eye": eye and {"position": eye.position, "target": eye.target, "angle": eye.angle},
            "handles": order.handles,
        }
    )


@picture_routes.get("/pictures/<string:job_id>/moment", responses={200: SceneMoment})
def moment_of_pictures(path: shapes.JobPath, query: MomentQuery) -> Response:
    """Lights, view and backdrop at a moment, also between two frames. What the camera has in focus
    is found on the surface."""
    own = service()
    task = own.pictures.task(path.job_id)
    told = scene_moment(task.study, query.frame)
    if told["view"]["lens_radius"] > 0:
        final = task.order.final
        distance, _ = focus_at(own.evaluator, task.study, query.frame, final)
        told["view"]["focus"] = distance
    return jsonify(told)


@picture_routes.put("/pictures/<string:job_id>/frames/<int:number>", responses={200: GoesOn})
def put_picture(path: FramePath) -> Response:
    """A picture that was drawn: rows from the top, RGBA of 8 bits, colours multiplied by their
    opacity."""
    task = service().pictures.find(path.job_id)
    goes_on = task is not None and task.put(path.number, request.get_data())
    return jsonify({"goes_on": goes_on})


@picture_routes.post("/pictures/<string:job_id>/heard", responses={200: GoesOn})
def picture_window_is_there(path: shapes.JobPath) -> Response:
    """The window is still at work."""
    task = service().pictures.find(path.job_id)
    return jsonify({"goes_on": task is not None and task.heard()})


@picture_routes.post("/pictures/<string:job_id>/cannot", responses={200: GoesOn})
def picture_cannot_be_drawn(path: shapes.JobPath, body: CannotBody) -> Response:
    """The window cannot draw it; the job fails with the reason."""
    service().pictures.task(path.job_id).fail(body.message, body.hint)
    return jsonify({"goes_on": False})


@picture_routes.get("/pictures/<string:job_id>/latest", responses={200: WEBP})
def latest_picture(path: shapes.JobPath) -> Response:
    """The last picture that was drawn, small."""
    data = service().pictures.task(path.job_id).latest()
    if data is None:
        raise ZygomorphError("No picture is there yet.", "Ask again in a moment.")
    response = Response(data, mimetype="image/webp")
    response.headers["Cache-Control"] = "no-store"
    return response


@picture_routes.post("/clips", responses={202: JobState})
def encode_given(query: ClipQuery) -> tuple[Response, int]:
    """Encode a ZIP of PNG pictures, or a clip, as another clip; the file is the body."""
    own = service()
    own.delivered.mkdir(parents=True, exist_ok=True)
    source = own.delivered / f"given-{uuid.uuid4().hex[:12]}"
    request.max_content_length = CLIP_LIMIT
    stream: Any = request.stream
    try:
        with source.open("wb") as file:
            while part := stream.read(PART):
                file.write(part)
        if source.stat().st_size == 0:
            raise ZygomorphError("The file is empty.", "Give a clip, or a ZIP of PNG pictures.")
        work = reencoding(
            own.jobs,
            source,
            query.name,
            own.delivered,
            query.kind,
            query.rate,
            query.pixel_format,
            query.effort,
        )
    except BaseException:
        source.unlink(missing_ok=True)
        raise
    job = own.jobs.start(f"{query.name} as {query.kind.upper()}", work)
    return jsonify(job.describe()), 202
