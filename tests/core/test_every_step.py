"""Every form and step at its defaults, at its bounds and at random values: finite or explained."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.catalogue import definitions
from zygomorph.core.errors import StepError
from zygomorph.core.evaluate import Evaluator, Request
from zygomorph.core.values import Value

FORMS = [key for key in definitions("form") if key not in ("imported", "outline", "piece")]
STEPS = list(definitions("step"))
# Counts beyond this make a test slow without making it harder.
MOST = 40


def ends_of(value: Value) -> tuple[float, float]:
    """The ends of a value's ruler, or what code demands where that is narrower."""
    low, high = value.soft
    hard_low, hard_high = value.hard
    low = low if hard_low is None else max(low, hard_low)
    high = high if hard_high is None else min(high, hard_high)
    if value.kind == "whole":
        high = max(low, min(high, 5 if value.label == "Halvings" else MOST))
    return low, high


FORMULAS = ("0", "x / (y - z)", "noise(x, y, z) + chance(i, 3) * a", "9e30 ** x", "q * f + b")


def at_end(value: Value, end: int) -> Any:
    if value.kind == "formula":
        return FORMULAS[-end]
    if value.kind == "piece":
        return "" if end == 0 else "gone"
    if value.kind == "paths":
        return [] if end == 0 else [{"closed": True, "knots": [[1e9, 0], [0, 1e9], [0, 0]]}]
    if value.kind == "picture":
        return "" if end == 0 else "0" * 64
    if value.kind == "text":
        return "" if end == 0 else "a name of some length"
    bound = ends_of(value)[end] if value.kind not in ("choice", "switch") else None
    if value.kind in ("vector", "direction"):
        return [bound] * 3
    if value.kind == "choice":
        return value.options[0 if end == 0 else -1][0]
    if value.kind == "switch":
        return bool(end)
    return int(bound) if value.kind == "whole" else float(bound)


def anything(value: Value) -> st.SearchStrategy[Any]:
    if value.kind == "choice":
        return st.sampled_from([key for key, _ in value.options])
    if value.kind == "switch":
        return st.booleans()
    if value.kind == "formula":
        return st.sampled_from(FORMULAS)
    if value.kind == "piece":
        # "p" is the piece itself, which would wait for itself.
        return st.sampled_from(["", "gone", "p"])
    if value.kind == "paths":
        knot = st.lists(st.floats(-5, 5), min_size=2, max_size=2)
        knots = st.lists(knot, min_size=1, max_size=8)
        path = st.fixed_dictionaries({"closed": st.booleans(), "knots": knots})
        return st.lists(path, max_size=3)
    if value.kind == "picture":
        return st.sampled_from(["", "0" * 64])
    if value.kind == "text":
        return st.text(max_size=20)
    low, high = ends_of(value)
    if value.kind == "whole":
        return st.integers(int(low), int(high))
    number = st.floats(low, high, allow_nan=False)
    triple = value.kind in ("vector", "direction")
    return st.lists(number, min_size=3, max_size=3) if triple else number


def small(form: str) -> dict[str, Any]:
    wholes = {k: v for k, v in definitions("form")[form].values.items() if v.kind == "whole"}
    return {k: min(v.default, 3 if k == "halvings" else 12) for k, v in wholes.items()}


# Remembering moves nothing; drape and blend need another piece (tests/core/test_other_pieces.py).
WITH_OTHERS = {"remember", "drape", "blend"}
# A straight line turns about itself and has no width; a lone tile is all border; loose points have
# no neighbours.
NOTHING_TO_DO = {("twist", "line"), ("taper", "line"), ("smooth", "tiling"), ("smooth", "cloth")}


def form_for(step: str) -> str:
    return "circle" if step == "tube" else "torus"


def finite_or_explained(*steps: dict[str, Any]) -> None:
    try:
        found = Evaluator().evaluate(study(*steps), Request("p", 3.0))
    except StepError as error:
        assert len(error.message) > 10
        assert error.hint
        return
    assert np.isfinite(found.mesh.points).all()
    assert found.mesh.topology.point_count == len(found.mesh.points)


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("end", [0, 1])
def test_a_form_at_its_bounds(form, end):
    values = {k: at_end(v, end) for k, v in definitions("form")[form].values.items()}
    finite_or_explained({"step": form, "values": values})


@pytest.mark.parametrize("form", FORMS)
@settings(max_examples=12)
@given(data=st.data())
def test_a_form_at_random_values(form, data):
    specs = definitions("form")[form].values
    values = {k: data.draw(anything(v), label=k) for k, v in specs.items()}
    finite_or_explained({"step": form, "values": values})


@pytest.mark.parametrize("step", STEPS)
@pytest.mark.parametrize("form", FORMS)
def test_a_step_at_its_defaults_does_something_to_every_form(step, form):
    definition = definitions("step")[step]
    base = [{"step": form, "values": small(form)}]
    if step == "smooth":
        # What has no bumps is smooth already.
        base.append({"step": "displace", "values": {"along": "vector", "size": 0.1}})
    evaluator = Evaluator()
    before = evaluator.evaluate(study(*base), Request("p")).mesh
    values = definition.suggest(before) if definition.suggest else {}
    if (step, form) in NOTHING_TO_DO:
        return
    if step in WITH_OTHERS:
        finite_or_explained({"step": form, "values": small(form)}, {"step": step})
        return
    if step == "tube":
        if before.topology.curve_count == 0:
            finite_or_explained(base[0], {"step": step})
            return
        skin = evaluator.evaluate(study(*base, {"step": step}), Request("p")).mesh
        assert skin.topology.closed
        return
    after = evaluator.evaluate(study(*base, {"step": step, "values": values}), Request("p")).mesh
    assert np.isfinite(after.points).all()
    assert np.abs(after.points - before.points).max() > 1e-3


def test_a_bend_of_a_level_form_rises_out_of_its_plane():
    base = {"step": "sheet", "values": small("sheet")}
    evaluator = Evaluator()
    flat = evaluator.evaluate(study(base), Request("p")).mesh
    values = definitions("step")["bend"].suggest(flat)
    bent = evaluator.evaluate(study(base, {"step": "bend", "values": values}), Request("p")).mesh
    assert bent.points[:, 1].max() > 0.2
    assert bent.points[:, 1].min() > -1e-5


@pytest.mark.parametrize("step", STEPS)
@pytest.mark.parametrize("end", [0, 1])
def test_a_step_at_its_bounds(step, end):
    values = {k: at_end(v, end) for k, v in definitions("step")[step].values.items()}
    finite_or_explained(
        {"step": form_for(step), "values": small(form_for(step))},
        {"step": step, "values": values},
    )


@pytest.mark.parametrize("step", STEPS)
@given(data=st.data())
def test_a_step_at_random_values(step, data):
    specs = definitions("step")[step].values
    values = {k: data.draw(anything(v), label=k) for k, v in specs.items()}
    base = {"step": form_for(step), "values": small(form_for(step))}
    finite_or_explained(base, {"step": step, "values": values})
