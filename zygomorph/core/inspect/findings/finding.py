"""A likely mistake that the program noticed: its place, its reason, and a fix to apply."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from zygomorph.core.animation.loop_closure import Ends, Moving, ends_of, moving_numbers
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.planned import PiecePlan, PlannedStep


@dataclass(frozen=True)
class Fix:
    """label : what it does, for a button; operations : edits of the document"""

    label: str
    operations: list[dict[str, Any]]


@dataclass(frozen=True)
class Finding:
    """kind : which finder found it
    title : what is wrong, in a few words; reason : why that matters, and what helps
    step, layer : ids of what it is about, "" where it is about the piece
    address : of a value, as edits have it, or ""
    frame : where in time it is seen, or None
    place : where on the stage, metres, or None
    """

    kind: str
    piece: str
    title: str
    reason: str
    step: str = ""
    layer: str = ""
    address: str = ""
    frame: float | None = None
    place: tuple[float, float, float] | None = None
    fix: Fix | None = None

    @property
    def id(self) -> str:
        """The same for the same mistake at the same place, whatever its figures are."""
        about = f"{self.kind}/{self.piece}/{self.step}/{self.layer}/{self.address}"
        return hashlib.blake2b(about.encode(), digest_size=6).hexdigest()

    def describe(self) -> dict[str, Any]:
        return {
            "id": self.id,
            "kind": self.kind,
            "piece": self.piece,
            "step": self.step,
            "layer": self.layer,
            "address": self.address,
            "title": self.title,
            "reason": self.reason,
            "frame": self.frame,
            "place": self.place,
            "fix": self.fix and {"label": self.fix.label, "operations": self.fix.operations},
        }


def set_value(address: str, value: Any) -> dict[str, Any]:
    return {"do": "set", "path": address, "value": value}


@dataclass
class Look:
    """What finders look at: a study, and its pieces at frame 0, each evaluated at most once."""

    study: Study
    evaluator: Evaluator
    _results: dict[tuple[str, str], Result] = field(default_factory=dict)

    @cached_property
    def moving(self) -> list[Moving]:
        return list(moving_numbers(self.study))

    @cached_property
    def _ends(self) -> dict[str, Ends]:
        return {
            m.address: ends_of(m.signal, self.study.loop, self.study.signals) for m in self.moving
        }

    @cached_property
    def pieces(self) -> dict[str, str]:
        """Names of the pieces by their ids."""
        return {piece["id"]: piece["name"] for piece in self.study.pieces}

    def ends(self, moving: Moving) -> Ends:
        return self._ends[moving.address]

    def plan(self, piece: str) -> PiecePlan:
        return plan_piece(self.study, piece)

    def planned(self, piece: str) -> list[PlannedStep]:
        """Steps that are on, but for the form."""
        return [step for step in self.plan(piece).steps[1:] if step.on]

    def result(self, piece: str, until: str) -> Result:
        """A piece after one of its steps, at frame 0. Raises what evaluating raises."""
        key = (piece, until)
        if key not in self._results:
            self._results[key] = self.evaluator.evaluate(
                self.study, Request(piece, 0.0, until=until, keep_tail=True, shared=True)
            )
        return self._results[key]

    def at(self, piece: str, frame: float) -> Result:
        """A piece after all of its steps, at a frame. Raises what evaluating raises."""
        if frame == 0:
            return self.result(piece, self.plan(piece).steps[-1].id)
        key = (piece, f"@{frame}")
        if key not in self._results:
            self._results[key] = self.evaluator.evaluate(
                self.study, Request(piece, frame, keep_tail=True, shared=True)
            )
        return self._results[key]

    def before(self, piece: str, step: str) -> Result:
        """A piece as a step finds it, at frame 0."""
        steps = [each.id for each in self.plan(piece).steps]
        return self.result(piece, steps[steps.index(step) - 1])

    def form(self, piece: str) -> Result:
        return self.result(piece, self.plan(piece).steps[0].id)

    def number(self, step: PlannedStep, name: str) -> np.ndarray:
        """A value of a step over the loop, (T,) float64."""
        times = np.linspace(0, self.study.loop.frames, 25)
        return np.array([step.values.at(times[k : k + 1]).scalar(name) for k in range(25)])


Finder = Callable[[Look], Any]
