"""What all deliveries have in common, and one mesh file for each frame."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from zygomorph.core.budget import DELIVERED_BYTES, within_budget
from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.write import WRITERS
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.shared.appearance import Appearance

SEQUENCES = ("obj", "ply", "stl")

Progress = Callable[[float, str], None]


def visible_pieces(study: Study, chosen: str | None = None) -> list[dict[str, Any]]:
    pieces = [p for p in study.pieces if p.get("visible", True)]
    if chosen is not None:
        pieces = [study.piece(chosen)]
    if not pieces:
        raise ZygomorphError("There is no visible piece to deliver.", "Show a piece first.")
    return pieces


class DeliveredSize:
    """How much memory an animation of all pieces takes, told before they are all made."""

    def __init__(self) -> None:
        self._points = 0

    def add(self, name: str, count: int, geometry: Geometry) -> None:
        """Raise ZygomorphError where a piece with so many frames is too much with those before."""
        own = len(geometry.probes())
        self._points += count * own
        within_budget(
            self._points,
            DELIVERED_BYTES,
            f"{name!r} has {own:,} points at each of {count} frames; with the pieces "
            "before it these are",
            "Deliver it at draft quality, piece by piece, or as a sequence of mesh files",
        )


def vertex_colours(appearance: Appearance, count: int, number: int = 0) -> np.ndarray | None:
    """(P, 4) uint8 linear colours of a base by value, as glTF wants them, the last of which is the
    share of the opacity; None where there is one colour."""
    if not appearance.by_value("colour", "opacity"):
        return None
    found = np.full((count, 4), 255, np.uint8)
    found[:, :3] = np.round(appearance.colours(count, number=number) * 255)
    if appearance.by_value("opacity"):
        found[:, 3] = np.round(appearance.amounts(count, "opacity", number) * 255)
    return found


def deliver_sequence(
    study: Study,
    evaluator: Evaluator,
    kind: str,
    frames: range,
    *,
    final: bool = False,
    piece: str | None = None,
    last: int | None = None,
    progress: Progress = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Iterator[tuple[str, bytes]]:
    """File name and content of each piece at each frame, in stage coordinates.

    last : of the frames of the whole sequence, where these are not all: all names are as long
    """
    pieces = visible_pieces(study, piece)
    width = max(4, len(str(max(frames, default=0) if last is None else last)))
    for done, frame in enumerate(frames):
        for each in pieces:
            if cancelled():
                raise Cancelled
            found = evaluator.evaluate(study, Request(each["id"], frame, final, shared=True))
            mesh = found.mesh.moved(transformed(found.mesh.points, found.place))
            name = f"{each['id']}.{frame:0{width}d}.{kind}"
            yield name, WRITERS[kind](mesh)
        progress((done + 1) / len(frames), f"frame {frame}")
