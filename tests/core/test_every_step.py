"""Every form and step at its defaults, at its bounds and at random values: finite or explained."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from tests.random_values import anything, at_end, finite_or_explained
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.entries import definitions

FORMS = [key for key in definitions("form") if key not in ("imported", "outline", "piece")]
STEPS = list(definitions("step"))


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
