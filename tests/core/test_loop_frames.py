"""What hangs on a surface over the whole loop, told before all of it is computed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import SurfacePlace, check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.evaluation.loop_frames import APART

FRAMES = 96
SAW = {"signal": "cycle", "shape": "saw", "cycles": 2, "low": 0.0, "high": 1.0}
WAVE = {"step": "wave", "values": {"amplitude": 0.2, "wavelength": 1.0, "phase": SAW}}
PLACE = SurfacePlace("p", (0.1, 0.0, 0.0), 0.1)


def pond():
    evaluator = Evaluator()
    made = check_document(document({"step": "sheet"}, WAVE, frames=FRAMES))
    return evaluator, evaluator.with_geometry(made)


def test_at_first_it_is_a_smooth_curve_through_some_moments():
    """Of a wave of 48 frames a cubic spline through every 16th frame is off by at most
    5 h⁴ / 384 of the fourth derivative (C. de Boor, "A Practical Guide to Splines"; from memory:
    the bound of the complete spline, taken twice for its free ends)."""
    evaluator, study = pond()
    around = evaluator.loop_frames()
    bound = 2 * 5 / 384 * APART**4 * 0.2 * (2 * np.pi / 48) ** 4
    for frame in range(FRAMES + 1):
        exact = evaluator.surfaces(study, PLACE, float(frame), False)
        guess = around(study, PLACE, float(frame), False)
        assert np.abs(exact[:3, 3] - guess[:3, 3]).max() <= bound
    assert len(around.unfinished) == 1
    knots = np.unique(np.linspace(0, FRAMES, FRAMES // APART + 2).round())
    for knot in knots:
        exact = evaluator.surfaces(study, PLACE, knot, False)
        assert around(study, PLACE, knot, False) == pytest.approx(exact, abs=1e-9)


def test_when_all_is_computed_it_is_exact_and_nothing_is_left_to_do():
    evaluator, study = pond()
    first = evaluator.loop_frames()
    first(study, PLACE, 0.0, False)
    for work in first.unfinished:
        work()
    again = evaluator.loop_frames()
    for frame in (0.0, 7.0, 50.0, 96.0):
        exact = evaluator.surfaces(study, PLACE, frame, False)
        assert np.array_equal(again(study, PLACE, frame, False), exact)
    between = again(study, PLACE, 7.5, False)
    ends = [again(study, PLACE, f, False) for f in (7.0, 8.0)]
    assert between == pytest.approx((ends[0] + ends[1]) / 2)
    assert again.unfinished == []


def test_where_there_is_no_surface_there_is_no_place():
    evaluator = Evaluator()
    line = evaluator.with_geometry(check_document(document({"step": "line"})))
    around = evaluator.loop_frames()
    assert around(line, PLACE, 3.0, False) is None
    assert around(line, SurfacePlace("gone", (0.0, 0.0, 0.0)), 3.0, False) is None
    for work in around.unfinished:
        work()
    assert evaluator.loop_frames()(line, PLACE, 3.0, False) is None


@given(st.integers(1, 500), st.integers(-3000, 3000))
def test_before_and_after_a_loop_it_is_seen_again(frames, frame):
    loop = Loop(frames)
    played = loop.played(frame)
    assert 0 <= played <= frames and (played - frame) % frames == 0
    # The frame after the last is the last itself, not the first: what jumps there jumps then.
    assert loop.played(frames) == frames and loop.played(0) == 0
    assert Loop(frames, one_way=True).played(frame) == frame
