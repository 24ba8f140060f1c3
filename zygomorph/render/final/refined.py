"""Progressive rendering: a picture that becomes finer."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
from PIL import Image

from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.view import View
from zygomorph.render.final.collect import collect
from zygomorph.render.final.noise_removal import without_noise
from zygomorph.render.final.picture import Picture, seed_of, tracer_of_this_machine
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.traced import Traced

# The first look is so many times coarser each way.
COARSE = 4
# Samples of a pixel from one picture to the next: as many as there are, but no more than these, so
# that something is seen to happen.
MOST_MORE = 16


def refined(
    study: Study,
    evaluator: Evaluator,
    frame: float,
    settings: FinalSettings,
    final: bool = False,
    view: View | None = None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Iterator[tuple[int, np.ndarray]]:
    """Yields the number of samples so far, 0 for a coarse first look, and the picture of them,
    (rows, columns, 3 or 4) uint8 sRGB, until all samples of the settings are there.

    Raises what :func:`zygomorph.render.final.picture.draw` raises.
    """
    settings.check()
    make_tracer = tracer_of_this_machine()
    columns, rows = settings.size
    things = collect(study, evaluator, frame, rows, final, view, cancelled)
    seed = seed_of(frame)

    def shown(traced: Traced) -> np.ndarray:
        clean = without_noise(traced) if settings.noise_removal else traced
        return Picture(clean, things.finish, things.backdrop, things.images).shown(
            settings.transparent
        )

    small = max(1, columns // COARSE), max(1, rows // COARSE)
    coarse = make_tracer(things, replace(settings, size=small)).trace(0, 1, None, seed, cancelled)
    yield 0, _as_large(shown(coarse), settings.size)
    tracer = make_tracer(things, settings)
    done, whole = 0, None
    while done < settings.samples:
        some = min(max(1, done), MOST_MORE, settings.samples - done)
        traced = tracer.trace(done, some, None, seed, cancelled)
        whole = traced if whole is None else Traced.mean([(done, whole), (some, traced)])
        done += some
        yield done, shown(whole)


def _as_large(picture: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    return np.asarray(Image.fromarray(picture).resize(size, Image.Resampling.BICUBIC))
