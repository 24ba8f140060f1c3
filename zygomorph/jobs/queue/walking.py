"""Systems and masks that remember, stepped once for all frames of a job.

What they were at each frame is kept beside the frames, a file for each; whoever draws a frame is
given its own, and walks nothing. One worker steps at a time, some frames in one go, while others
draw what is known already.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.core.evaluation.plan import plan_piece, used_pieces
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.queue.orders import WHOLE, ClipOrder, FinalOrder, MeshOrder, Order

# Frames that are stepped in one go.
AT_ONCE = 8
FOLDER, ENDING = "states", ".bin"


def pieces_with_a_past(study: Study, final: bool) -> dict[str, str]:
    """Pieces that are seen or used, of which something remembers: the last step that does."""
    found: dict[str, str] = {}
    shown = [piece["id"] for piece in study.pieces if piece.get("visible", True)]
    used = [name for piece in shown for name in used_pieces(study, piece, final)]
    for piece in dict.fromkeys([*used, *shown]):
        past = [step.id for step in plan_piece(study, piece, final).steps if _remembers(step)]
        if past:
            found[piece] = past[-1]
    return found


def _remembers(step: object) -> bool:
    return bool(getattr(step, "on", False) and getattr(step, "has_a_past", False))


def is_walked(study: Study, order: Order, total: int) -> bool:
    """Whether the past of a job's frames is stepped for itself."""
    if isinstance(order, MeshOrder) and order.kind == "cache":
        return True
    if isinstance(order, ClipOrder) or total < 2:
        return False
    if isinstance(order, MeshOrder) and order.kind in WHOLE:
        return False
    try:
        return bool(pieces_with_a_past(study, order.final))
    except ZygomorphError:
        # Whoever draws its frames says what is wrong.
        return False


def times_of(study: Study, order: FinalOrder | MeshOrder, number: int) -> Sequence[float]:
    """All frames, and moments between them, that a unit evaluates."""
    if isinstance(order, MeshOrder):
        return [float(order.frames[0] + number)]
    frame = order.times(study.loop)[number]
    moments = order.settings.moments
    shutter = plan_scene(study, order.final).at(np.array([frame])).view.shutter
    found = [frame + shutter * k / moments for k in range(moments)]
    if "motion" in order.layers:
        found.append(frame - 1)
    return found


def walk(
    study: Study, evaluator: Evaluator, order: FinalOrder | MeshOrder, numbers: range
) -> Iterator[tuple[int, bytes]]:
    """The states of each of some units, one after the other. Raises what evaluating raises."""
    past = pieces_with_a_past(study, order.final)
    for number in numbers:
        with evaluator.states.reading() as read:
            for time in times_of(study, order, number):
                for piece, step in past.items():
                    request = Request(piece, time, order.final, until=step, shared=True)
                    evaluator.evaluate(study, request)
        yield number, evaluator.states.handed(read).packed()


def take(evaluator: Evaluator, states: bytes) -> None:
    evaluator.states.adopt(HandedStates.unpacked(states))


class Walking:
    """The states of a job's units that are known, as files of its folder."""

    def __init__(self, job: Path, total: int) -> None:
        self._folder, self._total = job / FOLDER, total
        names = (path.stem for path in self._folder.glob(f"*{ENDING}"))
        self.known = {int(name) for name in names if name.isdigit()}

    def _path(self, number: int) -> Path:
        return self._folder / f"{number:06d}{ENDING}"

    def next(self, done: set[int]) -> range | None:
        """Units to step next, on from the last one before them whose states are known; None where
        there is none left."""
        for first in range(self._total):
            if first not in done and first not in self.known:
                return range(first, min(first + AT_ONCE, self._total))
        return None

    def put(self, number: int, states: bytes) -> None:
        """Raises OSError."""
        self._folder.mkdir(exist_ok=True)
        write_whole(self._path(number), states)
        self.known.add(number)

    def get(self, number: int) -> bytes | None:
        """None where they are gone: they are stepped again then."""
        try:
            return self._path(number).read_bytes()
        except OSError:
            self.known.discard(number)
            return None

    def all(self) -> Iterator[HandedStates]:
        """What is known, from the first. Raises OSError where it is gone."""
        for number in sorted(self.known):
            yield HandedStates.unpacked(self._path(number).read_bytes())

    def drop(self, number: int) -> None:
        """Forget those of a unit that is done, unless what follows is stepped on from them."""
        if number != max(self.known, default=None):
            self._path(number).unlink(missing_ok=True)
            self.known.discard(number)

    def clear(self) -> None:
        for number in list(self.known):
            self._path(number).unlink(missing_ok=True)
        self.known.clear()
