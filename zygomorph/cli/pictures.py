"""Delivering pictures of a study from the command line, drawn by a browser without a window."""

from __future__ import annotations

import argparse
import sys
import tempfile
import threading
import time
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.cli.exits import DONE
from zygomorph.cli.queued import put, words
from zygomorph.cli.stored import Failed, load_study
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.pictures.order import KINDS

if TYPE_CHECKING:
    from zygomorph.jobs.pictures.order import PictureOrder
    from zygomorph.jobs.runner import Job

PICTURES = KINDS
DEFAULT_SIZE = (1280, 720)
DEFAULT_SAMPLES = 4
LOOKED_EVERY_S = 0.1


def size_of(text: str) -> tuple[int, int]:
    """ "1280x720" as (columns, rows)."""
    wide, _, high = text.lower().partition("x")
    try:
        size = int(wide), int(high)
    except ValueError:
        size = 0, 0
    if not all(16 <= side <= 16_384 for side in size):
        raise argparse.ArgumentTypeError(
            f"--size takes WIDTHxHEIGHT such as 1280x720, not {text!r}"
        )
    return size


def _order(arguments: argparse.Namespace, study: Study, frames: range) -> PictureOrder:
    from zygomorph.jobs.pictures.order import PictureOrder

    return PictureOrder(**common_order(arguments, frames, arguments.samples or DEFAULT_SAMPLES))


def common_order(arguments: argparse.Namespace, frames: range, samples: int) -> dict[str, Any]:
    """What is asked for of pictures, whoever draws them."""
    transparent = arguments.transparent
    pixels = arguments.pixels or ("yuva420p" if transparent and arguments.kind == "webm" else None)
    return {
        "kind": arguments.kind,
        "size": arguments.size or DEFAULT_SIZE,
        "first": frames[0],
        "last": frames[-1],
        "step": arguments.step,
        "rate": arguments.rate,
        "repeats": arguments.repeats,
        "samples": samples,
        "blur": arguments.blur,
        "final": arguments.final,
        "transparent": transparent,
        "pixel_format": pixels or "yuv420p",
        "effort": arguments.effort,
        "count": arguments.count,
    }


def camera_named(study: Study, camera: str | None) -> str | None:
    """The id of the camera that has a name, or an id. Raises ZygomorphError where none has."""
    if camera is None:
        return None
    found: list[str] = [c["id"] for c in study.cameras if camera in (c["name"], c["id"])]
    if not found:
        known = ", ".join(c["name"] for c in study.cameras)
        raise ZygomorphError(f"The study has no camera {camera!r}.", f"It has: {known}.")
    return found[0]


def _through(study: Study, camera: str | None) -> Study:
    """The study with the camera that has a name, or an id, as its own."""
    chosen = camera_named(study, camera)
    if chosen is None:
        return study
    document = {**study.document, "camera": chosen}
    return replace(check_document(document), sounds=study.sounds, curves=study.curves)


def deliver_pictures(arguments: argparse.Namespace, frames: range) -> int:
    """Draw and encode; the result is read back before it is put in its place."""
    from zygomorph.api.app import make_app
    from zygomorph.api.server import listening
    from zygomorph.api.service import Service
    from zygomorph.api.state import state_of
    from zygomorph.jobs.chromium import showing
    from zygomorph.jobs.pictures.task import PictureTask
    from zygomorph.store.studies import Stored

    study = _through(load_study(arguments.study, arguments.data), arguments.camera)
    order = _order(arguments, study, frames)
    with tempfile.TemporaryDirectory(prefix="zygomorph-pictures-") as folder:
        service = Service(arguments.data, delivered=Path(folder))
        study = service.study(study.document)
        stored = Stored("pictures", dict(study.document), 0, "", "")
        task = PictureTask(study, order, Path(folder), state_of(stored, study))
        server = listening(make_app(service), "127.0.0.1", 0)
        threading.Thread(target=server.run, daemon=True).start()
        job = service.pictures.start(study.name, task)
        try:
            address = f"http://127.0.0.1:{server.effective_port}/picture/{job.id}"
            with showing(address) as browser:
                _wait(job, browser)
        finally:
            job.stop.set()
            service.events.close()
            server.close()
            service.close()
        if job.state != "done" or job.path is None:
            raise Failed(job.message or "It was stopped.", job.hint)
        put(job.path, arguments.out, arguments.kind)
    print(f"{arguments.out}: {words(job.describe())}")
    return DONE


def _wait(job: Job, browser: Any) -> None:
    """Until the job is over, with progress. Raises Failed where the browser ends before it."""
    show = sys.stderr.isatty()
    while job.state in ("waiting", "running"):
        if browser.poll() is not None:
            raise Failed(
                f"The browser that draws the pictures ended with {browser.returncode}.",
                "Try again; a smaller size takes less memory.",
            )
        if show:
            left = job.seconds_left()
            said = "" if left is None else f", {left:.0f} s left"
            print(f"\r{job.share:4.0%} {job.what}{said:<24}", end="", file=sys.stderr, flush=True)
        time.sleep(LOOKED_EVERY_S)
    if show:
        print(file=sys.stderr)
