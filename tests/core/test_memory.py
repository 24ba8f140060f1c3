"""Layers that remember: they stay, fade and spread, whichever frame is asked for first."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.inspect.seam import seam
from zygomorph.core.masking.memory import Memory

SHEET = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0, "columns": 40, "rows": 40}}
ACROSS = {
    "signal": "keys",
    "keys": [
        {"frame": 0, "value": -1.0, "ease": "linear"},
        {"frame": 24, "value": 1.0},
    ],
}


def visitor(**memory):
    """A small ball that crosses the sheet once in the loop."""
    values = {"centre": [ACROSS, 0, 0], "radius": 0.2, "softness": 10.0}
    return {"id": "b", "layer": "ball", "profile": "linear", "values": values, **memory}


def made(*layers, before=(), frames=24):
    push = {"step": "displace", "values": {"amount": 0.1}, "where": {"layers": list(layers)}}
    return study(SHEET, *before, push, frames=frames)


def mask(document, frame, evaluator=None):
    step = f"s{len(document.pieces[0]['recipe']) - 1}"
    found = (evaluator or Evaluator()).evaluate(document, Request("p", frame, mask_of=step))
    return found.weights


def test_once_reached_it_stays():
    document = made(visitor(memory="stays"))
    x = Evaluator().evaluate(document, Request("p", until="s0")).mesh.points
    found = mask(document, 12.0)
    on_the_way = (np.abs(x[:, 2]) < 0.1) & (x[:, 0] > -0.9) & (x[:, 0] < 0)
    assert (found[on_the_way] > 0.95).all()
    assert found[x[:, 0] > 0.3].max() == 0


def test_it_fades_over_as_many_frames_as_it_says():
    document = made(visitor(memory="fades", fade=8))
    evaluator = Evaluator()
    found = [mask(document, f, evaluator) for f in (12.0, 14.0, 16.0, 22.0)]
    centre = 20 * 41 + 20
    assert found[0][centre] == pytest.approx(1.0)
    # It leaves the middle after 2 frames and some; from then on an eighth a frame goes.
    assert found[2][centre] - found[1][centre] == pytest.approx(-2 / 8, abs=0.13)
    assert found[3][centre] == 0


def test_it_spreads_along_the_surface_at_its_speed():
    still = {
        "id": "b",
        "layer": "ball",
        "profile": "hard",
        "values": {"radius": 0.06, "softness": 0.0},
        "memory": "spreads",
        "speed": 1.0,
        "rim": 0.001,
    }
    document = made(still)
    points = Evaluator().evaluate(document, Request("p", until="s0")).mesh.points
    away = np.linalg.norm(points, axis=1)
    # 12 frames at 24 a second are half a second.
    reached = mask(document, 12.0) > 0.5
    assert away[reached].max() == pytest.approx(0.55, abs=0.05)
    assert away[~reached].min() == pytest.approx(0.55, abs=0.05)


@settings(max_examples=15)
@given(
    st.lists(st.floats(0, 24), min_size=1, max_size=4),
    st.sampled_from(["stays", "fades", "spreads"]),
)
def test_any_order_of_frames_gives_the_same(frames, way):
    document = made(visitor(memory=way))
    together = Evaluator()
    for frame in frames:
        assert np.array_equal(mask(document, frame, together), mask(document, frame))


def test_going_back_begins_at_a_checkpoint():
    document = made(visitor(memory="stays"))
    evaluator = Evaluator()
    mask(document, 24.0, evaluator)
    kept = evaluator.states._checkpoints
    hits = kept.hits
    mask(document, 12.0, evaluator)
    assert kept.hits == hits + 1


def test_a_change_before_it_is_a_new_past():
    lifted = [{"step": "place", "values": {"move": [0.5, 0, 0]}}]
    evaluator = Evaluator()
    here = mask(made(visitor(memory="stays")), 12.0, evaluator)
    there = mask(made(visitor(memory="stays"), before=lifted), 12.0, evaluator)
    assert not np.array_equal(here, there)


def test_what_moves_before_it_is_seen_frame_by_frame():
    slide = [{"step": "place", "values": {"move": [ACROSS, 0, 0]}}]
    still = {"id": "b", "layer": "ball", "memory": "stays", "values": {"radius": 0.2}}
    found = mask(made(still, before=slide), 24.0)
    # The sheet has passed under the ball from its middle to its left rim and beyond.
    assert (found > 0.5).mean() > 0.08


def test_one_loop_ahead_what_fades_closes():
    around = {"signal": "cycle", "low": -0.5, "high": 0.5}
    ball = visitor(memory="fades", fade=10, begins="ahead")
    ball["values"]["centre"] = [around, 0, 0]
    ahead = seam(made(ball), "p", Evaluator())
    assert ahead.position_relative < 1e-6
    empty = seam(made({**ball, "begins": "empty"}), "p", Evaluator())
    assert empty.state == "open"


@pytest.mark.parametrize("way", ["stays", "spreads"])
def test_where_counts_change_what_is_remembered_stays_at_its_place(way):
    grows = {"signal": "keys", "keys": [{"frame": 0, "value": 30}, {"frame": 20, "value": 60}]}
    values = {"width": 2.0, "depth": 2.0, "columns": grows, "rows": 40}
    push = {
        "step": "displace",
        "values": {"amount": 0.1},
        "where": {"layers": [visitor(memory=way, speed=0.2, rim=0.01)]},
    }
    document = study({"step": "sheet", "values": values}, push, frames=24)
    evaluator = Evaluator()
    found = evaluator.evaluate(document, Request("p", 20.0, mask_of="s1"))
    rest, weights = found.mesh.rest, found.weights
    assert len(weights) == len(rest) == 61 * 41
    visited = (np.abs(rest[:, 2]) < 0.1) & (rest[:, 0] > -0.8) & (rest[:, 0] < 0.5)
    assert (weights[visited] > 0.9).all()
    assert weights[np.abs(rest[:, 2]) > 0.4].max() == 0


def test_what_is_remembered_goes_through_a_step_that_makes_more_points():
    # The levels grow from 0 to 1 while the ball is under way.
    grows = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": 0, "ease": "held"}, {"frame": 9, "value": 1}],
    }
    finer = {"step": "subdivide", "values": {"way": "plain", "levels": grows}}
    document = made(visitor(memory="stays"), before=[finer])
    found = Evaluator().evaluate(document, Request("p", 16.0, mask_of="s2"))
    rest = found.mesh.rest
    visited = (np.abs(rest[:, 2]) < 0.1) & (rest[:, 0] > -0.9) & (rest[:, 0] < 0.2)
    assert (found.weights[visited] > 0.6).all()


@pytest.fixture
def walked(monkeypatch):
    """The frames at which a layer's memory was asked to start or to advance."""
    frames = []
    for name in ("start", "advance"):
        own = getattr(Memory, name)

        def noted(self, *given, own=own, name=name):
            frames.append(given[0] if name == "start" else given[1])
            return own(self, *given)

        monkeypatch.setattr(Memory, name, noted)
    return frames


