"""A final picture: evaluation, tracing, noise removal, finish."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, fields
from itertools import pairwise
from typing import Any

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.core.shared.drawn_scene import Backdrop, Finish
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
class Raw:
    """Samples of a picture or some of its rows, before noise removal and finish.

    seen : layers of primary hits; pieces : ids in the order of the light layers
    """

    traced: Traced
    seen: Layers
    pieces: tuple[str, ...]

    @classmethod
    def below_each_other(cls, parts: Sequence[Raw]) -> Raw:
        """Joins rows of one picture, from the top."""
        names = parts[0].seen
        seen = {name: np.concatenate([part.seen[name] for part in parts]) for name in names}
        traced = Traced.below_each_other([part.traced for part in parts])
        return cls(traced, seen, parts[0].pieces)

    def packed(self) -> bytes:
        """As an .npz file."""
        out = io.BytesIO()
        arrays: dict[str, Any] = {f"seen|{name}": array for name, array in self.seen.items()}
        arrays |= {f.name: getattr(self.traced, f.name) for f in fields(Traced)}
        np.savez(out, piece_names=np.array(self.pieces, dtype=np.str_), **arrays)
        return out.getvalue()

    @classmethod
    def unpacked(cls, data: bytes) -> Raw:
        """Raises ValueError if the file is damaged."""
        with np.load(io.BytesIO(data)) as arrays:
            seen = {n[5:]: arrays[n] for n in arrays.files if n.startswith("seen|")}
            traced = Traced(*(arrays[f.name] for f in fields(Traced)))
            return cls(traced, seen, tuple(str(name) for name in arrays["piece_names"]))


@dataclass(frozen=True)
class Picture:
    """A picture in linear light, and how it is shown.

    traced : light without the backdrop, after noise removal
    finish, behind : finish and backdrop; images : where the backdrop's picture is found
    layers : other layers by name
    """

    traced: Traced
    finish: Finish
    behind: Backdrop
    images: Images
    layers: Layers = field(default_factory=dict)

    def all_layers(self) -> Layers:
        """The beauty and all other layers."""
        return {"beauty": np.dstack([self.traced.light, self.traced.alpha])} | self.layers

    def shown(self, transparent: bool) -> np.ndarray:
        """(rows, columns, 3) uint8 sRGB over the backdrop, or (rows, columns, 4) without it, with
        straight alpha."""
        drawn = on_screen(self.traced.light, self.traced.alpha, self.finish)
        alpha = drawn[..., 3:]
        if transparent or self.behind.kind == "clear":
            straight = np.minimum(drawn[..., :3] / np.maximum(alpha, 1 / 255), 1)
            return _bytes(np.concatenate([straight, alpha], axis=-1))
        rows, columns = alpha.shape[:2]
        behind = backdrop(self.behind, (columns, rows), self.images)
        return _bytes(drawn[..., :3] + behind * (1 - alpha))


def _bytes(shares: np.ndarray) -> np.ndarray:
    return np.round(np.clip(shares, 0, 1) * 255).astype(np.uint8)


def seed_of(frame: float) -> int:
    """Random seed of a frame: the same on all machines, different for each frame."""
    return round(frame * 1000) * 2_654_435_761 & 0xFFFFFFFF


def draw(
    study: Study,
    evaluator: Evaluator,
    frame: float,
    settings: FinalSettings,
    final: bool = True,
    view: View | None = None,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Picture:
    """Draw a frame.

    Raises what evaluating raises, Cancelled, ZygomorphError where it cannot be drawn so.
    """
    moment = Moment(study, evaluator, frame, settings, final, view)
    return finished(study, frame, final, settings, trace(moment, None, progress, cancelled))


def trace(
    moment: Moment,
    rows: range | None,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Raw:
    """Trace a frame, or only some of its rows as they are in the whole. Raises what
    :func:`draw` does."""
    settings, frame = moment.settings, moment.frame
    settings.check()
    check_masks(moment.study, settings.masks)
    seen: Layers = {}
    pieces: Sequence[str] = ()
    make_tracer = tracer_of_this_machine()
    moments = min(settings.moments, settings.samples)
    shutter: float | None = None
    parts: list[tuple[float, Traced]] = []
    done = 0
    for k, count in enumerate(_shares(settings.samples, moments)):
        begins = shutter is None
        at = frame + (shutter or 0.0) * k / moments
        things = moment.things(at, cancelled, settings.masks if begins else ())
        tracer = make_tracer(things, settings)
        if begins and (settings.layers or settings.masks):
            # Of the moment at which the shutter opens.
            seen = seen_layers(moment, tracer, things, rows, seed_of(frame), cancelled)
            pieces = tracer.pieces
        shutter = things.view.shutter if shutter is None else shutter
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
    return Raw(parts[0][1], seen, tuple(pieces))


def finished(study: Study, frame: float, final: bool, settings: FinalSettings, raw: Raw) -> Picture:
    """The picture from the samples of all its rows."""
    traced = without_noise(raw.traced) if settings.noise_removal else raw.traced
    layers = raw.seen
    if settings.layers or settings.masks:
        layers = layers | light_layers(study, settings, traced, raw.pieces)
    scene = plan_scene(study, final).at(np.array([frame]))
    return Picture(traced, scene.finish, scene.backdrop, study.images, layers)


def tracer_of_this_machine() -> Callable[[Things, FinalSettings], Any]:
    """PathTracer, or PlainTracer without LLVM."""
    if start() == "scalar_rgb":
        from zygomorph.render.final.plain_tracer import PlainTracer

        return PlainTracer
    from zygomorph.render.final.path_tracer import PathTracer

    return PathTracer


def _shares(samples: int, moments: int) -> list[int]:
    """Number of samples of each moment of the shutter."""
    ends = [samples * k // moments for k in range(moments + 1)]
    return [b - a for a, b in pairwise(ends)]
