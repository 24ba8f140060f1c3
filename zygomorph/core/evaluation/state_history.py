"""States at a frame: all frames before it, walked once, with checkpoints.

The state at a frame follows from the state at the frame before and from what is given at this one,
so its key is a chain over the keys of all inputs up to here. States are kept by these keys: every
one for as long as there is room, and those at each CHECKPOINT frames longest, so that going back
does not begin at the first frame. A chain itself is kept by the parts of the document that it
depends on, so that a change of anything else neither walks nor asks again.

What drives a system before and after the loop is the loop as it is played, again and again.

While a value is dragged that the past depends on, frames are walked by strides, so many at the
most, and what they give is nearly what all of them will when the hand lets go.
"""

from __future__ import annotations

import threading
import time as clock
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from math import ceil, floor
from typing import Any, Protocol

from zygomorph.core.cancelling import go_on
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.closing import Settled, difference
from zygomorph.core.evaluation.handed_states import HandedStates, ReadStates, Shelf
from zygomorph.core.evaluation.keys import history_key, state_key
from zygomorph.core.evaluation.planned import PiecePlan, PlannedStep
from zygomorph.core.evaluation.stepped import States, SteppedMask, SteppedSystem, Walked
from zygomorph.core.memo.memo import Memo
from zygomorph.core.progress import share_is_done

CHECKPOINT = 12
# Frames that are walked outside of a loop, at most.
MOST_WALKED = 20_000
# Frames that are walked for a picture of a drag.
MOST_WHILE_DRAGGED = 60
CHAIN_BYTES = 100
# Frames after which it is told how far a walk is.
TELL_EVERY = 8
MOST_CHAINS = 20_000_000


