"""The main loop of the process that draws previews."""

from __future__ import annotations

import io
import os
import signal
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.view import View
from zygomorph.core.kernels.cores import CORES
from zygomorph.jobs.preview.asked import (
    SAMPLES,
    Asked,
    Begin,
    CalledOff,
    CannotDraw,
    Drawn,
    Forget,
    GoOn,
)
from zygomorph.store.assets import Assets
from zygomorph.store.database import open_engine
from zygomorph.store.state_shelf import StateShelf

# What is done by hand comes first.
NICE = 5
QUALITY = 93
# Previews that are drawn in turns; the oldest is forgotten.
MOST_OPEN = 4


def main(connection: Any, database: str, called_off: Any) -> None:
    """Answer requests until the connection is closed.

    called_off : shared integer, serial of the preview to abandon
    """
    # The terminal's Ctrl-C is for the server, which ends this.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(NICE)
    studio = _Studio(Path(database), called_off)
    while True:
        try:
            asked = connection.recv()
        except (EOFError, OSError):
            return
        connection.send(studio.answer(asked))


class _Studio:
    def __init__(self, database: Path, called_off: Any) -> None:
        self._assets = Assets(open_engine(database))
        shelf = StateShelf(database.parent / "states")
        self._evaluator = Evaluator(self._assets.mesh, image=self._assets.images, shelf=shelf)
        self._called_off = called_off
        self._open: dict[int, Iterator[Drawn]] = {}

    def answer(self, asked: Begin | GoOn | Forget) -> Drawn | CannotDraw | CalledOff:
        serial = asked.serial
        if isinstance(asked, Forget):
            self._open.pop(serial, None)
            return CalledOff(serial)
        try:
            if isinstance(asked, Begin):
                self._open[serial] = self._drawn(serial, asked.asked)
                for old in list(self._open)[:-MOST_OPEN]:
                    del self._open[old]
            drawing = self._open.get(serial)
            if drawing is None:
                return CalledOff(serial)
            found = next(drawing)
        except (Cancelled, StopIteration):
            self._open.pop(serial, None)
            return CalledOff(serial)
        except StepError as error:
            return self._wrong(serial, f"Step {error.step_id}: {error.message}", error.hint)
        except ZygomorphError as error:
            return self._wrong(serial, error.message, error.hint)
        except MemoryError:
            return self._wrong(serial, "There is not enough memory for it.", "Draw less at once.")
        if found.done:
            del self._open[serial]
        return found

    def _wrong(self, serial: int, message: str, hint: str) -> CannotDraw:
        self._open.pop(serial, None)
        return CannotDraw(serial, message, hint)

    def _drawn(self, serial: int, asked: Asked) -> Iterator[Drawn]:
        from zygomorph.render.final.engine import use_threads
        from zygomorph.render.final.refined import refined
        from zygomorph.render.final.settings import FinalSettings

        use_threads(CORES)
        study = Study(asked.document, self._assets.sound, images=self._assets.images)
        study = self._evaluator.with_geometry(study)
        view = None
        if asked.eye is not None:
            eye, aspect = asked.eye, asked.size[0] / asked.size[1]
            position, target = np.array(eye.position, float), np.array(eye.target, float)
            view = View(position, target, aspect=aspect, angle=eye.angle)
        settings = FinalSettings(asked.size, SAMPLES)
        pictures = refined(
            study,
            self._evaluator,
            asked.frame,
            settings,
            asked.final,
            view,
            lambda: self._called_off.value == serial,
        )
        for samples, picture in pictures:
            data, kind = _encoded(picture)
            yield Drawn(serial, samples, data, kind, samples == SAMPLES)


def _encoded(picture: np.ndarray) -> tuple[bytes, str]:
    out = io.BytesIO()
    if picture.shape[-1] == 4:
        Image.fromarray(picture).save(out, "WEBP", quality=QUALITY, method=0)
        return out.getvalue(), "image/webp"
    Image.fromarray(picture).save(out, "JPEG", quality=QUALITY, subsampling=0)
    return out.getvalue(), "image/jpeg"
