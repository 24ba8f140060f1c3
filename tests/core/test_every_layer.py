"""Every mask layer at its defaults, at its bounds and at random values, alone and combined."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from tests.random_values import anything, at_end, finite_or_explained, mostly_made
from tests.reference.test_deformers import form
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.layer_values import LAYER_VALUES
from zygomorph.core.values.value import Value

# Those that masks of steps may have.
LAYERS = {key: d for key, d in definitions("layer").items() if not d.in_looks}
PUSH = {"step": "displace", "values": {"amount": 0.2, "brightness": 1.0}}
FORMS = ("torus", "sheet", "strands", "cloth", "tiling", "box")
SMALL = {
    "torus": {"around": 12, "section": 8},
    "sheet": {"columns": 8, "rows": 6},
    "strands": {"strands": 5, "count": 6},
    "cloth": {"columns": 12, "rows": 9},
}


def masked(*layers: dict[str, Any], form: str = "torus") -> tuple[dict[str, Any], ...]:
    placed = [{"id": f"l{k}", **layer} for k, layer in enumerate(layers)]
    base = {"step": form, "values": SMALL.get(form, {})}
    return base, {**PUSH, "where": {"layers": placed}}


def layer_of(key: str, values: dict[str, Any], common: dict[str, Any]) -> dict[str, Any]:
    return {"layer": key, "values": values, **common}


def drawn(data: st.DataObject, specs: dict[str, Value]) -> dict[str, Any]:
    return {name: data.draw(anything(spec), label=name) for name, spec in specs.items()}


@pytest.mark.parametrize("key", sorted(k for k, d in LAYERS.items() if not d.begins_empty))
@pytest.mark.parametrize("kind", FORMS)
def test_a_new_layer_lets_some_through_and_keeps_some_back(key, kind):
    mesh = form(kind, **SMALL.get(kind, {}))
    if not LAYERS[key].acts_on(mesh):
        return
    suggest = LAYERS[key].suggest
    values = suggest(mesh) if suggest else {}
    if key == "border" and kind == "box":
        assert values["what"] == "sharp"
    steps = masked(layer_of(key, values, {}), form=kind)
    found = Evaluator().evaluate(study(*steps), Request("p", mask_of="s1")).weights
    assert found.max() > 0.3
    assert found.max() - found.min() > 0.2


@pytest.mark.parametrize("key", sorted(LAYERS))
@pytest.mark.parametrize("end", [0, 1])
def test_a_layer_at_its_bounds(key, end):
    values = {k: at_end(v, end) for k, v in LAYERS[key].values.items()}
    common = {k: at_end(v, end) for k, v in LAYER_VALUES.items() if k != "memory"}
    finite_or_explained(*masked(layer_of(key, values, common)))


@pytest.mark.parametrize("key", sorted(LAYERS))
def test_a_layer_at_random_values(key):
    def steps(data):
        values = drawn(data, dict(LAYERS[key].values))
        common = drawn(data, LAYER_VALUES)
        kind = data.draw(st.sampled_from(FORMS))
        form, push = masked(layer_of(key, values, common), form=kind)
        # A mask that is stored under the name that a layer asks for, if it does.
        stores = {"step": "inflate", "where": {"store": str(values.get("name", "mine")).strip()}}
        return [form, stores, push]

    mostly_made(steps)


@settings(max_examples=60)
@given(data=st.data())
def test_layers_combined_stay_between_0_and_1(data):
    keys = data.draw(st.lists(st.sampled_from(sorted(LAYERS)), min_size=2, max_size=4))
    layers = [
        layer_of(key, drawn(data, dict(LAYERS[key].values)), drawn(data, LAYER_VALUES))
        for key in keys
    ]
    try:
        steps = study(*masked(*layers, form=data.draw(st.sampled_from(FORMS))))
        found = Evaluator().evaluate(steps, Request("p", 3.0, mask_of="s1"))
    except StepError as error:
        assert error.hint
        return
    assert np.isfinite(found.mesh.points).all()
    assert found.weights.min() >= 0
    assert found.weights.max() <= 1


def test_layers_say_on_which_forms_there_is_nothing_for_them_to_tell_apart():
    """What lies level bends nowhere and faces one way; strands are straight, and tiles all border. A
    form is at rest, and some have no UV map."""
    meshes = {kind: form(kind, **SMALL.get(kind, {})) for kind in FORMS}
    nothing = {
        key: {kind for kind, mesh in meshes.items() if not definition.acts_on(mesh)}
        for key, definition in LAYERS.items()
    }
    level = {"sheet", "strands", "cloth", "tiling"}
    assert {key: kinds for key, kinds in nothing.items() if kinds} == {
        "curvature": level,
        "facing": level,
        "border": {"cloth", "torus", "tiling"},
        "tilt": level,
        "across": {"strands", "cloth", "tiling"},
        "displacement": set(meshes),
        "stretched": set(meshes),
    }
