"""One evaluation of a piece at a frame, step after step."""

from __future__ import annotations

import time as clock
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.apply_step import Applied, applied, mask_mesh
from zygomorph.core.evaluation.closing import Moment
from zygomorph.core.evaluation.keys import step_key
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.results import Request, Result, StepReport
from zygomorph.core.evaluation.state_history import StateHistory
from zygomorph.core.evaluation.stepped import stepped_mask, stepped_system
from zygomorph.core.evaluation.watched import Watched, followed, watched
from zygomorph.core.geometry.decimation import left_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import ELEMENT_ID, Mesh
from zygomorph.core.geometry.solids.solid import fault_of, volume_of
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.gate import GATE, SMALL
from zygomorph.core.masking.blending import ResolvedLayer, weights
from zygomorph.core.memo.memo import Memo
from zygomorph.core.values.definitions import StepDefinition, SystemDefinition, TopologyDefinition


@dataclass(frozen=True)
class Kept:
    """A geometry in the cache with the weights its last step had.

    told : what this step says that it has chosen
    """

    geometry: Geometry
    made: Applied
    low: np.ndarray
    high: np.ndarray
    told: str = ""

    @cached_property
    def volume(self) -> float | None:
        """m³, or None of what has no inside."""
        if self.geometry.copies is not None or fault_of(self.geometry.mesh) is not None:
            return None
        mesh = self.geometry.mesh
        return volume_of(mesh.points, mesh.topology.drawn_triangles)


def _volume_change(step: PlannedStep, before: Kept | None, after: Kept) -> float | None:
    """Share of the volume by which a step that smooths made it larger, below 0 smaller; None where
    another piece comes in, or where there is no inside."""
    definition = step.definition
    if not isinstance(definition, TopologyDefinition) or not definition.keeps_volume:
        return None
    if before is None or step.values.still.discrete_values.get("piece"):
        return None
    if not before.volume or after.volume is None:
        return None
    return after.volume / before.volume - 1


def _decimated(kept: Kept, stride: int) -> Kept:
    """A mesh decimated to one of every so many of its loose points, with their attributes; the box
    stays that of all."""
    mesh = kept.geometry.mesh
    # Chance and order go by the numbers that points have among all.
    own = {ELEMENT_ID: mesh.ids("point"), **mesh.attributes.get("point", {})}
    left = left_of(len(mesh.points), stride)
    attributes = {name: np.ascontiguousarray(values[left]) for name, values in own.items()}
    points = np.ascontiguousarray(mesh.points[left])
    fewer = Mesh(points, Topology(len(points)), {"point": attributes})
    return replace(kept, geometry=Geometry((fewer,)))


@contextmanager
def _told_of(step: PlannedStep) -> Iterator[None]:
    """Errors inside are told of the step."""
    try:
        yield
    except StepError:
        raise
    except ZygomorphError as error:
        raise StepError(step.id, error.message, error.hint) from error
    except MemoryError as error:
        raise StepError(
            step.id,
            "There is not enough memory for this step.",
            "Choose a lower resolution.",
        ) from error


