"""Masks of steps that are wanted as layers of a picture."""

from __future__ import annotations

from collections.abc import Sequence

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.names import safe_name


def check_masks(study: Study, masks: Sequence[tuple[str, str]]) -> None:
    """Raises ZygomorphError where one is of a piece or a step that is not there."""
    for piece, step in masks:
        if all(each["id"] != step for each in study.piece(piece)["recipe"]):
            raise ZygomorphError(
                f"The piece {piece!r} has no step {step!r}.", "Choose one of its own."
            )


def all_masks(study: Study) -> tuple[tuple[str, str], ...]:
    """Piece and step of every mask of what is seen."""
    return tuple(
        (piece["id"], step["id"])
        for piece in study.pieces
        if piece.get("visible", True)
        for step in piece["recipe"]
        if step.get("where", {}).get("layers")
    )


def mask_name(study: Study, piece: str, step: str) -> str:
    """Of the mask of a step: its piece, and the number of the step in the recipe."""
    found = study.piece(piece)
    number = [each["id"] for each in found["recipe"]].index(step)
    return f"mask-{safe_name(found['name'])}-{number}"
