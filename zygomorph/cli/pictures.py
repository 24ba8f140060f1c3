"""Delivering pictures of a study from the command line, drawn by a browser without a window."""

from __future__ import annotations

import argparse
import shutil
import sys
import tempfile
import threading
import time
import zipfile
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.cli.stored import DONE, Failed, load_study
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError

if TYPE_CHECKING:
    from zygomorph.jobs.pictures.order import PictureOrder
    from zygomorph.jobs.runner import Job

PICTURES = ("mp4", "webm", "av1", "png", "still", "gif", "webp", "sheet", "seam")
DEFAULT_SIZE = (1280, 720)
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

    transparent = arguments.transparent
    pixels = arguments.pixels or ("yuva420p" if transparent and arguments.kind == "webm" else None)
    return PictureOrder(
        arguments.kind,
        arguments.size or DEFAULT_SIZE,
        frames[0],
        frames[-1],
        step=arguments.step,
        rate=arguments.rate,
        repeats=arguments.repeats,
        samples=arguments.samples,
        blur=arguments.blur,
        final=arguments.final,
        transparent=transparent,
        pixel_format=pixels or "yuv420p",
        effort=arguments.effort,
        count=arguments.count,
    )


def _through(study: Study, camera: str | None) -> Study:
    """The study with the camera that has a name, or an id, as its own."""
    if camera is None:
        return study
    found = [c for c in study.cameras if camera in (c["name"], c["id"])]
    if not found:
        known = ", ".join(c["name"] for c in study.cameras)
        raise ZygomorphError(f"The study has no camera {camera!r}.", f"It has: {known}.")
    document = {**study.document, "camera": found[0]["id"]}
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
        _put(job.path, arguments.out, arguments.kind)
    print(f"{arguments.out}: {_words(job)}")
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


def _put(made: Path, out: Path, kind: str) -> None:
    """Where it was asked for: a sequence as files in a folder, unless a ZIP is asked for."""
    if kind == "png" and out.suffix.lower() != ".zip":
        out.mkdir(parents=True, exist_ok=True)
        with zipfile.ZipFile(made) as archive:
            archive.extractall(out)
        return
    partial = out.with_name(out.name + ".part")
    try:
        shutil.copyfile(made, partial)
        partial.replace(out)
    finally:
        partial.unlink(missing_ok=True)


def _words(job: Job) -> str:
    facts = job.details[0]
    said = [f"{facts['width']} × {facts['height']}"]
    if "pictures" in facts:
        said.append(f"{facts['pictures']} pictures")
    if "rate" in facts:
        said.append(f"{facts['rate']:g} a second, {facts['seconds']:g} s")
    if "largest" in facts:
        said.append(f"frame 0 and F differ by {facts['largest']} of 255 at most")
        said.append(f"{facts['mean']:.3f} in the mean")
    return ", ".join([*said, f"{job.size:,} bytes"])
