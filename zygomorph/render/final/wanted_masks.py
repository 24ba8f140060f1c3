"""Masks of steps as layers of a picture."""

from __future__ import annotations

from collections.abc import Sequence

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.names import safe_name


def check_masks(study: Study, masks: Sequence[tuple[str, str]]) -> None:
    """Raises ZygomorphError if a piece or step does not exist."""
    for piece, step in masks:
        if all(each["id"] != step for each in study.piece(piece)["recipe"]):
            raise ZygomorphError(
                f"The piece {piece!r} has no step {step!r}.", "Choose one of its own."
            )


def all_masks(study: Study) -> tuple[tuple[str, str], ...]:
    """(piece, step) of every mask of the visible pieces."""
    return tuple(
        (piece["id"], step["id"])
        for piece in study.pieces
        if piece.get("visible", True)
        for step in piece["recipe"]
        if step.get("where", {}).get("layers")
    )


def mask_name(study: Study, piece: str, step: str) -> str:
    """Name of a mask's layer: the piece, and the number of the step in the recipe."""
    found = study.piece(piece)
    number = [each["id"] for each in found["recipe"]].index(step)
    return f"mask-{safe_name(found['name'])}-{number}"
