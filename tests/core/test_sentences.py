"""What a step says it does, and the lanes of what moves."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parts import step_part
from zygomorph.core.inspect.sentences import describe_motion, describe_step, sentence, with_unit
from zygomorph.core.values.entries import definitions

LOOP = Loop(240, 24)
BALL = {"step": "icosphere"}


def said(step, **values):
    return sentence(definitions("step")[step], values, LOOP)


@pytest.mark.parametrize(
    ("value", "unit", "words"),
    [(90.0, "°", "90°"), (0.3, "m", "0.3 m"), (1.5, "×", "1.5 ×"), (2.0, "", "2"),
     (123456.0, "m", "123,456 m"), (1 / 3, "m", "0.3333 m")],
)  # fmt: skip
def test_figures_carry_their_unit(value, unit, words):
    assert with_unit(value, unit) == words


def test_one_of_something_is_not_said_in_the_plural():
    assert said("displace", octaves=1).endswith("1 octave")
    assert said("displace", octaves=1.5).endswith("1.5 octaves")
    assert said("displace", octaves=11).endswith("11 octaves")
    assert said("flow", steps=1, distance=0.3) == "Flow 0.3 m in 1 step"


@pytest.mark.parametrize(
    ("formula", "told"),
    [
        ("p + 0.1", "p + 0.1"),
        ("lift = 0.1\np + lift", "lift = 0.1 …"),
        ("p + " + "0.001 + " * 12 + "0", ("p + " + "0.001 + " * 12)[:46].rstrip() + " …"),
    ],
)
def test_a_formula_is_said_by_its_first_line(formula, told):
    assert said("formula", offset=formula) == said("formula", offset="Q").replace("Q", told)


def test_a_plain_step_reads_as_a_sentence():
    assert said("twist", angle=140, low=-0.5, high=0.5) == "Twist 140° from -0.5 m to 0.5 m"


def test_a_value_that_moves_is_said_by_its_range():
    angle = {"signal": "cycle", "low": 10, "high": 80}
    assert said("twist", angle=angle).startswith("Twist 10 to 80°")


def test_a_choice_is_said_by_its_label():
    assert "along the normals by simplex noise" in said("displace", noise="simplex")
    assert "by ridged gradient noise" in said("displace", fold="ridged")


def test_parts_that_do_nothing_are_not_spoken_of():
    still = [0.0, 0.0, 0.0]
    assert said("place", turn=still) == "Place"
    assert said("place", turn=still, scale=[1, 2, 1]) == "Place scaled (1, 2, 1) ×"
    assert (
        said("place", move=[0, 1, 0], turn=[90, 0, 0])
        == "Place moved (0, 1, 0) m turned (90, 0, 0)°"
    )


def test_a_part_that_moves_is_spoken_of():
    lift = [0, {"signal": "cycle", "low": 0, "high": 2}, 0]
    assert said("place", turn=[0, 0, 0], move=lift) == "Place moved (0, 0 to 2, 0) m"


def lanes(*steps, **piece):
    return describe_motion(study(BALL, *steps, frames=48, **piece))[0]


def test_a_still_recipe_has_no_lanes():
    described = lanes({"step": "twist"})
    assert [s["lanes"] for s in described["steps"]] == [[], []]
    assert [s["when"] for s in described["steps"]] == ["nothing moves"] * 2
    assert described["place_lanes"] == []


def test_each_value_that_moves_has_a_lane_with_its_path():
    drift = {"signal": "drift", "low": 0.1, "high": 0.2}
    front = {"id": "f", "layer": "linear", "values": {"position": [0, drift, 0]}, "strength": drift}
    step = {"step": "displace", "values": {"amount": drift}, "where": {"layers": [front]}}
    found = lanes(step)["steps"][1]["lanes"]
    assert [lane["path"] for lane in found] == [
        "values/amount",
        "where/layers/f/values/position/1",
        "where/layers/f/strength",
    ]
    assert [lane["label"] for lane in found] == ["Amount", "Position y", "Strength"]
    assert all(0.1 - 1e-6 <= v <= 0.2 + 1e-6 for lane in found for v in lane["samples"])


def test_a_saw_is_drawn_up_to_its_top():
    step = {"step": "twist", "values": {"angle": {"signal": "cycle", "shape": "saw", "high": 90}}}
    samples = lanes(step)["steps"][1]["lanes"][0]["samples"]
    assert samples[0] == 0
    assert samples[-1] == pytest.approx(90, abs=1e-3)
    assert np.all(np.diff(samples) > 0)


def test_the_place_has_lanes_of_its_own():
    turn = [0, {"signal": "cycle", "shape": "saw", "high": 360}, 0]
    found = lanes(place={"turn": turn})["place_lanes"]
    assert [(lane["path"], lane["label"], lane["unit"]) for lane in found] == [
        ("place/turn/1", "Turn y", "°")
    ]


def test_a_mask_is_summed_up():
    layers = [
        {"id": "a", "layer": "linear"},
        {"id": "b", "layer": "noise", "invert": True},
        {"id": "c", "layer": "ball", "on": False},
    ]
    step = {"id": "s", "step": "twist", "where": {"layers": layers}}
    assert describe_step(step_part(step), LOOP)["where"] == "linear front × not noise"
    assert describe_step(step_part({"id": "s", "step": "twist"}), LOOP)["where"] == "everywhere"


def test_a_formula_is_said_by_what_it_writes_and_whether_it_moves_by_itself():
    said = {}
    for writes in ("offset", "position", "value"):
        step = {"id": "s", "step": "formula", "values": {"writes": writes, "offset": "0.1 * x"}}
        said[writes] = describe_step(step_part(step), Loop())
    assert said["offset"]["sentence"] == "Formula 0.1 * x along the normals"
    assert said["offset"]["when"] == "nothing moves"
    assert said["position"]["sentence"].startswith("Formula (x, y +")
    assert said["position"]["when"] == "moves by itself"
    assert said["value"]["sentence"] == "Formula for “mine”"


def test_of_a_long_formula_the_beginning_is_told():
    text = "0.05 * sin(9 * x) + 0.03 * sin(14 * y - tau * p) + 0.02 * noise(x, y, z)"
    made = study(BALL, {"step": "formula", "values": {"offset": text}})
    step = made.pieces[0]["recipe"][1]
    said = sentence(definitions("step")["formula"], step["values"], made.loop)
    assert "0.05 * sin(9 * x) + 0.03 *" in said
    assert "…" in said
    assert "noise" not in said
