"""Every form and step at its defaults, at its bounds and at random values: finite or explained."""

from typing import Any

import numpy as np
import pytest

from tests.conftest import study
from tests.random_values import (
    OTHER,
    anything,
    at_end,
    finite_or_explained,
    made_of,
    mostly_made,
    small,
)
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.entries import definitions

# What shows a file needs one (tests/core/test_imports_of_meshes.py).
FORMS = [key for key, definition in definitions("form").items() if not definition.needs_file]
STEPS = list(definitions("step"))


def form_for(step: str) -> str:
    """A form that a step can act on."""
    torus = Evaluator().evaluate(made_of(base_of("torus")), Request("p")).mesh
    return "torus" if definitions("step")[step].acts_on(torus) else "circle"


def base_of(form: str) -> dict[str, Any]:
    return {"step": form, "values": small(form)}


def beside_of(definition: Any) -> dict[str, Any]:
    """Another piece that suits a step: the one in its picture where that has no faces."""
    shown = definition.specimen.other
    if shown is None:
        return OTHER
    form, values = shown
    if definition.specimen.other_after:
        # What it needs of the other is done by these steps.
        after = [{"id": f"o{k}", **s} for k, s in enumerate(definition.specimen.other_after)]
        return {**OTHER, "recipe": [{"id": "f", "step": form, "values": values}, *after]}
    if getattr(definition, "takes_in", False):
        # What is cut with has to meet what it cuts.
        return {**OTHER, "recipe": [{"id": "f", "step": form, "values": values}]}
    made = Evaluator().evaluate(study({"step": form, "values": values}), Request("p")).mesh
    recipe = [{"id": "f", "step": form, "values": values}]
    return OTHER if made.topology.face_count else {**OTHER, "recipe": recipe}


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("end", [0, 1])
def test_a_form_at_its_bounds(form, end):
    values = {k: at_end(v, end) for k, v in definitions("form")[form].values.items()}
    finite_or_explained({"step": form, "values": values})


@pytest.mark.parametrize("form", FORMS)
def test_a_form_at_random_values(form):
    specs = definitions("form")[form].values

    def steps(data):
        values = {k: data.draw(anything(v), label=k) for k, v in specs.items()}
        return [{"step": form, "values": values}]

    mostly_made(steps)


def kinds_of_forms() -> list[str]:
    """Of forms that give the same sort of mesh one: with as many corners to a face, closed or open,
    with curves, with shards."""
    found: dict[tuple, str] = {}
    for form in FORMS:
        mesh = Evaluator().evaluate(made_of(base_of(form)), Request("p")).mesh
        topology = mesh.topology
        sort = (
            topology.face_count > 0,
            topology.sides,
            topology.closed,
            topology.grid is not None,
            topology.curve_count > 0,
            mesh.count("shard") > 0,
        )
        found.setdefault(sort, form)
    return list(found.values())


@pytest.mark.parametrize("step", STEPS)
@pytest.mark.parametrize("form", kinds_of_forms())
def test_a_step_at_its_defaults_does_something_to_every_form(step, form):
    definition = definitions("step")[step]
    # What has no bumps is smooth already.
    bumps = {"step": "displace", "values": {"along": "vector", "size": 0.1}}
    base = [base_of(form), bumps]
    evaluator = Evaluator()
    before = evaluator.evaluate(made_of(*base), Request("p")).mesh
    values = {k: "o" for k, v in definition.values.items() if v.kind == "piece"}
    values |= definition.suggest(before) if definition.suggest else {}
    idle = definition.prepares or definition.begins_empty
    idle = idle or getattr(definition, "needs_motion", False)
    if idle or not definition.acts_on(before):
        finite_or_explained(*base, {"step": step, "values": values})
        return
    beside = beside_of(definition)
    changed = made_of(*base, {"step": step, "values": values}, other=beside)
    after = evaluator.evaluate(changed, Request("p")).mesh
    assert np.isfinite(after.points).all()
    if definition.changes_topology and after.topology.digest != before.topology.digest:
        return
    assert np.abs(after.points - before.points).max() > 1e-3


def test_a_tube_of_closed_or_capped_curves_is_closed():
    for form in ("circle", "line", "helix", "strands"):
        skin = Evaluator().evaluate(study(base_of(form), {"step": "tube"}), Request("p")).mesh
        assert skin.topology.closed


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
        base_of(form_for(step)),
        {"step": step, "values": values},
    )


@pytest.mark.parametrize("step", STEPS)
def test_a_step_at_random_values(step):
    specs = definitions("step")[step].values
    base = base_of(form_for(step))

    def steps(data):
        values = {k: data.draw(anything(v), label=k) for k, v in specs.items()}
        return [base, {"step": step, "values": values}]

    few = all(value.kind in ("choice", "switch") for value in specs.values())
    mostly_made(steps, few=few)
