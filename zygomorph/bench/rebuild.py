"""Figures of steps that change the topology: while positions move, and a whole reduction."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import one_piece
from zygomorph.core.evaluation.evaluate import Evaluator, Request

ROUNDS = 21
BALL = {"step": "icosphere", "values": {"radius": 1.0, "halvings": 6}}
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}
MOVES = {"step": "wave", "values": {"phase": SAW}}
SPLIT = {"step": "split", "values": {}}
WHILE_MOVING: dict[str, list[dict[str, Any]]] = {
    "split": [SPLIT],
    "spread": [SPLIT, {"step": "spread", "values": {"of": "shards"}}],
    "turned": [SPLIT, {"step": "turn_each", "values": {"of": "shards"}}],
    "extruded": [{"step": "extrude", "values": {}}],
    "dual": [{"step": "dual", "values": {}}],
    "reduced": [{"step": "reduce", "values": {}}],
}


def _frame(*steps: dict[str, Any]) -> Callable[[], float]:
    """A frame of a ball of 82,000 triangles that moves; gives the seconds of its last step."""
    study, evaluator, frames = one_piece(BALL, MOVES, *steps), Evaluator(), itertools.count()

    def frame() -> float:
        found = evaluator.evaluate(study, Request("p", next(frames)))
        return found.steps[-1].milliseconds

    return frame


def _reduction() -> Callable[[], Any]:
    """A new ball of 82,000 triangles reduced to 1 %, the order of collapses included."""
    evaluators = itertools.count(1)

    def once() -> None:
        # Another radius each time, so that nothing is known of it.
        ball = {
            "step": "icosphere",
            "values": {"radius": 1 + next(evaluators) / 1e4, "halvings": 6},
        }
        study = one_piece(ball, {"step": "reduce", "values": {"share": 1.0}})
        kept.evaluate(study, Request("p"))

    kept = Evaluator()
    return once


def bench_rebuild() -> list[Result]:
    """Each step's own time while points move, and a reduction with all that it has to find."""
    figures = []
    for name, steps in WHILE_MOVING.items():
        frame = _frame(*steps)
        times = sorted(frame() for _ in range(ROUNDS))
        goal = 6.0 if name in ("split", "spread", "extruded", "dual") else None
        figures.append(result(f"rebuild_{name}_82k_ms", times[ROUNDS // 2], "ms", goal))
    (seconds,) = in_turns(_reduction(), rounds=5)
    figures.append(result("rebuild_reduction_82k_to_1_percent_ms", seconds * 1000, "ms", 200.0))
    return figures
