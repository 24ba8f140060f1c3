"""The routes of deliveries and the queue of jobs."""

from __future__ import annotations

import io
from typing import Any

from flask import Response, jsonify, request, send_file
from flask_openapi3 import APIBlueprint
from PIL import Image

from zygomorph.api.job_shapes import (
    ClusterBody,
    DeliverBody,
    FinalBody,
    JobFramePath,
    JobFrameQuery,
    JobList,
    JobState,
    MadeClipBody,
    MoveBody,
)
from zygomorph.api.picture_routes import asked_of_pictures
from zygomorph.api.routes import FAILURES, service
from zygomorph.api.service import Service
from zygomorph.api.shapes import JobPath
from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.orders import ClipOrder, FinalOrder, MeshOrder
from zygomorph.jobs.queue.program_version import program_version
from zygomorph.jobs.queue.trails import with_trails
from zygomorph.render.final.wanted_masks import check_masks

job_routes = APIBlueprint("jobs", __name__, url_prefix="/api", abp_responses=FAILURES)
PICTURES: Any = {
    "content": {
        kind: {"schema": {"type": "string", "format": "binary"}}
        for kind in ("image/png", "image/webp")
    }
}
MOST_FRAME = 1_000_000


@job_routes.post("/deliveries", responses={202: JobState})
def start_delivery(body: DeliverBody) -> tuple[Response, int]:
    """Begin to deliver meshes or a scene; the job tells size and error before the file is taken
    away."""
    own = service()
    study = own.study(own.studies.document(body.study))
    first, last = body.frames or (0, study.loop.frames - 1)
    if last < first or last > MOST_FRAME:
        raise ZygomorphError(
            f"Frames {first} to {last} are no range.", "Give the first and the last frame."
        )
    order = MeshOrder(
        body.kind,
        (first, last),
        None,
        body.quality == "final",
        body.tolerance,
        body.numbers,
        body.copies_as,
        body.normals,
        body.colours,
    )
    return jsonify(own.queue.add(own.bundle(study.document), order)), 202


@job_routes.post("/finals", responses={202: JobState})
def start_final(body: FinalBody) -> tuple[Response, int]:
    """Begin to draw final pictures by path tracing."""
    own = service()
    study = own.study(own.studies.document(body.study))
    if body.camera is not None and all(c["id"] != body.camera for c in study.cameras):
        raise ZygomorphError(f"The study has no camera {body.camera!r}.", "Choose one of its own.")
    masks = tuple((mask.piece, mask.step) for mask in body.masks)
    check_masks(study, masks)
    asked = asked_of_pictures(body, study) | {"layers": tuple(body.layers), "masks": masks}
    order = with_trails(FinalOrder(**asked), study)
    return jsonify(own.queue.add(own.bundle(study.document), order)), 202


@job_routes.post("/jobs/<string:job_id>/clips", responses={202: JobState})
def clip_of_job(path: JobPath, body: MadeClipBody) -> tuple[Response, int]:
    """Make a clip of the pictures of a job, without drawing any of them again."""
    own = service()
    job = own.queue.get(path.job_id)
    pictures = own.queue.pictures(job)
    columns, rows = job.size
    order = ClipOrder(
        body.kind,
        (body.width or columns, body.height or rows),
        job.rate,
        body.rate or job.rate,
        body.way,
        body.repeats,
        body.pixel_format,
        body.effort,
    )
    return jsonify(own.queue.add(job.folder.bundle, order, frames=pictures)), 202


@job_routes.get("/jobs", responses={200: JobList})
def list_jobs() -> Response:
    """Jobs of the queue in their order, and pictures that windows draw."""
    own = service()
    queued = [job.describe() for job in own.queue.all()]
    refused = [{"address": a, "program": p} for a, p in own.queue.refused().items()]
    return jsonify(
        {
            "jobs": [*queued, *(job.describe() for job in own.jobs.all())],
            "program": program_version(),
            "scheduler": own.queue.cluster.settings.address,
            "workers": len(own.queue.cluster.workers()),
            "refused": refused,
        }
    )


