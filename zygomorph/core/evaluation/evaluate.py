"""Recipe and frame to mesh: what is static is computed once, what moves once a frame.

Every step is a pure function, so its result is known by a key: the step, its version, its values
at this time, the key of its input, its mask, and the part of the context that it reads. The head
of a recipe in which nothing moves has the same key at every frame and is found again; the first
step that moves, and all after it, have new keys. A change of one value changes the keys of that
step and of those after it, and of nothing else.
"""

from __future__ import annotations

import time as clock
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import (
    EYE,
    STRUCTURE_BYTES,
    Context,
    Other,
    no_assets,
    no_images,
    no_others,
)
from zygomorph.core.animation.per_element import at_elements
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.cancelling import cancelled_when, go_on
from zygomorph.core.document.study import Study
from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.keys import step_key
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.rebuild import rebuilt
from zygomorph.core.evaluation.state_history import StateCache, StateHistory
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.image import Images
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.rigid_shards import move_shards, sample_frame
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.gate import GATE, SMALL
from zygomorph.core.masking.blending import ONE, ResolvedLayer, weights
from zygomorph.core.memo.memo import Memo
from zygomorph.core.transforms.parent_space import in_parent_space
from zygomorph.core.values.definitions import TopologyDefinition


@dataclass(frozen=True)
class Kept:
    """A mesh in the cache with the weights its last step had."""

    mesh: Mesh
    weights: np.ndarray
    low: np.ndarray
    high: np.ndarray


@dataclass
class StepReport:
    """What a step cost and did: milliseconds, counts after it, whether it was in the cache."""

    step_id: str
    milliseconds: float
    points: int
    faces: int
    reused: bool


@dataclass
class Result:
    """A piece at a frame.

    weights : the mask of the step that was asked for, (P,) or (1,) float32, or None
    low, high : the box of the points, (3,) metres
    whole : how many points there are, of which the mesh may have only every so many
    """

    mesh: Mesh
    place: np.ndarray
    key: str
    low: np.ndarray
    high: np.ndarray
    steps: list[StepReport] = field(default_factory=list)
    weights: np.ndarray | None = None
    whole: int = 0


@dataclass
class Request:
    """What to evaluate, and how.

    mask_of : id of a step whose mask is wanted
    until : id of the last step to apply, or None for all
    keep_tail : keep what moving steps made, for when the same frame will be asked for again
    cancelled : asked between steps and inside long ones; where it says yes, Cancelled is raised
    patience : seconds to wait for the cores, then one is taken beside those that work; None for
        as long as it takes
    stride : of loose points, only every so many are wanted
    shared : take one core, because many frames are wanted; otherwise all cores work on this one
    """

    piece: str
    frame: float = 0.0
    final: bool = False
    mask_of: str | None = None
    until: str | None = None
    keep_tail: bool = False
    stride: int = 1
    shared: bool = False
    cancelled: Callable[[], bool] = lambda: False
    patience: float | None = None