class StateCache:
    """States by their keys, and the chains of these keys."""

    def __init__(self, limit_bytes: int, shelf: Shelf | None = None) -> None:
        """shelf : where states are looked for that are not in memory"""
        self._shelf = shelf
        self._recent: Memo[States] = Memo(limit_bytes // 2)
        self._checkpoints: Memo[States] = Memo(limit_bytes // 2)
        self._chains: Memo[Chain] = Memo(MOST_CHAINS)
        self._settled: Memo[Settled] = Memo(MOST_CHAINS)
        self._took: Memo[float] = Memo(MOST_CHAINS)
        self._read: ReadStates | None = None

    def get(self, key: str, frame: int) -> States | None:
        found = (self._checkpoints if frame % CHECKPOINT == 0 else self._recent).get(key)
        if found is None and self._shelf is not None:
            found = self._shelf.states(key)
            if found is not None:
                self.put(key, frame, found)
        return found

    def put(self, key: str, frame: int, states: States) -> None:
        (self._checkpoints if frame % CHECKPOINT == 0 else self._recent).put(key, states)

    @contextmanager
    def reading(self) -> Iterator[ReadStates]:
        """Notes what evaluations read; one at a time."""
        self._read = ReadStates()
        try:
            yield self._read
        finally:
            self._read = None

    def was_read(self, key: str, frame: int, states: States) -> None:
        if self._read is not None:
            self._read.states[key] = frame, states

    def handed(self, read: ReadStates) -> HandedStates:
        """What was read, for another process."""
        chains = {key: self._chains.get(key) for key in read.chains}
        settled = {key: self._settled.get(key) for key in read.settled}
        return HandedStates(
            dict(read.states),
            {key: (c.first, tuple(c.keys)) for key, c in chains.items() if c is not None},
            {key: each for key, each in settled.items() if each is not None},
        )

    def adopt(self, handed: HandedStates) -> None:
        """Know what another process has read."""
        for key, (frame, states) in handed.states.items():
            self.put(key, frame, states)
        for key, each in handed.settled.items():
            self._settled.put(key, each)
        for key, (first, keys) in handed.chains.items():
            chain = self.chain(key, first, len(keys))
            with chain.lock:
                if len(chain.keys) < len(keys):
                    chain.keys[:] = keys

    def settled(self, key: str, find: Callable[[], Settled]) -> Settled:
        if self._read is not None:
            self._read.settled.add(key)
        if self._shelf is not None and self._settled.get(key) is None:
            kept = self._shelf.settled(key)
            if kept is not None:
                self._settled.put(key, kept)
        return self._settled.once(key, find)

    def known_settled(self, key: str) -> int | None:
        """Loops that a system ran ahead until it settled; None where nobody found out."""
        found = self._settled.get(key)
        return None if found is None else found.loops

    def note(self, piece: str, step: str, frames: int, seconds: float) -> None:
        """What it took to walk some frames of a step."""
        if frames:
            self._took.put((piece, step), seconds / frames)

    def seconds_a_frame(self, piece: str, step: str) -> float | None:
        return self._took.get((piece, step))

    def chain(self, key: str, first: int, frames: int) -> Chain:
        """frames : about how many it will have, which it is counted for"""
        if self._read is not None:
            self._read.chains.add(key)
        found = self._chains.get(key)
        if found is None:
            found = Chain(first)
            kept = self._shelf.chain(key) if self._shelf is not None else None
            if kept is not None and kept[0] == first:
                found.keys[:] = kept[1]
            self._chains.put(key, found, CHAIN_BYTES * frames)
        return found


@dataclass
class Chain:
    """Keys of the states at the first frame and each stride after it."""

    first: int
    keys: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)


class Begun(Walked, Protocol):
    """An evaluation at another frame, of which steps are taken one by one."""

    key: str

    def pass_key(self, step: PlannedStep) -> None: ...
    def take(self, index: int, step: PlannedStep) -> None: ...


class StateHistory:
    """The past of one evaluation.

    at_frame : begins an evaluation of the same piece at another frame, up to a step by its id
    """

    def __init__(
        self,
        study: Study,
        plan: PiecePlan,
        request: Any,
        states: StateCache,
        at_frame: Callable[[float, str], Begun],
    ) -> None:
        self._study = study
        self._plan = plan
        self._request = request
        self._states = states
        self._at_frame = at_frame

    def _stride(self, first: int, last: int) -> int:
        if not self._request.dragged:
            return 1
        return max(1, ceil((last - first) / MOST_WHILE_DRAGGED))

    def _before(self, step: PlannedStep) -> tuple[PlannedStep, ...]:
        steps = self._plan.steps
        return steps[: next(k for k, each in enumerate(steps) if each.id == step.id)]

    @property
    def loop(self) -> Loop:
        return self._study.loop

    def settled(self, step: PlannedStep, stepped: SteppedSystem) -> Settled:
        """How many loops a system runs ahead until it repeats.

        While something is dragged, one: what is shown then need not close.
        """
        if self._request.dragged:
            return Settled(1, 1.0, False)
        own = history_key(
            self._study, self._request.piece, step.id, stepped.name, self._request.final
        )
        return self._states.settled(own, lambda: self._find_settled(step, stepped))

    def _find_settled(self, step: PlannedStep, stepped: SteppedSystem) -> Settled:
        frames, most = self.loop.frames, round(stepped.number("most_loops"))
        most = max(1, min(most, MOST_WALKED // max(frames, 1) - 1))
        tolerance = stepped.number("tolerance") / 100
        before, left = self.states(step, stepped, 0), 1.0
        for loops in range(1, most + 1):
            share_is_done((loops - 1) / most)
            after = self.states(step, stepped, loops * frames)
            left = difference(before, after)
            if left <= tolerance:
                return Settled(loops - 1, left, True)
            before = after
        return Settled(most, left, False)

    def _known_chain(self, step: PlannedStep, stepped: SteppedMask | SteppedSystem) -> Chain:
        """The chain of all frames."""
        own = history_key(
            self._study, self._request.piece, step.id, stepped.name, self._request.final
        )
        return self._states.chain(own, stepped.begins, self._study.loop.frames)

    def key(self, step: PlannedStep, stepped: SteppedMask | SteppedSystem, frame: float) -> str:
        """Key of the states that are read at a frame of the loop."""
        moments = stepped.moments(self, frame)
        found = [self._walk(step, stepped, floor(m.frame), states=False)[0] for m in moments]
        return "+".join(
            f"{key}*{moment.share!r}" for key, moment in zip(found, moments, strict=True)
        )

    def states(
        self, step: PlannedStep, stepped: SteppedMask | SteppedSystem, frame: float
    ) -> States:
        """The states at the whole frame of the run before one; none before the first.

        Raises Cancelled where nobody waits any more; what was walked is kept.
        """
        return self._walk(step, stepped, floor(frame), states=True)[1]

    def _walk(
        self, step: PlannedStep, stepped: SteppedMask | SteppedSystem, last: int, states: bool
    ) -> tuple[str, States]:
        first = stepped.begins
        if last < first:
            return "", {}
        self._within_reach(first, last)
        chain, stride = self._known_chain(step, stepped), self._stride(first, last)
        if stride > 1 and not self._is_near(chain, last):
            # Of a past that was not walked yet only some frames are, without waiting for whoever
            # walks all of them just now.
            chain = Chain(first)
        else:
            stride = 1
        with chain.lock:
            frames = [*range(first, last + 1, stride)]
            frames += [last] if frames[-1] != last else []
            self._find_keys(chain, step, stepped, frames, stride)
            keys = chain.keys[: len(frames)]
            if not states:
                return keys[-1], {}
            found = self._advanced(step, stepped, frames, keys)
        if stride == 1:
            self._states.was_read(keys[-1], last, found)
        return keys[-1], found

    def _is_near(self, chain: Chain, last: int) -> bool:
        """Whether a state is kept from which the one at a frame is a few frames away."""
        known, at = chain.keys, last - chain.first
        if len(known) <= at:
            return False
        near = range(at, max(at - CHECKPOINT, -1), -1)
        return any(self._states.get(known[k], chain.first + k) is not None for k in near)

    def _within_reach(self, first: int, last: int) -> None:
        most = max(MOST_WALKED, 2 * self._study.loop.frames)
        if last - first > most:
            raise ZygomorphError(
                f"To know what is remembered at frame {last:,}, {last - first:,} frames before it "
                f"would be walked; the limit is {most:,}.",
                "Ask for a frame within the loop.",
            )

    def _find_keys(
        self,
        chain: Chain,
        step: PlannedStep,
        stepped: SteppedMask | SteppedSystem,
        frames: list[int],
        stride: int,
    ) -> None:
        """Add the keys of all these frames that the chain does not have."""
        before = self._before(step)
        still = not any(each.moves for each in before)
        given = chain.keys[0].partition("/")[0] if still and chain.keys else ""
        for at in frames[len(chain.keys) :]:
            go_on()
            walked = self._at_frame(float(self.loop.played(at)), before[-1].id)
            if not given or not still:
                for number, each in enumerate(before):
                    if each.on or number == 0:
                        walked.pass_key(each)
                given = walked.key
            known = chain.keys[-1] if chain.keys else ""
            own = stepped.fingerprint(walked)
            key = state_key(given, known, own, stepped.dependencies, walked.context, stride)
            chain.keys.append(f"{given}/{key}")

    def _advanced(
        self,
        step: PlannedStep,
        stepped: SteppedMask | SteppedSystem,
        frames: list[int],
        keys: list[str],
    ) -> States:
        """The states at the last of the frames, from the last at which they are kept."""
        known: States | None = None
        at = len(frames) - 1
        while at >= 0:
            known = self._states.get(keys[at], frames[at])
            if known is not None:
                break
            at -= 1
        before = self._before(step)
        found: States = known or {}
        started = clock.perf_counter()
        for k in range(at + 1, len(frames)):
            go_on()
            if k % TELL_EVERY == 0 and len(frames) - at > TELL_EVERY:
                share_is_done((k - at) / (len(frames) - at))
            walked = self._at_frame(float(self.loop.played(frames[k])), before[-1].id)
            for number, each in enumerate(before):
                walked.take(number, each)
            passed = frames[k] - frames[k - 1] if k else 1
            found = stepped.advance(found, frames[k], passed, walked)
            self._states.put(keys[k], frames[k], found)
        walked_frames = len(frames) - (at + 1)
        seconds = clock.perf_counter() - started
        self._states.note(self._request.piece, step.id, walked_frames, seconds)
        return found
