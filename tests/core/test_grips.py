"""Grips on the stage name values that are there, and stand where the mesh says."""

import numpy as np
import pytest

from tests.reference.test_deformers import form
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.grips import Grip

EVERY = [d for sort in ("form", "step", "layer") for d in definitions(sort).values()]


def kind_of(definition, path):
    name, _, component = path.partition("/")
    kind = definition.values[name].kind
    if component:
        assert kind in ("vector", "direction")
        assert component in ("0", "1", "2")
        return "number"
    return kind


@pytest.mark.parametrize("definition", EVERY, ids=lambda d: f"{d.sort}-{d.key}")
def test_what_a_grip_names_is_there_and_of_its_kind(definition):
    for grip in definition.grips:
        expected = ("vector",) if grip.kind in ("spot", "gimbal", "plane") else ("number", "whole")
        assert kind_of(definition, grip.value) in expected
        if isinstance(grip.along, str):
            assert kind_of(definition, grip.along) == "direction"
        else:
            assert np.linalg.norm(grip.along) == 1
        if grip.round:
            assert kind_of(definition, grip.round) == "number"
        for foot in grip.foot:
            assert kind_of(definition, foot.value) == ("number" if foot.times else "vector")


def test_every_place_and_direction_of_steps_and_masks_can_be_dragged():
    # What is drawn by a handle of its own says so in the catalogue; the rest has a grip.
    missing = [
        f"{d.key}.{name}"
        for d in EVERY
        for name, value in d.values.items()
        if value.kind == "vector" and value.unit == "m" and not d.handle
        if name not in {g.value.partition("/")[0] for g in d.grips}
    ]
    assert missing == []


def tip(grip: Grip, values: dict) -> np.ndarray:
    def read(path):
        name, _, component = path.partition("/")
        value = np.asarray(values[name], float)
        return value[int(component)] if component else value

    foot = sum(
        (read(f.value) * np.array(f.times) if f.times else read(f.value) for f in grip.foot),
        np.zeros(3),
    )
    return foot + np.array(grip.along) * read(grip.value) * grip.per


OUTER = {
    "icosphere": ["radius"],
    "sphere": ["radius"],
    "circle": ["radius"],
    "sheet": ["width", "depth"],
    "cloth": ["width", "depth"],
    "box": ["size/0", "size/1", "size/2"],
    "disc": ["radius"],
    "cylinder": ["radius", "height"],
    "cone": ["bottom", "top", "height"],
    "strands": ["height"],
    "text": ["depth"],
    "helix": ["height"],
}


@pytest.mark.parametrize(("key", "path"), [(k, p) for k, paths in OUTER.items() for p in paths])
def test_the_tip_of_a_size_lies_on_the_form(key, path):
    definition = definitions("form")[key]
    grip = next(g for g in definition.grips if g.value == path and g.kind == "reach")
    mesh = form(key)
    values = {name: value.default for name, value in definition.values.items()}
    axis = int(np.argmax(np.abs(grip.along)))
    at = tip(grip, values)
    level = [k for k in range(3) if k != axis and grip.foot]
    # Of the points that lie as high as the foot, the outermost one is where the tip is.
    near = np.all(np.abs(mesh.points[:, level] - at[level]) < 1e-3, axis=1)
    if path in ("bottom", "top"):
        near = np.abs(mesh.points[:, 1] - at[1]) < 1e-3
    assert abs(mesh.points[near][:, axis].max() - at[axis]) < 0.03
