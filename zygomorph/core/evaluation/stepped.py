"""What goes from frame to frame: remembering mask layers of a step, and steps that are systems.

Both have a state that starts at a first frame, advances by whole frames, and gives something at
any frame from the state at the whole frame before it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Protocol

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.evaluation.closing import Moment, blended_moments
from zygomorph.core.evaluation.dependencies import Dependencies
from zygomorph.core.evaluation.planned import PlannedLayer, PlannedStep
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.blending import shaped
from zygomorph.core.values.definitions import SystemDefinition

States = Mapping[str, Any]


class Walked(Protocol):
    """An evaluation of a piece at another frame, up to the step."""

    context: Context
    times: np.ndarray

    @property
    def forces(self) -> Sequence[Any]: ...
    def mask_mesh(self, step: PlannedStep) -> Mesh: ...
    def mask(self, step: PlannedStep) -> np.ndarray: ...


class Stepped(Protocol):
    """What a step has of that.

    begins : the first frame of which anything is known
    dependencies : besides its values and what it is given
    """

    @property
    def begins(self) -> int: ...
    @property
    def dependencies(self) -> Dependencies: ...
    def fingerprint(self, walked: Walked) -> bytes:
        """The same bytes for the same values at the moment, and only then."""
        ...

    def moments(self, history: Any, frame: float) -> Sequence[Moment]:
        """Where in its own run a frame of the loop is; none before it begins."""
        ...

    def advance(self, known: States, frame: int, frames: int, walked: Walked) -> States:
        """States at a frame, from those so many frames before; none before the first."""
        ...


class SteppedMask:
    """The layers of a step's mask that remember, by their ids."""

    name = "mask"

    def __init__(self, step: PlannedStep) -> None:
        self._step = step
        self._layers: Sequence[PlannedLayer] = [
            layer for layer in step.layers if layer.memory is not None
        ]

    @property
    def begins(self) -> int:
        return min(layer.memory.begins for layer in self._layers if layer.memory is not None)

    @property
    def dependencies(self) -> Dependencies:
        return Dependencies().joined(layer.dependencies for layer in self._layers)

    def moments(self, history: Any, frame: float) -> Sequence[Moment]:
        return [Moment(frame)]

    def fingerprint(self, walked: Walked) -> bytes:
        place = walked.context.place
        # The mask of a step that makes copies is read on these.
        makes = self._step.definition.makes_copies
        own = self._step.values.at(walked.times).fingerprint if makes else b""
        at = [(layer.id, layer.at(walked.times, place)) for layer in self._layers]
        return b"|".join([own, *(name.encode() + layer.fingerprint for name, layer in at)])

    def advance(self, known: States, frame: int, frames: int, walked: Walked) -> States:
        mesh = walked.mask_mesh(self._step)
        found: dict[str, Any] = {}
        for each in self._layers:
            memory = each.memory
            if memory is None or frame < memory.begins:
                continue
            layer = each.at(walked.times, walked.context.place)
            own = shaped(mesh, layer, walked.context)
            if len(own) == 1:
                own = np.broadcast_to(own, len(mesh.points)).copy()
            state = known.get(each.id)
            found[each.id] = (
                memory.start(frame, own, mesh)
                if state is None
                else memory.advance(state, frame, frames, own, mesh)
            )
        return found


class SteppedSystem:
    """A step that is a system; its state stands under its own id."""

    name = "system"

    def __init__(self, step: PlannedStep) -> None:
        assert isinstance(step.definition, SystemDefinition)
        self._step = step
        self._definition = step.definition

    @property
    def id(self) -> str:
        return self._step.id

    @property
    def closing(self) -> str:
        if self._step.plays_once:
            # It need not come back, and has nothing behind it when it begins.
            return "once"
        found: str = self._step.values.still.discrete("closing")
        return found

    def number(self, name: str) -> float:
        """One of the values that say how it closes, which stand still."""
        return self._step.values.still.scalar(name)

    @property
    def begins(self) -> int:
        if self.closing == "settles":
            return 0
        before = self.number("prerun")
        if self.closing == "blended":
            before = max(before, self.number("blend"))
        return -round(before)

    def moments(self, history: Any, frame: float) -> Sequence[Moment]:
        if self.closing == "settles":
            # What came before the loop is the end of the loop before.
            ahead = history.settled(self._step, self).loops * history.loop.frames
            return [Moment(frame + ahead)] if frame + ahead >= 0 else []
        if self.closing == "blended":
            return blended_moments(frame, history.loop, round(self.number("blend")))
        return [Moment(frame)] if frame >= self.begins else []

    @property
    def dependencies(self) -> Dependencies:
        return self._step.dependencies

    def fingerprint(self, walked: Walked) -> bytes:
        layers = self._step.layers_at(walked.times, walked.context.place)
        own = self._step.values.at(walked.times).fingerprint
        motion = self._step.motion(walked.times, walked.context.place)
        carried = b"" if motion is None else motion.tobytes()
        return b"|".join([own, carried, *(layer.fingerprint for layer in layers)])

    def advance(self, known: States, frame: int, frames: int, walked: Walked) -> States:
        mesh, values = walked.mask_mesh(self._step), self._step.values.at(walked.times)
        weights = walked.mask(self._step)
        motion = self._step.motion(walked.times, walked.context.place)
        context = replace(
            walked.context, frame=float(frame), parent_motion=motion, forces=walked.forces
        )
        state = known.get(self._step.id)
        own = self._definition
        made = (
            own.start(mesh, values, weights, context)
            if state is None
            else own.advance(state, mesh, values, weights, context, frames)
        )
        return {self._step.id: made}


def stepped_mask(step: PlannedStep) -> SteppedMask | None:
    return SteppedMask(step) if step.remembers else None


def stepped_system(step: PlannedStep) -> SteppedSystem | None:
    return SteppedSystem(step) if isinstance(step.definition, SystemDefinition) else None