def push_of(amount, ball, frames=120):
    push = {"step": "displace", "values": {"amount": amount}, "where": {"layers": [ball]}}
    return study(SHEET, push, {"step": "twist", "values": {"angle": 10 * amount}}, frames=frames)


def test_a_drag_of_what_the_past_does_not_depend_on_walks_nothing(walked):
    evaluator = Evaluator()
    ball = visitor(memory="stays")
    evaluator.evaluate(push_of(0.1, ball), Request("p", 119.0))
    assert len(walked) == 120
    walked.clear()
    for k in range(5):
        # The amount of the step itself, and a step after it.
        request = Request("p", 119.0, dragged=True, keep_tail=True)
        evaluator.evaluate(push_of(0.2 + 0.1 * k, ball), request)
    assert walked == []


def test_a_drag_of_the_past_itself_walks_a_part_of_the_frames_and_comes_near(walked):
    evaluator = Evaluator()
    ball = visitor(memory="fades", fade=40)
    evaluator.evaluate(push_of(0.1, ball), Request("p", 119.0))
    larger = {**ball, "values": {**ball["values"], "radius": 0.25}}
    walked.clear()
    dragged = evaluator.evaluate(
        push_of(0.1, larger), Request("p", 119.0, mask_of="s1", dragged=True)
    ).weights
    assert len(walked) <= 61
    whole = evaluator.evaluate(push_of(0.1, larger), Request("p", 119.0, mask_of="s1")).weights
    assert np.abs(dragged - whole).max() < 0.15
    assert np.abs(dragged - whole).mean() < 0.01


def test_a_change_after_some_frames_keeps_what_was_walked_before(walked):
    def lifted(height):
        keys = [{"frame": 0, "value": 0.0, "ease": "held"}, {"frame": 60, "value": height}]
        move = {"step": "place", "values": {"move": [0, {"signal": "keys", "keys": keys}, 0]}}
        push = {"step": "displace", "where": {"layers": [visitor(memory="stays")]}}
        return study(SHEET, move, push, frames=120)

    evaluator = Evaluator()
    evaluator.evaluate(lifted(0.1), Request("p", 80.0))
    walked.clear()
    evaluator.evaluate(lifted(0.2), Request("p", 80.0))
    assert min(walked) == 60


def test_two_memories_in_a_row_remember_each_for_itself():
    first = {
        "step": "displace",
        "values": {"amount": 0.0},
        "where": {"layers": [visitor(memory="stays")], "store": "trace"},
    }
    later = {
        "id": "t",
        "layer": "stored",
        "profile": "linear",
        "values": {"name": "trace"},
        "memory": "spreads",
        "speed": 0.2,
    }
    document = made(later, before=[first])
    evaluator = Evaluator()
    once, twice = mask(document, 20.0, evaluator), mask(document, 20.0, evaluator)
    assert np.array_equal(once, twice)
    assert (once > 0.5).mean() > 0.15


def test_a_finer_time_goes_on_between_whole_frames():
    document = made(visitor(memory="fades", fade=6))
    evaluator = Evaluator()
    found = [float(mask(document, f, evaluator).sum()) for f in np.arange(10, 12.01, 0.25)]
    steps = np.abs(np.diff(found))
    assert steps.max() < 6 * max(steps.mean(), 1e-9)