def _queued(own: Service, job_id: str) -> ActiveJob | None:
    """A job of the queue; None where it is one that a window draws, or unknown."""
    return next((job for job in own.queue.all() if job.record.id == job_id), None)


@job_routes.put("/cluster", responses={200: JobList})
def choose_cluster(body: ClusterBody) -> Response:
    """Choose who makes jobs, from now on and after the program was started again."""
    own = service()
    own.settings.put("scheduler", body.address)
    own.queue.use_cluster(body.address)
    return list_jobs()


@job_routes.get("/jobs/<string:job_id>", responses={200: JobState})
def get_job(path: JobPath) -> Response:
    own = service()
    job = _queued(own, path.job_id) or own.jobs.get(path.job_id)
    return jsonify(job.describe())


@job_routes.post("/jobs/<string:job_id>/cancel", responses={200: JobState})
def cancel_job(path: JobPath) -> Response:
    """Call it off; what of it is there stays until it is removed."""
    own = service()
    if _queued(own, path.job_id):
        return jsonify(own.queue.cancel(path.job_id))
    job = own.jobs.cancel(path.job_id)
    if job.state != "done":
        own.drawn.remove(job.id)
    return jsonify(job.describe())


@job_routes.post("/jobs/<string:job_id>/pause", responses={200: JobState})
def pause_job(path: JobPath) -> Response:
    return jsonify(service().queue.pause(path.job_id))


@job_routes.post("/jobs/<string:job_id>/go-on", responses={200: JobState})
def go_on_with_job(path: JobPath) -> Response:
    """Go on with what is missing of a job that was paused or called off, or that failed."""
    return jsonify(service().queue.resume(path.job_id))


@job_routes.post("/jobs/<string:job_id>/again", responses={202: JobState})
def job_again(path: JobPath) -> tuple[Response, int]:
    """The same order of the same study as a new job."""
    return jsonify(service().queue.repeat(path.job_id)), 202


@job_routes.post("/jobs/<string:job_id>/move", responses={200: JobList})
def move_job(path: JobPath, body: MoveBody) -> Response:
    """Have it come before another one, or last."""
    service().queue.move(path.job_id, body.before)
    return list_jobs()


@job_routes.delete("/jobs/<string:job_id>", responses={200: JobList})
def remove_job(path: JobPath) -> Response:
    """Remove a job with all its frames."""
    service().queue.remove(path.job_id)
    return list_jobs()


@job_routes.get("/jobs/<string:job_id>/file")
def job_file(path: JobPath) -> Response:
    """The delivered file."""
    own = service()
    if _queued(own, path.job_id):
        file, filename = own.queue.product(path.job_id)
        return send_file(file.resolve(), as_attachment=True, download_name=filename)
    job = own.jobs.get(path.job_id)
    if job.state != "done" or job.path is None or not job.path.is_file():
        raise ZygomorphError("This delivery has no file.", f"Its state is {job.state!r}.")
    return send_file(job.path.resolve(), as_attachment=True, download_name=job.filename)


@job_routes.get("/jobs/<string:job_id>/frames/<int:number>", responses={200: PICTURES})
def job_frame(path: JobFramePath, query: JobFrameQuery) -> Response:
    """A picture of a job: PNG as it is kept, or a smaller one as WebP."""
    file = service().queue.picture(path.job_id, path.number)
    if not query.small:
        response = send_file(file.resolve(), mimetype="image/png")
    else:
        with Image.open(file) as image:
            image.thumbnail((query.small, query.small))
            out = io.BytesIO()
            image.save(out, "WEBP", quality=85)
        response = Response(out.getvalue(), mimetype="image/webp")
    # A frame that is there never changes; another job has another id.
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    response.make_conditional(request)
    return response
