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
    no_images,
    no_others,
)
from zygomorph.core.budget import within_budget
from zygomorph.core.cancelling import cancelled_when, go_on
from zygomorph.core.document.study import Study
from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.results import Request, Result, StepReport
from zygomorph.core.evaluation.run import Kept, Run
from zygomorph.core.evaluation.scene import view_at
from zygomorph.core.evaluation.state_history import StateCache, StateHistory
from zygomorph.core.geometry.image import Images
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.memo.memo import Memo
from zygomorph.core.progress import step_begins

__all__ = ["Evaluator", "Request", "Result", "StepReport"]


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

    def _begun(self, study: Study, request: Request, trail: tuple[str, ...]) -> Run:
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
                    sum(each.geometry.point_count for each in made.values()),
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
            viewer=view_at(study, times, request.final).position,
            memo=self.structures,
        )

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
                trail[:-1],
            )

        history = StateHistory(study, plan, request, self.states, at_frame)
        return Run(self.cache, context, request, times, plan.last_needing_neighbours, history)

    def _run(self, study: Study, request: Request, trail: tuple[str, ...]) -> Result:
        """One piece, and those it uses, within one passage of the gate."""
        run = self._begun(study, request, trail)
        for index, step in enumerate(plan_piece(study, request.piece, request.final).steps):
            go_on()
            if not trail:
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
