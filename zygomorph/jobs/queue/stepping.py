"""Steps systems and memory masks once for all frames of a job.

Their states at each frame are saved beside the job's frames, one file a frame, and sent to the
worker that draws the frame, so that no worker has to step from the beginning. One worker steps at a
time, some frames a task, while others draw the frames whose states are known already.
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

# Frames stepped by one task.
AT_ONCE = 8
FOLDER, ENDING = "states", ".bin"


def stateful_pieces(study: Study, final: bool) -> dict[str, str]:
    """Visible pieces, and pieces that these use, that have a system or a memory mask.

    Returns the id of each and of its last step that has state, in the order of evaluation.
    """
    found: dict[str, str] = {}
    shown = [piece["id"] for piece in study.pieces if piece.get("visible", True)]
    used = [name for piece in shown for name in used_pieces(study, piece, final)]
    for piece in dict.fromkeys([*used, *shown]):
        stateful = [step.id for step in plan_piece(study, piece, final).steps if _has_state(step)]
        if stateful:
            found[piece] = stateful[-1]
    return found


def _has_state(step: object) -> bool:
    return bool(getattr(step, "on", False) and getattr(step, "has_a_past", False))


def is_stepped_ahead(study: Study, order: Order, total: int) -> bool:
    """Whether states are computed by tasks of their own before the job's frames are drawn."""
    if isinstance(order, MeshOrder) and order.kind == "cache":
        return True
    if isinstance(order, ClipOrder) or total < 2:
        return False
    if isinstance(order, MeshOrder) and order.kind in WHOLE:
        return False
    try:
        return bool(stateful_pieces(study, order.final))
    except ZygomorphError:
        # The worker that draws the first frame reports what is wrong.
        return False


def evaluated_times(study: Study, order: FinalOrder | MeshOrder, number: int) -> Sequence[float]:
    """All times, in frames, at which a unit evaluates the study."""
    if isinstance(order, MeshOrder):
        return [float(order.frames[0] + number)]
    frame = order.drawn_times(study.loop)[number]
    moments = order.settings.moments
    shutter = plan_scene(study, order.final).at(np.array([frame])).view.shutter
    found = [frame + shutter * k / moments for k in range(moments)]
    if "motion" in order.layers:
        found.append(frame - 1)
    return found


def step_through(
    study: Study, evaluator: Evaluator, order: FinalOrder | MeshOrder, numbers: range
) -> Iterator[tuple[int, bytes]]:
    """Yields the number of each unit and the packed states that evaluating it reads.

    Raises what evaluating raises.
    """
    stateful = stateful_pieces(study, order.final)
    for number in numbers:
        with evaluator.states.reading() as read:
            for time in evaluated_times(study, order, number):
                for piece, step in stateful.items():
                    request = Request(piece, time, order.final, until=step, shared=True)
                    evaluator.evaluate(study, request)
        yield number, evaluator.states.handed(read).packed()


def adopt_states(evaluator: Evaluator, states: bytes) -> None:
    """Let an evaluator continue from packed states."""
    evaluator.states.adopt(HandedStates.unpacked(states))


class SavedStates:
    """The states of a job's units, as files in its folder.

    known : numbers of the units whose states are there
    """

    def __init__(self, job: Path, total: int) -> None:
        self._folder, self._total = job / FOLDER, total
        names = (path.stem for path in self._folder.glob(f"*{ENDING}"))
        self.known = {int(name) for name in names if name.isdigit()}

    def _path(self, number: int) -> Path:
        return self._folder / f"{number:06d}{ENDING}"

    def next_range(self, done: set[int]) -> range | None:
        """The units to step next; None if all are done or known."""
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
        """None if the file is gone; the unit is stepped again then."""
        try:
            return self._path(number).read_bytes()
        except OSError:
            self.known.discard(number)
            return None

    def all(self) -> Iterator[HandedStates]:
        """All known states by number. Raises OSError if a file is gone."""
        for number in sorted(self.known):
            yield HandedStates.unpacked(self._path(number).read_bytes())

    def drop(self, number: int) -> None:
        """Delete the states of a unit that is done, except the last ones, from which stepping
        continues."""
        if number != max(self.known, default=None):
            self._path(number).unlink(missing_ok=True)
            self.known.discard(number)

    def clear(self) -> None:
        for number in list(self.known):
            self._path(number).unlink(missing_ok=True)
        self.known.clear()
