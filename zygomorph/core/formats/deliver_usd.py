"""A study as a USD stage with time samples."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.planned import PiecePlan
from zygomorph.core.formats.deliver import DeliveredSize, Progress, visible_pieces
from zygomorph.core.formats.usd import UsdPiece, UsdWriter
from zygomorph.core.formats.usd_shape import UsdLook
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.shared.appearance import Appearance
from zygomorph.core.transforms.tracks import JUMP, sampled_transform


def deliver_usd(
    study: Study,
    evaluator: Evaluator,
    *,
    final: bool = False,
    piece: str | None = None,
    normals: bool = False,
    colours: bool = True,
    progress: Progress = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> bytes:
    """All visible pieces as one USD stage with a time sample a frame, the last of which closes
    the loop, and one just before each jump. Faces may change on the way.

    normals, colours : whether they are written as well; where they move, each is as large as the
        positions

    Raises ZygomorphError where it would be too large, StepError where a step cannot do its work,
    Cancelled.
    """
    pieces = visible_pieces(study, piece)
    size = DeliveredSize()
    with UsdWriter(study.loop.last, study.loop.rate) as writer:
        for index, each in enumerate(pieces):
            plan = plan_piece(study, each["id"], final)
            times = _moments(plan, study.loop.last)
            made: UsdPiece | None = None
            for done, time in enumerate(times):
                if cancelled():
                    raise Cancelled
                request = Request(each["id"], time, final, shared=True, cancelled=cancelled)
                geometry = evaluator.evaluate(study, request).geometry
                look = evaluator.appearance(study, request, geometry)
                if made is None:
                    size.add(each["name"], len(times), geometry)
                    made = writer.piece(
                        each["name"],
                        UsdLook(look.material, normals and not look.material.flat),
                        sampled_transform(plan.world, study.loop.last, plan.jumps),
                    )
                made.add(time, plan.moves, geometry, _usd_colours(geometry, look, colours))
                share = (index + (done + 1) / len(times)) / len(pieces)
                progress(0.95 * share, f"frame {time:g} of {each['name']}")
        progress(0.96, "writing")
        return writer.data()


def _moments(plan: PiecePlan, last: int) -> list[float]:
    """Whole frames, and the moments just before them where something goes in jumps."""
    if not plan.moves:
        return [0.0]
    whole = [float(frame) for frame in range(last + 1)]
    return sorted([*whole, *(f - JUMP for f in whole[1:])]) if plan.jumps else whole


def _usd_colours(geometry: Geometry, look: Appearance, wanted: bool) -> list[np.ndarray | None]:
    """Of each base the colours at its points, and of copies, last, one for each of them."""
    if not wanted or not look.by_value("colour"):
        return [None] * (len(geometry.bases) + 1)
    table = geometry.copies
    if table is None or not any(channel.on == "copies" for channel in look.channels):
        bases = enumerate(geometry.bases)
        own = [look.colours(len(mesh.points), number=number) for number, mesh in bases]
        return [*(each.astype(np.float32) for each in own), None]
    # A file has one colour for each copy: that of the place where it is.
    of_copies = look.of_copies().colours(len(table)).astype(np.float32)
    return [None] * len(geometry.bases) + [of_copies]