class Run:
    """One evaluation, step after step.

    decimate_after : the number of the step after which points may be left out
    """

    def __init__(
        self,
        cache: Memo[Kept],
        context: Context,
        request: Request,
        times: np.ndarray,
        decimate_after: int,
        history: StateHistory,
    ) -> None:
        self.decimate_after = decimate_after
        self.history = history
        self.whole: int | None = None
        self.cache = cache
        self.context = context
        self.request = request
        self.times = times
        self.key = ""
        self.kept: Kept | None = None
        self.reports: list[StepReport] = []
        self.watched: Watched | None = None
        self.moving = False
        self.found = request.mask_of is None

    def take(self, index: int, step: PlannedStep) -> None:
        started = clock.perf_counter()
        if not step.on and index > 0:
            self._report(step, started, reused=True)
            return
        values = step.values.at(self.times)
        layers = step.layers_at(self.times, self.context.place)
        GATE.suit(self.kept.geometry.work if self.kept else SMALL + 1)
        with _told_of(step):
            self.key = self.next_key(step, values, layers)
        self.moving = self.moving or step.moves
        kept = self.cache.get(self.key)
        reused = kept is not None
        if kept is None:
            kept = self._apply(step, values, layers)
            if not self.moving or self.request.keep_tail:
                self.cache.put(self.key, kept)
        before = self.kept.geometry if self.kept else None
        change = None if self.request.shared else _volume_change(step, self.kept, kept)
        self.kept = kept
        if step.id == self.request.mask_of:
            self.watched = watched(before, kept.made)
            self.found = True
        if self.watched is not None and before is not None:
            self.watched = followed(self.watched, before, kept.made)
        if index == self.decimate_after and self.request.stride > 1:
            self._decimate(kept)
        self._report(step, started, reused, change)

    def _decimate(self, kept: Kept) -> None:
        topology = kept.geometry.mesh.topology
        if kept.geometry.copies or topology.face_count or topology.curve_count:
            return
        self.whole = kept.geometry.point_count
        self.key += f"/{self.request.stride}"
        fewer = self.cache.get(self.key)
        if fewer is None:
            fewer = _decimated(kept, self.request.stride)
            if not self.moving or self.request.keep_tail:
                self.cache.put(self.key, fewer)
        self.kept = fewer
        if self.watched is not None and len(self.watched.weights) == self.whole:
            left = left_of(self.whole, self.request.stride)
            fewer_weights = np.ascontiguousarray(self.watched.weights[left])
            self.watched = self.watched._replace(weights=fewer_weights)

    def pass_key(self, step: PlannedStep) -> None:
        """Take the step as far as its result has a key, without the work."""
        values = step.values.at(self.times)
        self.key = self.next_key(step, values, step.layers_at(self.times, self.context.place))

    @property
    def forces(self) -> tuple[Any, ...]:
        """What will move the points of a system, of the steps that were taken."""
        return self.kept.geometry.forces if self.kept else ()

    def mask_mesh(self, step: PlannedStep) -> Mesh:
        """What the mask of a step is read on."""
        assert self.kept is not None
        with _told_of(step):
            values = step.values.at(self.times)
            return mask_mesh(step, self.kept.geometry, values, self.context)

    def mask(self, step: PlannedStep) -> np.ndarray:
        """The mask of a step over what there is so far, (n,) or (1,) float32."""
        return self.mask_on(step, self.mask_mesh(step))

    def mask_on(self, step: PlannedStep, mesh: Mesh) -> np.ndarray:
        """The mask of a step on a mesh, (n,) or (1,) float32."""
        with _told_of(step), np.errstate(all="ignore"):
            return self._weights(step, step.layers_at(self.times, self.context.place), mesh)

    def _weights(
        self, step: PlannedStep, layers: list[ResolvedLayer], mesh: Mesh, kind: str = "points"
    ) -> np.ndarray:
        own = stepped_mask(step)
        states = self.history.states(step, own, self.request.frame) if own else None
        return weights(mesh, layers, self.context, states, kind)

    def _states(self, step: PlannedStep) -> list[tuple[Moment, Any]]:
        """Of a system, the moments of its own run that are seen, with the states at the whole
        frames before them; of other steps, and before its first, none."""
        own = stepped_system(step)
        if own is None:
            return []
        moments = own.moments(self.history, self.request.frame)
        states = [self.history.states(step, own, m.frame).get(step.id) for m in moments]
        return [(m, s) for m, s in zip(moments, states, strict=True) if s is not None]

    def next_key(self, step: PlannedStep, values: Resolved, layers: list[ResolvedLayer]) -> str:
        """Key of what the step will make of what there is."""
        motion = step.motion(self.times, self.context.place)
        # What it remembers depends on all frames before.
        past = [own for own in (stepped_mask(step), stepped_system(step)) if own is not None]
        remembered = "/".join(self.history.key(step, own, self.request.frame) for own in past)
        return step_key(self.key, step, values, layers, self.context, motion, remembered)

    def _apply(
        self,
        step: PlannedStep,
        values: Resolved,
        layers: list[ResolvedLayer],
    ) -> Kept:
        before = self.kept.geometry if self.kept else None
        with _told_of(step), np.errstate(all="ignore"):
            made = applied(
                step,
                before,
                values,
                lambda mesh, kind="points": self._weights(step, layers, mesh, kind),
                step.motion(self.times, self.context.place),
                self.context,
                self.times,
                self._states(step),
            )
        uses = isinstance(step.definition, SystemDefinition)
        if before is not None and before.forces and not made.geometry.forces and not uses:
            # They are handed on until a system has used them.
            handed = replace(made.geometry, forces=before.forces)
            made = made._replace(geometry=handed)
        low, high, finite = made.geometry.box
        if not finite:
            raise StepError(
                step.id,
                f"{step.definition.title} gave points that are not finite numbers.",
                "Bring its values nearer to their defaults.",
            )
        return Kept(made.geometry, made, low, high, self._told(step, before, values, made.weights))

    def _told(
        self, step: PlannedStep, before: Geometry | None, values: Resolved, weights: np.ndarray
    ) -> str:
        definition = step.definition
        if before is None or not isinstance(definition, StepDefinition) or not definition.tells:
            return ""
        with _told_of(step):
            return definition.tells(before.mesh, values, weights, self.context)

    def _report(
        self, step: PlannedStep, started: float, reused: bool, volume_change: float | None = None
    ) -> None:
        geometry = self.kept.geometry if self.kept else None
        self.reports.append(
            StepReport(
                step.id,
                (clock.perf_counter() - started) * 1000,
                self.whole or (geometry.point_count if geometry else 0),
                geometry.face_count if geometry else 0,
                len(geometry.copies) if geometry and geometry.copies else 0,
                reused,
                volume_change,
                self.kept.told if self.kept and step.on else "",
            )
        )

    def result(self) -> Result:
        assert self.kept is not None  # a checked recipe begins with a form
        if not self.found:
            raise ZygomorphError(f"The piece has no step {self.request.mask_of!r}.")
        kept = self.kept
        return Result(
            kept.geometry,
            self.context.place,
            self.key,
            kept.low,
            kept.high,
            self.reports,
            self.watched.weights if self.watched else None,
            self.watched.weighed if self.watched else "points",
            self.whole or kept.geometry.point_count,
        )
