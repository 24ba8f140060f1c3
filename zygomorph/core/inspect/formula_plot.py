"""A formula's results along the elements, drawn together for a plot."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.context import Context
from zygomorph.core.elements import elements_of
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluate import Evaluator
from zygomorph.core.formula.names import NAMES, named_values
from zygomorph.core.formula.parse import read_formula
from zygomorph.core.formula.run import run_formulas
from zygomorph.core.masks.formula import DEFINITION as LAYER
from zygomorph.core.masks.formula import KNOWN
from zygomorph.core.plan import plan_piece
from zygomorph.core.steps.formula import DEFINITION, chosen_elements
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
    layer_id: str | None = None,
) -> Plot:
    """What a formula would give at every element that its step acts on.

    layer_id : of a layer of the step's mask, whose formula it is instead

    Raises FormulaError where the text is wrong, ZygomorphError where there is no such formula, and
    StepError where a step before it cannot do its work.
    """
    formula = read_formula(text, NAMES if layer_id is None else KNOWN)
    steps = plan_piece(study, piece_id, final).steps
    step = next((each for each in steps[1:] if each.id == step_id), None)
    times = np.array([frame])
    if step is None or (layer_id is None and step.definition is not DEFINITION):
        raise ZygomorphError(f"The piece has no formula {step_id!r}.")
    before, weights = evaluator.before(study, piece_id, step_id, frame, final)
    context = Context(loop=study.loop, frame=frame, place=before.place)
    if layer_id is None:
        values = step.values.at(times)
        elements = chosen_elements(before.mesh, values.words)
        mask = {"w": elements.read(weights)}
    else:
        layer = next((each for each in step.layers if each.id == layer_id), None)
        if layer is None or layer.definition is not LAYER:
            raise ZygomorphError(f"The mask has no formula {layer_id!r}.")
        values = layer.own.at(times)
        elements = elements_of(before.mesh, layer.common.still.word("read"))
        mask = {}
    named = named_values(elements, values, context, formula.names) | mask
    found, undefined = run_formulas([formula], named, len(elements))
    return along_elements(found[0], undefined)
