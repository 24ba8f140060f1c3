"""A job whose pictures are drawn by a browser window.

Each picture is saved when it arrives, so that another window can continue if one is closed.
"""

from __future__ import annotations

import io
import shutil
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.formats.stills import read_png, write_png
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.jobs.pictures.kept import pictures_there
from zygomorph.jobs.pictures.order import PictureOrder
from zygomorph.jobs.pictures.product import make_product
from zygomorph.jobs.runner import Job, Jobs

# Of the work, drawing is by far the most.
DRAWING = 0.85
# A window that was not heard of for so long is taken for closed.
SILENT_S = 20.0
SMALL = (320, 180)
# Of 255: as bright as it gets, but for rounding.
FULL = 253
# Less of a picture than this is a highlight.
BRIGHT_SHARE = 0.02


class PictureTask:
    """The pictures of one order, and the product that is made of them.

    folder : of the product; frames : folder of the pictures, some of which may be there already
    state : state of the study that the window draws, as it was when the order was given
    """

    def __init__(
        self,
        study: Study,
        order: PictureOrder,
        folder: Path,
        state: Any,
        frames: Path | None = None,
    ) -> None:
        order.check()
        self.study, self.order, self.state = study, order, state
        self.times = order.times(study.loop)
        self._folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        self._frames = frames or Path(tempfile.mkdtemp(prefix="frames-", dir=folder))
        self._done = pictures_there(self._frames)
        self._latest: int | None = None
        # The picture of which most is too bright, and how much of it.
        self._brightest = (0.0, 0)
        self._changed = threading.Condition()
        self._heard = 0.0
        self._failure: ZygomorphError | None = None
        self._ended = False

    # What windows say

    def missing(self) -> list[int]:
        """Numbers of the pictures that are not there yet."""
        with self._changed:
            return [k for k in range(len(self.times)) if k not in self._done]

    def heard(self) -> bool:
        """A window reports that it is working. Returns whether it should continue."""
        with self._changed:
            self._heard = time.monotonic()
            return not self._ended

    def put(self, number: int, pixels: bytes) -> bool:
        """Save a picture: rows from the top, 8-bit RGBA with premultiplied alpha. Returns whether
        the window should continue.

        Raises ZygomorphError if it is not a picture of this task.
        """
        columns, rows = self.order.size
        if not 0 <= number < len(self.times) or len(pixels) != columns * rows * 4:
            raise ZygomorphError(
                f"This is not picture {number} of {len(self.times)}, {columns} × {rows}.",
                "Ask for the order again.",
            )
        if not self.heard():
            return False
        drawn = np.frombuffer(pixels, np.uint8).reshape(rows, columns, 4)
        picture = self._finished(drawn, self.times[number])
        path = self._frames / f"{number:06d}.png"
        partial = path.with_suffix(f".{threading.get_ident()}.part")
        try:
            write_png(partial, picture, quick=self.order.kind != "png")
            partial.replace(path)
        except FileNotFoundError:
            # It has ended meanwhile.
            return False
        except OSError as error:
            partial.unlink(missing_ok=True)
            self.fail(f"A picture could not be kept: {error}.", "Make room on the disk.")
            return False
        share = too_bright(drawn)
        with self._changed:
            self._brightest = max(self._brightest, (share, number))
            self._done.add(number)
            self._latest = number
            self._changed.notify_all()
        return True

    def fail(self, message: str, hint: str) -> None:
        """A window reports that it cannot draw the pictures."""
        with self._changed:
            self._failure = ZygomorphError(message, hint)
            self._changed.notify_all()

    def latest(self) -> bytes | None:
        """A thumbnail of the last picture as WebP; None if there is none."""
        with self._changed:
            number = self._latest
        if number is None:
            return None
        try:
            image = Image.fromarray(read_png(self._frames / f"{number:06d}.png"))
        except OSError:
            return None
        image.thumbnail(SMALL)
        buffer = io.BytesIO()
        image.save(buffer, "WEBP", quality=85)
        return buffer.getvalue()

    def _finished(self, drawn: np.ndarray, frame: float) -> np.ndarray:
        """(rows, columns, 3) over the backdrop, or (rows, columns, 4) with straight alpha."""
        alpha = drawn[..., 3:].astype(np.float32) / 255
        scene = plan_scene(self.study).at(np.array([frame]))
        if self.order.transparent or scene.backdrop.kind == "clear":
            colours = drawn[..., :3] / np.maximum(alpha, 1 / 255)
            straight = np.concatenate([np.minimum(colours, 255), alpha * 255], axis=-1)
            return np.round(straight).astype(np.uint8)
        columns, rows = self.order.size
        behind = backdrop(scene.backdrop, (columns, rows), self.study.images) * 255
        return np.round(np.clip(drawn[..., :3] + behind * (1 - alpha), 0, 255)).astype(np.uint8)

    # The job

    def work(self, jobs: Jobs, job: Job) -> None:
        report = jobs.progress(job)
        try:
            self._wait(job, report)
            self._finish(job, report)
        finally:
            self.end(leave=job.left)

    def end(self, leave: bool = False) -> None:
        """Windows are to stop, and what they have drawn is removed, unless it is left for another
        run of the program."""
        with self._changed:
            self._ended = True
        if not leave:
            shutil.rmtree(self._frames, ignore_errors=True)

    def _wait(self, job: Job, report: Any) -> None:
        """Wait until all pictures are there."""
        total = len(self.times)
        with self._changed:
            while len(self._done) < total:
                if job.stop.is_set() or job.left:
                    raise Cancelled
                if self._failure is not None:
                    raise self._failure
                silent = time.monotonic() - self._heard > SILENT_S
                done = len(self._done)
                report(
                    DRAWING * done / total,
                    "waiting for a window that draws it"
                    if silent
                    else f"picture {done + 1} of {total}",
                )
                self._changed.wait(0.25)

    def _finish(self, job: Job, report: Any) -> None:
        files = [self._frames / f"{k:06d}.png" for k in range(len(self.times))]

        def rest(share: float, what: str) -> None:
            report(DRAWING + (1 - DRAWING) * share, what)

        made = make_product(
            self._folder, job.id, self.study, self.order, files, rest, job.stop.is_set
        )
        facts = made.facts
        share, number = self._brightest
        if share > BRIGHT_SHARE:
            facts |= {"too_bright": share, "too_bright_at": self.times[number]}
        job.filename, job.path, job.size = made.filename, made.path, made.path.stat().st_size
        job.details = [facts]


def too_bright(drawn: np.ndarray) -> float:
    """Share of a picture, (rows, columns, 4), that is so bright that it keeps no colour: of what is
    drawn, all three channels are at their end."""
    there = drawn[..., 3] == 255
    return float(((drawn[..., :3].min(axis=-1) >= FULL) & there).mean())
