"""Layers of a picture (arbitrary output variables), under the names that compositing uses.

Each is (rows, columns, channels) float32. Light layers: "beauty" is the picture with its alpha,
"piece-…" the light of paths that hit that piece first, "rest" that of all others. The pieces and
the rest add up to the beauty before noise removal.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.exr import LIGHT, as_half, write_exr
from zygomorph.core.formats.names import safe_name
from zygomorph.core.geometry.view import View
from zygomorph.render.final.collect import collect
from zygomorph.render.final.noise_removal import without_noise
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.things import Things
from zygomorph.render.final.traced import Traced
from zygomorph.render.final.wanted_masks import mask_name

Layers = dict[str, np.ndarray]
# Those that are numbers with a meaning of their own, in 32 bits, and the names of their channels.
MEASURED = {"depth": ("Z",), "motion": ("X", "Y")}


@dataclass(frozen=True)
class Moment:
    """A study at a frame, with the settings that it is drawn by."""

    study: Study
    evaluator: Evaluator
    frame: float
    settings: FinalSettings
    final: bool
    view: View | None

    def things(
        self,
        frame: float,
        cancelled: Callable[[], bool],
        masks: Sequence[tuple[str, str]] = (),
    ) -> Things:
        """The scene at another frame, with the weights of the wanted masks."""
        rows, view = self.settings.size[1], self.view
        return collect(self.study, self.evaluator, frame, rows, self.final, view, cancelled, masks)


def seen_layers(
    moment: Moment,
    tracer: object,
    things: Things,
    rows: range | None,
    seed: int,
    cancelled: Callable[[], bool],
) -> Layers:
    """Depth, normals, motion, shadow and masks. Raises ZygomorphError without LLVM."""
    from zygomorph.render.final.path_tracer import PathTracer
    from zygomorph.render.final.primary_hits import PrimaryHits

    if not isinstance(tracer, PathTracer):
        raise ZygomorphError(
            "Layers cannot be drawn on this machine.", "Install LLVM 19: make llvm."
        )
    settings = moment.settings
    before = None
    if "motion" in settings.layers:
        before = moment.things(moment.frame - 1, cancelled)
    found = PrimaryHits(tracer, things, before, settings).layers(rows, seed, cancelled)
    names = {f"mask {k}": mask_name(moment.study, *of) for k, of in enumerate(settings.masks)}
    return {names.get(name, name): array for name, array in found.items()}


def light_layers(
    study: Study, settings: FinalSettings, traced: Traced, pieces: Sequence[str]
) -> Layers:
    """Albedo, and the light of each piece."""
    found: Layers = {}
    if "albedo" in settings.layers:
        found["albedo"] = traced.albedo
    if "pieces" not in settings.layers:
        return found
    names = {piece["id"]: piece["name"] for piece in study.pieces}
    taken: set[str] = set()
    for number, piece in enumerate((*pieces, None)):
        own = traced.pieces[:, :, number]
        part = replace(traced, light=own[..., :3], alpha=own[..., 3])
        if settings.noise_removal:
            part = without_noise(part)
        stem = "rest" if piece is None else f"piece-{safe_name(names.get(piece, piece))}"
        name, k = stem, 1
        while name in taken:
            k += 1
            name = f"{stem}-{k}"
        taken.add(name)
        found[name] = np.dstack([part.light, part.alpha])
    return found


def exr_of(layers: Layers) -> bytes:
    """A multi-layer OpenEXR file, whose unnamed layer is the beauty."""
    found: dict[str, tuple[Sequence[str], np.ndarray]] = {}
    for name, array in layers.items():
        if name in MEASURED:
            found[name] = MEASURED[name], array
        elif name == "normals":
            found[name] = ("X", "Y", "Z"), as_half(array)
        elif array.shape[-1] == 1:
            found[name] = ("Y",), as_half(array)
        else:
            found["" if name == "beauty" else name] = LIGHT[array.shape[-1]], as_half(array)
    return write_exr(found)
