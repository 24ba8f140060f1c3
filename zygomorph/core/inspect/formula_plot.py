"""A formula's results along the elements, drawn together for a plot."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.formula_names import named_values
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.formula.run import run_formulas

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
    layer_id: str | None = None,
) -> Plot:
    """What a formula would give at every element that its step acts on.

    layer_id : of a layer of the step's mask, whose formula it is instead

    Raises FormulaError where the text is wrong, ZygomorphError where there is no such formula, and
    StepError where a step before it cannot do its work.
    """
    steps = plan_piece(study, piece_id, final).steps
    step = next((each for each in steps[1:] if each.id == step_id), None)
    times = np.array([frame])
    if step is None or (layer_id is None and step.definition.formulas is None):
        raise ZygomorphError(f"The piece has no formula {step_id!r}.")
    before, mesh, weights = evaluator.before(study, piece_id, step_id, frame, final)
    context = Context(loop=study.loop, frame=frame, place=before.place)
    if layer_id is None:
        values = step.values.at(times)
        assert step.definition.formulas is not None  # asked above
        use = step.definition.formulas(values.discrete_values)
        elements = elements_of(mesh, use.elements)
        mask = {"w": elements.own(weights)}
    else:
        layer = next((each for each in step.layers if each.id == layer_id), None)
        if layer is None or layer.definition.formulas is None:
            raise ZygomorphError(f"The mask has no formula {layer_id!r}.")
        values = layer.own.at(times)
        use = layer.definition.formulas(values.discrete_values)
        elements = elements_of(mesh, layer.common.still.discrete("read"))
        mask = {}
    formula = read_formula(text, use.known)
    named = named_values(elements, values, context, formula.names) | mask
    found, undefined = run_formulas([formula], named, len(elements))
    return along_elements(found[0], undefined)