class Evaluator:
    """Evaluates studies with one cache; may be used from several threads."""

    def __init__(
        self,
        asset: Callable[[str], Mesh] = no_assets,
        cache_bytes: int = 512_000_000,
        image: Images = no_images,
    ) -> None:
        self._cache_bytes = cache_bytes
        self._asset = asset
        self._image = image
        self.forget()

    def forget(self) -> None:
        """Begin again with nothing kept."""
        self.cache: Memo[Kept] = Memo(self._cache_bytes)
        self.structures: Memo[Any] = Memo(STRUCTURE_BYTES)
        self.states = StateCache(self._cache_bytes // 4)

    def evaluate(self, study: Study, request: Request) -> Result:
        """The mesh of a piece at a frame.

        Raises StepError where a step cannot do its work, ZygomorphError where the piece is not
        there, Cancelled where nobody waits any more.
        """
        enter = GATE.narrow if request.shared else GATE.wide
        with enter(request.patience), cancelled_when(request.cancelled):
            return self._run(study, request, ())

    def recount(self) -> None:
        """Count what was derived of new meshes since they were made; called when a frame is done,
        because packing it derives the most."""
        self.cache.recount()
        self.structures.recount()

    def _begun(self, study: Study, request: Request, trail: tuple[str, ...]) -> _Run:
        """An evaluation of which no step is taken yet.

        trail : the pieces that led here, each of which uses the next
        """
        plan = plan_piece(study, request.piece, request.final)
        times = np.array([request.frame], np.float64)
        place = plan.place_at(times)
        trail = (*trail, request.piece)
        made: dict[str, Other] = {}

        def other(piece_id: str) -> Other:
            if piece_id not in made:
                made[piece_id] = self._other(study, request, place, piece_id, trail)
                within_budget(
                    sum(len(each.mesh.points) for each in made.values()),
                    what="The pieces that this one uses have together",
                )
            return made[piece_id]

        context = Context(
            study.loop,
            request.frame,
            place,
            self._asset,
            other,
            self._image,
            study.sounds,
            viewer=np.array(study.document.get("camera", {}).get("position", EYE), np.float64),
            memo=self.structures,
        )

        def at_frame(frame: float, until: str) -> _Run:
            return self._begun(
                study,
                replace(
                    request,
                    frame=frame,
                    until=until,
                    mask_of=None,
                    stride=1,
                    keep_tail=False,
                ),
                trail[:-1],
            )

        history = StateHistory(study, plan, request, self.states, at_frame)
        return _Run(self.cache, context, request, times, plan.last_needing_neighbours, history)

    def _run(self, study: Study, request: Request, trail: tuple[str, ...]) -> Result:
        """One piece, and those it uses, within one passage of the gate."""
        run = self._begun(study, request, trail)
        for index, step in enumerate(plan_piece(study, request.piece, request.final).steps):
            go_on()
            run.take(index, step)
            if step.id == request.until:
                break
        return run.result()

    def _other(
        self,
        study: Study,
        request: Request,
        place: np.ndarray,
        piece_id: str,
        trail: tuple[str, ...],
    ) -> Other:
        names = {piece["id"]: piece["name"] for piece in study.pieces}
        if piece_id not in names:
            return no_others(piece_id)
        if piece_id in trail:
            way = " → ".join(f"“{names[p]}”" for p in (*trail, piece_id))
            raise ZygomorphError(
                f"The pieces wait for each other: {way}.", "Choose another piece in one of them."
            )
        wanted = replace(request, piece=piece_id, mask_of=None, until=None, stride=1)
        try:
            found = self._run(study, wanted, trail)
        except StepError as error:
            raise ZygomorphError(
                f"“{names[piece_id]}”, which it uses, cannot be made: {error.message}", error.hint
            ) from error
        return Other(names[piece_id], found.mesh, np.linalg.inv(place) @ found.place, found.key)

    def before(
        self, study: Study, piece_id: str, step_id: str, frame: float, final: bool
    ) -> tuple[Result, np.ndarray]:
        """What a step acts on, and its mask over that, (P,) or (1,) float32.

        Raises what evaluating raises, and ZygomorphError where the piece has no such step, or it
        is the form.
        """
        steps = plan_piece(study, piece_id, final).steps
        index = next((k for k, step in enumerate(steps) if step.id == step_id), 0)
        if index == 0:
            raise ZygomorphError(f"The piece has no step {step_id!r} with something before it.")
        request = Request(piece_id, frame, final, until=steps[index - 1].id, keep_tail=True)
        with GATE.wide():
            run = self._begun(study, request, ())
            for number, step in enumerate(steps[:index]):
                run.take(number, step)
            return run.result(), run.mask(steps[index])


def _decimated(kept: Kept, stride: int) -> Kept:
    """Every so many of loose points, with what stands at them; the box stays that of all."""
    attributes = {
        name: np.ascontiguousarray(values[::stride])
        for name, values in kept.mesh.attributes.get("point", {}).items()
    }
    points = np.ascontiguousarray(kept.mesh.points[::stride])
    mesh = Mesh(points, Topology(len(points)), {"point": attributes})
    weights = kept.weights
    if len(weights) > 1:
        weights = np.ascontiguousarray(weights[::stride])
    return replace(kept, mesh=mesh, weights=weights)


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


class _Run:
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
        self.weights: np.ndarray | None = None
        self.moving = False
        self.found = request.mask_of is None

    def take(self, index: int, step: PlannedStep) -> None:
        started = clock.perf_counter()
        if not step.on and index > 0:
            self._report(step, started, reused=True)
            return
        values = step.values.at(self.times)
        layers = step.layers_at(self.times, self.context.place)
        GATE.suit(len(self.kept.mesh.points) if self.kept else SMALL + 1)
        with _told_of(step):
            self.key = self.next_key(step, values, layers)
        self.moving = self.moving or step.moves
        kept = self.cache.get(self.key)
        reused = kept is not None
        if kept is None:
            kept = self._apply(step, values, layers)
            if not self.moving or self.request.keep_tail:
                self.cache.put(self.key, kept)
        self.kept = kept
        if step.id == self.request.mask_of:
            self.weights = kept.weights
            self.found = True
        if index == self.decimate_after and self.request.stride > 1:
            self._thin(kept)
        self._report(step, started, reused)

    def _thin(self, kept: Kept) -> None:
        topology = kept.mesh.topology
        if topology.face_count or topology.curve_count:
            return
        self.whole = len(kept.mesh.points)
        self.key += f"/{self.request.stride}"
        thin = self.cache.get(self.key)
        if thin is None:
            thin = _decimated(kept, self.request.stride)
            if not self.moving or self.request.keep_tail:
                self.cache.put(self.key, thin)
        self.kept = thin
        if self.weights is not None and len(self.weights) == self.whole:
            self.weights = np.ascontiguousarray(self.weights[:: self.request.stride])

    def pass_key(self, step: PlannedStep) -> None:
        """Take the step as far as its result has a key, without the work."""
        values = step.values.at(self.times)
        self.key = self.next_key(step, values, step.layers_at(self.times, self.context.place))

    def mask(self, step: PlannedStep) -> np.ndarray:
        """The mask of a step over what there is so far, (P,) or (1,) float32."""
        assert self.kept is not None
        layers = step.layers_at(self.times, self.context.place)
        with _told_of(step), np.errstate(all="ignore"):
            return self._mask(step, self.kept.mesh, layers)

    def _mask(self, step: PlannedStep, mesh: Mesh, layers: list[ResolvedLayer]) -> np.ndarray:
        states = self.history.states(step, self.request.frame) if step.remembers else None
        return weights(mesh, layers, self.context, states)

    def next_key(self, step: PlannedStep, values: Resolved, layers: list[ResolvedLayer]) -> str:
        """Key of what the step will make of what there is."""
        motion = step.motion(self.times, self.context.place)
        # What it remembers depends on all frames before.
        remembered = self.history.key(step, self.request.frame) if step.remembers else ""
        return step_key(self.key, step, values, layers, self.context, motion, remembered)

    def _apply(
        self,
        step: PlannedStep,
        values: Resolved,
        layers: list[ResolvedLayer],
    ) -> Kept:
        definition = step.definition
        before = self.kept.mesh if self.kept else None
        weight = ONE
        with _told_of(step), np.errstate(all="ignore"):
            if before is None:
                mesh = definition.apply(values, self.context)
            else:
                weight = self._mask(step, before, layers)
                values = at_elements(values, before, self.context)
                mesh = self._moved(step, before, values, weight)
        if definition.changes_topology:
            mesh = replace(mesh, topology=mesh.topology.triangulated(mesh.rest))
        low, high, finite = box_of(mesh.points)
        if not finite:
            raise StepError(
                step.id,
                f"{definition.title} gave points that are not finite numbers.",
                "Bring its values nearer to their defaults.",
            )
        if step.store and before is not None and len(mesh.points) == len(before.points):
            full = np.broadcast_to(weight, len(mesh.points)).astype(np.float32)
            mesh = mesh.with_attribute("point", MASK + step.store, full)
        return Kept(mesh, weight, low, high)

    def _moved(self, step: PlannedStep, before: Mesh, values: Resolved, weight: np.ndarray) -> Mesh:
        if isinstance(step.definition, TopologyDefinition):
            return rebuilt(step.definition, before, values, weight, self.context)
        apply = in_parent_space(step.definition.apply, step.motion(self.times, self.context.place))
        if step.moved == "points":
            return apply(before, values, weight, self.context)
        felt = replace(
            values,
            numbers={name: sample_frame(before, array) for name, array in values.numbers.items()},
        )
        return move_shards(
            before,
            weight,
            step.moved == "tilted",
            lambda mesh, weights: apply(mesh, felt, weights, self.context),
        )

    def _report(self, step: PlannedStep, started: float, reused: bool) -> None:
        mesh = self.kept.mesh if self.kept else None
        self.reports.append(
            StepReport(
                step.id,
                (clock.perf_counter() - started) * 1000,
                self.whole or (len(mesh.points) if mesh else 0),
                mesh.topology.face_count if mesh else 0,
                reused,
            )
        )

    def result(self) -> Result:
        assert self.kept is not None  # a checked recipe begins with a form
        if not self.found:
            raise ZygomorphError(f"The piece has no step {self.request.mask_of!r}.")
        kept = self.kept
        return Result(
            kept.mesh,
            self.context.place,
            self.key,
            kept.low,
            kept.high,
            self.reports,
            self.weights,
            self.whole or len(kept.mesh.points),
        )
