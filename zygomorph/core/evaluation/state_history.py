"""What mask layers remember at a frame: all frames before it, walked once, with checkpoints.

The state at a frame follows from the state at the frame before and from the layer at this one, so
its key is a chain over the keys of all inputs up to here. States are kept by these keys: every
one for as long as there is room, and those at each CHECKPOINT frames longest, so that going back
does not begin at the first frame.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from math import floor
from typing import Any, Protocol

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.cancelling import go_on
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.dependencies import Dependencies
from zygomorph.core.evaluation.keys import state_key
from zygomorph.core.evaluation.planned import PiecePlan, PlannedStep
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.blending import shaped
from zygomorph.core.memo.memo import Memo

CHECKPOINT = 12
# Frames that are walked outside of a loop, at most.
MOST_WALKED = 20_000
States = dict[str, np.ndarray | None]


class StateCache:
    """States by their keys."""

    def __init__(self, limit_bytes: int) -> None:
        self._recent: Memo[States] = Memo(limit_bytes // 2)
        self._checkpoints: Memo[States] = Memo(limit_bytes // 2)

    def get(self, key: str, frame: int) -> States | None:
        return (self._checkpoints if frame % CHECKPOINT == 0 else self._recent).get(key)

    def put(self, key: str, frame: int, states: States) -> None:
        size = sum(state.nbytes for state in states.values() if state is not None)
        (self._checkpoints if frame % CHECKPOINT == 0 else self._recent).put(key, states, size)


@dataclass
class Chain:
    """Keys of the states of one step's layers, for its first frame and those after it."""

    first: int
    keys: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)


class Walked(Protocol):
    """An evaluation of a piece at another frame, up to some step."""

    key: str
    context: Context
    times: np.ndarray

    def pass_key(self, step: PlannedStep) -> None: ...
    def take(self, index: int, step: PlannedStep) -> None: ...
    def mask_mesh(self, step: PlannedStep) -> Mesh: ...


def _dependencies(step: PlannedStep) -> Dependencies:
    """Of the layers that remember."""
    return Dependencies().joined(
        layer.dependencies for layer in step.layers if layer.memory is not None
    )


class StateHistory:
    """Recalls for one evaluation.

    at_frame : begins an evaluation of the same piece at another frame, up to a step by its id
    """

    def __init__(
        self,
        study: Study,
        plan: PiecePlan,
        request: Any,
        states: StateCache,
        at_frame: Callable[[float, str], Walked],
    ) -> None:
        self._study = study
        self._plan = plan
        self._request = request
        self._states = states
        self._at_frame = at_frame

    def _chain(self, step: PlannedStep) -> Chain:
        begins = min(layer.memory.begins for layer in step.layers if layer.memory is not None)
        name = ("chain", self._request.piece, self._request.final, step.id)
        return self._study.once(name, lambda: Chain(begins))

    def _before(self, step: PlannedStep) -> tuple[PlannedStep, ...]:
        steps = self._plan.steps
        return steps[: next(k for k, each in enumerate(steps) if each.id == step.id)]

    def key(self, step: PlannedStep, frame: float) -> str:
        """Key of what the step's layers remember at a frame."""
        chain = self._chain(step)
        with chain.lock:
            return self._key(chain, step, floor(frame))

    def _key(self, chain: Chain, step: PlannedStep, frame: int) -> str:
        if frame < chain.first:
            return ""
        most = max(MOST_WALKED, 2 * self._study.loop.frames)
        if frame - chain.first > most:
            raise ZygomorphError(
                f"To know what a mask remembers at frame {frame:,}, {frame - chain.first:,} frames "
                f"before it would be walked; the limit is {most:,}.",
                "Ask for a frame within the loop.",
            )
        before = self._before(step)
        still = not any(each.moves for each in before)
        while chain.first + len(chain.keys) <= frame:
            go_on()
            at = chain.first + len(chain.keys)
            walked = self._at_frame(float(at), before[-1].id)
            if still and chain.keys:
                given = chain.keys[0].partition("/")[0]
            else:
                for number, each in enumerate(before):
                    if each.on or number == 0:
                        walked.pass_key(each)
                given = walked.key
            before_it = chain.keys[-1] if chain.keys else ""
            layers = step.layers_at(walked.times, walked.context.place)
            own = [layer for layer in layers if layer.memory is not None]
            key = state_key(given, before_it, own, _dependencies(step), walked.context)
            chain.keys.append(f"{given}/{key}")
        return chain.keys[frame - chain.first]

    def states(self, step: PlannedStep, frame: float) -> States:
        """What each layer that remembers knows at the whole frame before, by its id.

        Raises Cancelled where nobody waits any more; what was walked is kept.
        """
        last = floor(frame)
        chain = self._chain(step)
        with chain.lock:
            self._key(chain, step, last)
            at, states = last, None
            while at >= chain.first:
                states = self._states.get(chain.keys[at - chain.first], at)
                if states is not None:
                    break
                at -= 1
            known: States = states or {}
            for each in range(max(at + 1, chain.first), last + 1):
                go_on()
                known = self._advanced(step, each, known)
                self._states.put(chain.keys[each - chain.first], each, known)
            return known

    def _advanced(self, step: PlannedStep, frame: int, known: States) -> States:
        before = self._before(step)
        walked = self._at_frame(float(frame), before[-1].id)
        for number, each in enumerate(before):
            walked.take(number, each)
        mesh = walked.mask_mesh(step)
        found: States = {}
        for layer in step.layers_at(walked.times, walked.context.place):
            if layer.memory is None or frame < layer.memory.begins:
                continue
            own = shaped(mesh, layer, walked.context)
            if len(own) == 1:
                own = np.broadcast_to(own, len(mesh.points)).copy()
            found[layer.id] = layer.memory.advance(known.get(layer.id), frame, own, mesh)
        return found
