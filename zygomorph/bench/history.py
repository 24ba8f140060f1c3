"""Figures of a past: a drag at the last frame of a loop where a mask remembers."""

from __future__ import annotations

import itertools
from typing import Any

from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import one_piece
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request

ROUNDS = 9
LAST = 239.0


def remembering_study(amount: float, radius: float) -> Study:
    """An icosphere of 10,242 points on which a ball that goes round leaves its trace."""
    around = {"signal": "cycle", "low": -0.6, "high": 0.6}
    ball: dict[str, Any] = {
        "id": "b",
        "layer": "ball",
        "memory": "fades",
        "fade": 60,
        "values": {"centre": [around, 0.5, 0.0], "radius": radius},
    }
    return one_piece(
        {"step": "icosphere", "values": {"halvings": 5}},
        {"step": "displace", "values": {"amount": amount}, "where": {"layers": [ball]}},
    )


def bench_history() -> list[Result]:
    evaluator, numbers = Evaluator(), itertools.count(1)
    evaluator.evaluate(remembering_study(0.1, 0.3), Request("p", LAST))

    def dragged(amount: float, radius: float) -> None:
        study = remembering_study(amount, radius)
        evaluator.evaluate(study, Request("p", LAST, dragged=True, keep_tail=True))

    def whole() -> None:
        study = remembering_study(0.1, 0.3 + 0.0001 * next(numbers))
        evaluator.evaluate(study, Request("p", LAST))

    after_s, past_s, whole_s = in_turns(
        lambda: dragged(0.1 + 0.001 * next(numbers), 0.3),
        lambda: dragged(0.1, 0.3 + 0.0001 * next(numbers)),
        whole,
        rounds=ROUNDS,
    )
    return [
        result("history_drag_after_ms", after_s * 1000, "ms", None),
        result("history_drag_of_the_past_ms", past_s * 1000, "ms", None, whole_s * 1000),
    ]
