"""Colours that move: out of a gradient, at a place that a signal moves."""

import numpy as np
import pytest

from tests.conftest import document, study, surface
from zygomorph.core.animation.loop_closure import moving_numbers
from zygomorph.core.document.addresses import number_at, spec_at
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.inspect.sentences import describe_motion
from zygomorph.core.values.gradients import colour_in

BALL = {"step": "icosphere", "values": {"halvings": 1}}
SAW = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0.0, "high": 1.0}
EMBER = {"gradient": "ember", "at": SAW}


def colour(made, frame):
    return Evaluator().drawn(made, Request("p", frame)).appearance.material.colour


def test_a_colour_goes_through_its_gradient_and_closes():
    made = study(BALL, looks=surface(colour=EMBER))
    for frame in (0.0, 6.0, 12.0, 18.0):
        assert colour(made, frame) == colour_in("ember", frame / 24)
    assert colour(made, 24.0) == colour(made, 0.0)


def test_between_its_colours_it_goes_evenly_for_the_eye():
    stops = [{"at": 0.0, "colour": "#ff0000"}, {"at": 1.0, "colour": "#0000ff"}]
    made = study(BALL, looks=surface(colour={"gradient": {"stops": stops}, "at": 0.5}))
    half = colour(made, 0.0)
    # OKLab's middle of red and blue (computed from its matrices), not the dark purple of sRGB's.
    assert [int(half[k : k + 2], 16) for k in (1, 3, 5)] == pytest.approx([140, 83, 162], abs=3)


def test_lights_and_backdrops_have_such_colours_as_well():
    light = {"id": "s", "name": "S", "light": "sun", "values": {"colour": EMBER}}
    behind = {"backdrop": "plain", "values": {"colour": EMBER}}
    made = check_document(document(BALL) | {"lights": [light], "backdrop": behind})
    scene = plan_scene(made)
    assert scene.moves
    for frame in (0.0, 9.0):
        now = scene.at(np.array([frame]))
        wanted = colour_in("ember", frame / 24)
        assert now.lamps["s"][0].colour == wanted
        assert now.backdrop.stops[0][1] == wanted


def test_its_place_is_a_number_with_a_lane_and_an_address():
    made = study(BALL, looks=surface(colour=EMBER))
    address = "/pieces/p/looks/surface/values/colour/at"
    assert spec_at(made.document, address).hard == (0.0, 1.0)
    assert number_at(made.document, address) == SAW
    assert [moving.address for moving in moving_numbers(made)] == [address]
    (look,) = describe_motion(made)[0]["looks"]
    assert [lane["address"] for lane in look["lanes"]] == [address]
    assert look["sentence"] == "Colour that moves"


@pytest.mark.parametrize(
    "wrong",
    [{"gradient": "ember"}, {"gradient": "rainbow", "at": 0.0}, {"gradient": "ember", "at": 2}],
)
def test_what_is_no_such_colour_is_told_with_its_place(wrong):
    with pytest.raises(DocumentError) as caught:
        check_document(document(BALL, looks=surface(colour=wrong)))
    assert any("/pieces/0/looks/0/values/colour" in path for path, _ in caught.value.problems)
