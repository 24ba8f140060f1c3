"""A final picture of a study at a moment, from its evaluation to the screen."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.render.final.collect import collect
from zygomorph.render.final.engine import start
from zygomorph.render.final.finish import on_screen
from zygomorph.render.final.layers import (
    Layers,
    Moment,
    light_layers,
    seen_layers,
)
from zygomorph.render.final.noise_removal import without_noise
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.things import Things
from zygomorph.render.final.traced import Traced
from zygomorph.render.final.wanted_masks import check_masks

# Paths of one pixel that are followed in one go, so that it can be stopped between.
ROUND = 16


@dataclass(frozen=True)
class Picture:
    """traced : light, without what is behind; things : what stood there at its first moment
    layers : what else was wanted of it, by its names
    """

    traced: Traced
    things: Things
    layers: Layers = field(default_factory=dict)

    def all_layers(self) -> Layers:
        """Its light and its cover, and what else was wanted of it."""
        return {"beauty": np.dstack([self.traced.light, self.traced.alpha])} | self.layers

    def shown(self, transparent: bool) -> np.ndarray:
        """(rows, columns, 3) uint8 sRGB before its backdrop, or (rows, columns, 4) with straight
        alpha where it is to be clear or the backdrop is."""
        things = self.things
        drawn = on_screen(self.traced.light, self.traced.alpha, things.finish)
        alpha = drawn[..., 3:]
        if transparent or things.backdrop.kind == "clear":
            straight = np.minimum(drawn[..., :3] / np.maximum(alpha, 1 / 255), 1)
            return _bytes(np.concatenate([straight, alpha], axis=-1))
        rows, columns = alpha.shape[:2]
        behind = backdrop(things.backdrop, (columns, rows), things.images)
        return _bytes(drawn[..., :3] + behind * (1 - alpha))


def _bytes(shares: np.ndarray) -> np.ndarray:
    return np.round(np.clip(shares, 0, 1) * 255).astype(np.uint8)


def seed_of(frame: float) -> int:
    """Of the paths of a frame: the same whoever draws it, and another for each."""
    return round(frame * 1000) * 2_654_435_761 & 0xFFFFFFFF


def draw(
    study: Study,
    evaluator: Evaluator,
    frame: float,
    settings: FinalSettings,
    final: bool = True,
    view: View | None = None,
    rows: range | None = None,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Picture:
    """Draw a frame. rows : only these of its rows, as they are in the whole; noise is then not
    removed, for which all of it is needed

    Raises what evaluating raises, Cancelled, ZygomorphError where it cannot be drawn so.
    """
    settings.check()
    check_masks(study, settings.masks)
    moment = Moment(study, evaluator, frame, settings, final, view)
    extra: Layers = {}
    pieces: Sequence[str] = ()
    make_tracer = tracer_of_this_machine()
    moments = min(settings.moments, settings.samples)
    first: Things | None = None
    parts: list[tuple[float, Traced]] = []
    done = 0
    for k, count in enumerate(_shares(settings.samples, moments)):
        shutter = 0.0 if first is None else first.view.shutter
        at = frame + shutter * k / moments
        masks = settings.masks if first is None else ()
        things = collect(study, evaluator, at, settings.size[1], final, view, cancelled, masks)
        tracer = make_tracer(things, settings)
        if first is None and (settings.layers or settings.masks):
            # Of the moment at which the shutter opens.
            extra = seen_layers(moment, tracer, things, rows, seed_of(frame), cancelled)
            pieces = tracer.pieces
        first = first or things
        for begin in range(0, count, ROUND):
            if cancelled():
                raise Cancelled
            some = min(ROUND, count - begin)
            traced = tracer.trace(done, some, rows, seed_of(frame), cancelled)
            parts.append((some, traced))
            if len(parts) > 1:
                # Kept as one sum: a picture of a thousand samples takes no more room.
                weight = sum(w for w, _ in parts)
                parts = [(weight, Traced.mean(parts))]
            done += some
            progress(done / settings.samples)
    assert first is not None  # there is at least one moment
    traced = parts[0][1]
    clean = settings.noise_removal and rows is None
    if clean:
        traced = without_noise(traced)
    if settings.layers or settings.masks:
        extra |= light_layers(moment, traced, pieces, clean)
    return Picture(traced, first, extra)


def tracer_of_this_machine() -> Callable[[Things, FinalSettings], Any]:
    """By path tracing, or without LLVM the plain one."""
    if start() == "scalar_rgb":
        from zygomorph.render.final.plain_tracer import PlainTracer

        return PlainTracer
    from zygomorph.render.final.path_tracer import PathTracer

    return PathTracer


def _shares(samples: int, moments: int) -> list[int]:
    """How many samples each moment has."""
    ends = [samples * k // moments for k in range(moments + 1)]
    return [b - a for a, b in pairwise(ends)]
