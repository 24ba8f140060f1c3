"""The seam, against motions whose seam is known."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.inspect.seam import one_sided, seam, state_of

BALL = {"step": "icosphere", "values": {"halvings": 1}}


def moving(signal, frames=240):
    values = {"move": [signal, 0, 0], "turn": [0, 0, 0]}
    return study(BALL, {"step": "place", "values": values}, frames=frames)


def test_the_stencil_is_of_second_order():
    # Error of a one-sided second-order difference of sin: h²/3 · |f'''| (textbook).
    errors = []
    for h in (0.1, 0.05, 0.025):
        values = [np.array([np.sin(1 + k * h)]) for k in range(3)]
        errors.append(abs(one_sided(*values, h)[0] - np.cos(1)))
    assert errors[0] / errors[1] == pytest.approx(4, rel=0.1)
    assert errors[1] / errors[2] == pytest.approx(4, rel=0.1)
    assert errors[2] == pytest.approx(0.025**2 / 3 * np.cos(1), rel=0.1)


def test_a_sine_closes_in_position_and_velocity():
    found = seam(moving({"signal": "cycle", "high": 0.5}), "p", Evaluator())
    assert found.state == "closed"
    assert found.position_relative <= 1e-6
    assert found.velocity_relative <= 2e-2


def test_a_deliberate_jump_is_open():
    jump = {"signal": "keys", "keys": [{"frame": 0, "value": 0}, {"frame": 240, "value": 0.5}]}
    found = seam(moving(jump), "p", Evaluator())
    assert found.state == "open"
    assert found.position_m == pytest.approx(0.5, abs=1e-5)


def test_a_saw_returns_but_is_open_by_its_velocity():
    found = seam(moving({"signal": "cycle", "shape": "saw"}), "p", Evaluator())
    assert found.position_m == 0
    assert found.state == "open"


def test_a_there_and_back_without_easing_is_open_by_its_velocity():
    linear = [{"frame": f, "value": v, "ease": "linear"} for f, v in ((0, 0), (120, 1), (240, 0))]
    found = seam(moving({"signal": "keys", "keys": linear}), "p", Evaluator())
    assert found.position_m == 0
    # The speed turns from -v to +v: the jump is twice the speed.
    assert found.velocity_relative == pytest.approx(2, rel=0.05)
    assert found.state == "open"


def test_a_turning_place_closes_after_whole_turns():
    still = {"turn": [0, {"signal": "cycle", "shape": "saw", "low": 0, "high": 360}, 0]}
    assert seam(study(BALL, frames=240, place=still), "p", Evaluator()).state == "closed"


def keyed(first, last):
    return {"signal": "keys", "keys": [{"frame": 0, "value": first}, {"frame": 24, "value": last}]}


def test_other_faces_at_the_end_are_compared_by_the_nearest_surface():
    grown = study({"step": "icosphere", "values": {"halvings": keyed(1, 2), "radius": 1.0}})
    found = seam(grown, "p", Evaluator())
    # Halved once, a triangle's middle is so far below where it is halved twice.
    assert 0.02 < found.position_m < 0.1
    assert found.velocity_relative is None
    assert found.state == "open"
    assert "nearest surface: 42 points at frame 0, 162 at the end" in found.note


def test_a_surface_that_comes_back_with_other_faces_is_closed():
    box = {"step": "box", "values": {"size": [1, 1, 1]}}
    finer = {"step": "subdivide", "values": {"way": "plain", "levels": keyed(0, 1)}}
    found = seam(study(box, finer), "p", Evaluator())
    assert found.position_m == pytest.approx(0.0, abs=1e-6)
    assert found.state == "closed"


def test_what_is_empty_at_one_end_is_open():
    gone = {"step": "remove", "values": {"share": keyed(100.0, 0.0)}}
    found = seam(study(BALL, gone), "p", Evaluator())
    assert found.position_m is None
    assert found.state == "open"
    assert "empty at one end" in found.note


def test_the_nearest_surface_is_looked_for_both_ways():
    # Half of a ball lies on all of it; all of it is far from the half.
    cut = {
        "step": "remove",
        "values": {"way": "contour"},
        "where": {
            "layers": [
                {"id": "l", "layer": "linear", "values": {"position": [0, keyed(9.0, 0.0), 0]}}
            ]
        },
    }
    found = seam(study(BALL, cut), "p", Evaluator())
    assert found.position_m > 0.3


def test_what_does_not_move_is_closed():
    assert seam(study(BALL), "p", Evaluator()).note == "nothing moves"


def test_states():
    assert state_of(0.0, 0.0) == "closed"
    assert state_of(1e-5, 0.01) == "nearly"
    assert state_of(0.0, 0.5) == "open"
    assert state_of(None, None) == "open"
