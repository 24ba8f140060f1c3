"""Recipe and frame to mesh: what is static is computed once, what moves once a frame.

Every step is a pure function, so its result is known by a key: the step, its version, its values
at this time, the key of its input, its mask, and the part of the context that it reads. The head
of a recipe in which nothing moves has the same key at every frame and is found again; the first
step that moves, and all after it, have new keys. A change of one value changes the keys of that
step and of those after it, and of nothing else.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import (
    STRUCTURE_BYTES,
    Context,
    Other,
    no_assets,
    no_others,
)
from zygomorph.core.budget import within_budget
from zygomorph.core.cancelling import cancelled_when, go_on
from zygomorph.core.document.study import Study
from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.closing import Settled
from zygomorph.core.evaluation.drawable import Drawn, cut_for_looks, drawable, written_out
from zygomorph.core.evaluation.finer import finer, has_prints
from zygomorph.core.evaluation.handed_states import Shelf
from zygomorph.core.evaluation.loop_frames import KEPT_BYTES as LOOPS_BYTES
from zygomorph.core.evaluation.loop_frames import LoopFrames
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.restarts import Restart, restarts
from zygomorph.core.evaluation.results import Request, Result, StepReport
from zygomorph.core.evaluation.run import Kept, Run
from zygomorph.core.evaluation.scene import view_at
from zygomorph.core.evaluation.shading import Faults, shaded
from zygomorph.core.evaluation.state_history import StateCache, StateHistory
from zygomorph.core.evaluation.stepped import stepped_system
from zygomorph.core.evaluation.surface_frames import KeptSurfaceFrames
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.memo.memo import Memo
from zygomorph.core.progress import step_begins
from zygomorph.core.shared.appearance import Appearance

__all__ = ["Evaluator", "Request", "Result", "StepReport"]


# Frames before and after the present one by which speeds are found (central difference).
STEP = 0.25


class Evaluator:
    """Evaluates studies with one cache; may be used from several threads."""

    def __init__(
        self,
        asset: Callable[[str], Mesh] = no_assets,
        cache_bytes: int = 512_000_000,
        image: Images | None = None,
        shelf: Shelf | None = None,
    ) -> None:
        """shelf : where states of what remembers are kept for later"""
        self._shelf = shelf
        self._cache_bytes = cache_bytes
        self._asset = asset
        self._image = image or Images()
        self.forget()

    def forget(self) -> None:
        """Begin again with nothing kept."""
        self.cache: Memo[Kept] = Memo(self._cache_bytes)
        self.structures: Memo[Any] = Memo(STRUCTURE_BYTES)
        self.states = StateCache(self._cache_bytes // 4, self._shelf)
        self.surfaces = KeptSurfaceFrames(self.placed_mesh)
        self._over_loops: Memo[np.ndarray] = Memo(LOOPS_BYTES)

    def with_geometry(self, study: Study) -> Study:
        """The study, whose cameras, lights and markers find the curves and surfaces of its pieces,
        as this evaluator makes them."""
        return replace(study, curves=self.curve, meshes=self.placed_mesh, surfaces=self.surfaces)

    def loop_frames(self) -> LoopFrames:
        """Where places of surfaces are over a whole loop, for what is told of it before all of it
        is computed."""
        return LoopFrames(self.surfaces, self._over_loops)

    def evaluate(self, study: Study, request: Request) -> Result:
        """The mesh of a piece at a frame.

        Raises StepError where a step cannot do its work, ZygomorphError where the piece is not
        there, Cancelled where nobody waits any more.
        """
        enter = GATE.narrow if request.shared else GATE.wide
        with enter(request.patience), cancelled_when(request.cancelled):
            return self._run(study, request, ())

    def appearance(
        self, study: Study, request: Request, geometry: Geometry, faults: Faults | None = None
    ) -> Appearance:
        """How the looks of a piece draw a geometry of it, at the frame that is asked for.

        faults : takes what of them cannot be read, which is left out
        """
        enter = GATE.narrow if request.shared else GATE.wide
        with enter(request.patience), cancelled_when(request.cancelled):
            GATE.suit(geometry.work)
            context = self._for_looks(study, request)
            looks = plan_piece(study, request.piece, request.final).looks
            return shaded(looks, geometry, np.array([request.frame]), context, faults)

    def drawn(
        self,
        study: Study,
        request: Request,
        for_viewer: bool = True,
        written: int = 0,
        edge_of: Callable[[Result], float] | None = None,
    ) -> Drawn:
        """What a viewer draws of a piece at a frame. Raises what :meth:`evaluate` raises.

        for_viewer : what depends on the eye is left to the viewer; otherwise it is found for the
            study's camera
        written : copies that have no more points than this are written out as one mesh
        edge_of : how long edges may be, metres, of surfaces on which patterns and pictures lie;
            without it they stay as they are
        """
        enter = GATE.narrow if request.shared else GATE.wide
        with enter(request.patience), cancelled_when(request.cancelled):
            result = drawable(self._run(study, request, ()))
            if result.geometry.point_count <= written:
                result = written_out(result, written)
            GATE.suit(result.geometry.work)
            context = self._for_looks(study, request)
            looks = plan_piece(study, request.piece, request.final).looks
            times = np.array([request.frame])
            result = cut_for_looks(result, looks, times, context)
            if edge_of is not None and has_prints(looks):
                result = finer(result, edge_of(result))
            shown = shaded(looks, result.geometry, times, context, for_viewer=for_viewer)
            return Drawn(result, shown)

    def placed_mesh(
        self, study: Study, piece_id: str, frame: float, final: bool
    ) -> tuple[Mesh, np.ndarray] | None:
        """The mesh of a piece and its world transform, (4, 4); None where it cannot be made.

        It does not wait for the gate, as :meth:`curve` does not.
        """
        if all(piece["id"] != piece_id for piece in study.pieces):
            return None
        try:
            result = self._run(study, Request(piece_id, frame, final), (), told=False)
            return result.geometry.real, result.place
        except ZygomorphError:
            # The piece itself says what is wrong with it.
            return None

    def curve(
        self, study: Study, piece_id: str, frame: float, final: bool
    ) -> tuple[np.ndarray, bool] | None:
        """The first curve of a piece, or else its points in their order, (n, 3) metres on the
        stage, and whether it is closed; None where there is nothing to follow.

        It does not wait for the gate: who asks for it may hold it already, and it takes little.
        """
        if all(piece["id"] != piece_id for piece in study.pieces):
            return None
        try:
            result = self._run(study, Request(piece_id, frame, final), (), told=False)
        except ZygomorphError:
            # The piece itself says what is wrong with it.
            return None
        mesh = result.geometry.real
        points = transformed(mesh.points, result.place).astype(np.float64)
        topology = mesh.topology
        if topology.curve_count:
            order = topology.curve_points[topology.curve_starts[0] : topology.curve_starts[1]]
            return points[order], bool(topology.curve_closed[0])
        return (points, False) if len(points) else None

    def _for_looks(self, study: Study, request: Request) -> Context:
        """What looks may know of a piece: what any entry may, and how fast its points move."""
        plan = plan_piece(study, request.piece, request.final)

        def at(frame: float) -> np.ndarray:
            wanted = replace(request, frame=frame, mask_of=None)
            found = drawable(self._run(study, wanted, ())).geometry
            return transformed(found.real.points, plan.place_at(np.array([frame])))

        def velocity(mesh: Mesh) -> np.ndarray:
            # Whole frames are not crossed: what jumps there does so in no time.
            before, after = at(request.frame - STEP), at(request.frame + STEP)
            if len(before) != len(mesh.points) or len(after) != len(mesh.points):
                return np.zeros((len(mesh.points), 3), np.float32)
            moved: np.ndarray = (after - before) * np.float32(study.loop.rate / (2 * STEP))
            return moved

        return replace(self._context(study, request, ()), velocity=velocity)

    def settled(
        self, study: Study, piece_id: str, final: bool = False
    ) -> list[tuple[PlannedStep, Settled]]:
        """How far the systems of a piece have settled that close in this way.

        Raises what :meth:`evaluate` raises.
        """
        found = []
        for step in plan_piece(study, piece_id, final).steps:
            own = stepped_system(step)
            if step.on and own is not None and own.closing == "settles":
                request = Request(piece_id, 0.0, final, until=step.id, shared=True)
                with GATE.narrow():
                    found.append((step, self._begun(study, request, ()).history.settled(step, own)))
        return found

    def restarts(self, before: Study, after: Study, final: bool = False) -> list[Restart]:
        """Steps whose past a change lets begin again."""
        return restarts(self.states, before, after, final)

    def recount(self) -> None:
        """Count what was derived of new meshes since they were made; called when a frame is done,
        because packing it derives the most."""
        self.cache.recount()
        self.structures.recount()

    def _begun(self, study: Study, request: Request, trail: tuple[str, ...]) -> Run:
        """An evaluation of which no step is taken yet.

        trail : the pieces that led here, each of which uses the next
        """
        plan = plan_piece(study, request.piece, request.final)
        times = np.array([request.frame], np.float64)
        context = self._context(study, request, (*trail, request.piece))

        def at_frame(frame: float, until: str) -> Run:
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
                trail,
            )

        history = StateHistory(study, plan, request, self.states, at_frame)
        return Run(self.cache, context, request, times, plan.last_needing_neighbours, history)

    def _context(self, study: Study, request: Request, trail: tuple[str, ...]) -> Context:
        """What entries may know of a piece at a frame.

        trail : the pieces that wait for this one, which it therefore cannot use; of its looks, for
            which no piece waits, none
        """
        times = np.array([request.frame], np.float64)
        place = plan_piece(study, request.piece, request.final).place_at(times)
        made: dict[str, Other] = {}

        def other(piece_id: str) -> Other:
            if piece_id not in made:
                made[piece_id] = self._other(study, request, place, piece_id, trail)
                within_budget(
                    sum(each.geometry.point_count for each in made.values()),
                    what="The pieces that this one uses have together",
                )
            return made[piece_id]

        return Context(
            study.loop,
            request.frame,
            place,
            self._asset,
            other,
            self._image,
            study.sounds,
            view=view_at(study, times, request.final),
            memo=self.structures,
        )

    def _run(
        self, study: Study, request: Request, trail: tuple[str, ...], told: bool = True
    ) -> Result:
        """One piece, and those it uses, within one passage of the gate.

        told : whether it is this piece that is waited for, so that its steps are told as progress
        """
        run = self._begun(study, request, trail)
        for index, step in enumerate(plan_piece(study, request.piece, request.final).steps):
            go_on()
            if told and not trail:
                step_begins(step.id)
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
        return Other(names[piece_id], found.geometry, np.linalg.inv(place) @ found.place, found.key)

    def before(
        self, study: Study, piece_id: str, step_id: str, frame: float, final: bool
    ) -> tuple[Result, Mesh, np.ndarray]:
        """What there is before a step, the mesh that its mask is read on (copies as points), and
        the mask, (n,) or (1,) float32.

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
            mesh = run.mask_mesh(steps[index])
            return run.result(), mesh, run.mask_on(steps[index], mesh)
