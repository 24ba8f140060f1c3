"""A formula's results along the elements, drawn together for a plot."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluate import Evaluator, Request
from zygomorph.core.formula.parse import read_formula
from zygomorph.core.formula.run import run_formulas
from zygomorph.core.plan import plan_piece
from zygomorph.core.steps.formula import DEFINITION, NAMES, chosen_elements, named_values
from zygomorph.core.study import Study

BUCKETS = 160


@dataclass(frozen=True)
class Plot:
    """low, high : least and greatest result of each run of neighbouring elements, in their order
    count : elements; undefined : how many results became 0 because they were none
    """

    low: list[float]
    high: list[float]
    count: int
    undefined: int

    def describe(self) -> dict[str, Any]:
        return {
            "low": self.low,
            "high": self.high,
            "count": self.count,
            "undefined": self.undefined,
        }


def along_elements(results: np.ndarray, undefined: int, buckets: int = BUCKETS) -> Plot:
    """Results, (n,), as at most ``buckets`` pairs of least and greatest."""
    count = len(results)
    if count == 0:
        return Plot([], [], 0, undefined)
    starts = np.arange(min(buckets, count)) * count // min(buckets, count)
    low, high = (f.reduceat(results, starts) for f in (np.minimum, np.maximum))
    return Plot([float(v) for v in low], [float(v) for v in high], count, undefined)


def plot_formula(
    evaluator: Evaluator,
    study: Study,
    piece_id: str,
    step_id: str,
    text: str,
    frame: float,
    final: bool = False,
) -> Plot:
    """What a formula would give at every element that its step acts on.

    Raises FormulaError where the text is wrong, ZygomorphError where there is no such step, and
    StepError where a step before it cannot do its work.
    """
    formula = read_formula(text, NAMES)
    steps = plan_piece(study, piece_id, final).steps
    index = next((k for k, step in enumerate(steps) if step.id == step_id), 0)
    if index == 0 or steps[index].definition is not DEFINITION:
        raise ZygomorphError(f"The piece has no formula {step_id!r}.")
    step = steps[index]
    before = evaluator.evaluate(
        study, Request(piece_id, frame, final, until=steps[index - 1].id, keep_tail=True)
    )
    weights = evaluator.weights(study, before, step, frame)
    context = Context(loop=study.loop, frame=frame, place=before.place)
    values = step.values.at(np.array([frame]))
    elements = chosen_elements(before.mesh, values.words)
    named = named_values(elements, values, elements.read(weights), context, formula.names)
    found, undefined = run_formulas([formula], named, len(elements))
    return along_elements(found[0], undefined)
