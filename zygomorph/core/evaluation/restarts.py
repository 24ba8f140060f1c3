"""What a change lets begin again from its first frame: systems, and masks that remember."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.keys import history_key
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.state_history import StateCache
from zygomorph.core.evaluation.stepped import (
    SteppedMask,
    SteppedSystem,
    stepped_mask,
    stepped_system,
)


@dataclass(frozen=True)
class Restart:
    """A step whose past is walked again.

    frames : that are walked until all of the loop is known
    at_most : whether it may be fewer, because nobody knows yet after how many loops it settles
    seconds : that this takes about, by how long the last frames took; None where none were walked
    """

    piece: str
    step: str
    title: str
    frames: int
    at_most: bool
    seconds: float | None


def restarts(states: StateCache, before: Study, after: Study, final: bool = False) -> list[Restart]:
    """Steps of a study whose past differs after a change, in the order of the document."""
    known = {piece["id"] for piece in before.pieces}
    return [
        found
        for piece in after.pieces
        if piece["id"] in known
        for found in _of_piece(states, before, after, piece["id"], final)
    ]


def _of_piece(
    states: StateCache, before: Study, after: Study, piece: str, final: bool
) -> Iterator[Restart]:
    earlier = {step.id: step for step in plan_piece(before, piece, final).steps}
    for step in plan_piece(after, piece, final).steps:
        pasts = [own for own in (stepped_mask(step), stepped_system(step)) if own is not None]
        if not step.on or not pasts or step.id not in earlier:
            continue
        differ = [own for own in pasts if _differs(before, after, piece, step, own.name, final)]
        if not differ:
            continue
        frames, at_most = max(_frames(states, before, piece, step, own, final) for own in differ)
        took = states.seconds_a_frame(piece, step.id)
        seconds = None if took is None else took * frames
        yield Restart(piece, step.id, step.definition.title, frames, at_most, seconds)


def _differs(
    before: Study, after: Study, piece: str, step: PlannedStep, what: str, final: bool
) -> bool:
    one, other = (history_key(study, piece, step.id, what, final) for study in (before, after))
    return one != other


def _frames(
    states: StateCache,
    before: Study,
    piece: str,
    step: PlannedStep,
    own: SteppedMask | SteppedSystem,
    final: bool,
) -> tuple[int, bool]:
    """How many frames are walked, and whether that is only the most."""
    frames = before.loop.frames
    if isinstance(own, SteppedSystem) and own.closing == "settles":
        # As many loops ahead as it took before, and the one that is shown.
        settled = states.known_settled(history_key(before, piece, step.id, own.name, final))
        loops = round(own.number("most_loops")) if settled is None else settled
        return frames * (1 + loops), settled is None
    return frames - own.begins, False
