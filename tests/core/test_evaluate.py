"""Evaluation: what is kept, what moves, what goes wrong."""

import subprocess
import sys
import tracemalloc

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.budget import budget
from zygomorph.core.errors import Cancelled, StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.kernels.compiled import source_digest
from zygomorph.core.values.entries import definitions

BALL = {"step": "icosphere", "values": {"halvings": 3}}
PUSH = {"step": "displace", "values": {"amount": 0.1}}
MOVING = {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 90}}}


def points(made, frame=0.0, evaluator=None, **more):
    return (evaluator or Evaluator()).evaluate(made, Request("p", frame, **more)).mesh.points


def test_the_static_head_is_computed_once(evaluator):
    made = study(BALL, PUSH, MOVING)
    evaluator.evaluate(made, Request("p", 0))
    again = evaluator.evaluate(made, Request("p", 5))
    assert [s.reused for s in again.steps] == [True, True, False]


def test_moving_results_are_kept_only_where_asked(evaluator):
    made = study(BALL, MOVING)
    points(made, 3, evaluator)
    assert not evaluator.evaluate(made, Request("p", 3)).steps[-1].reused
    points(made, 3, evaluator, keep_tail=True)
    assert evaluator.evaluate(made, Request("p", 3)).steps[-1].reused


def test_a_change_invalidates_its_step_and_what_follows(evaluator):
    twist = {"step": "twist", "values": {"angle": 30}}
    evaluator.evaluate(study(BALL, PUSH, twist), Request("p"))
    changed = study(BALL, PUSH, {"step": "twist", "values": {"angle": 31}})
    assert [s.reused for s in evaluator.evaluate(changed, Request("p")).steps] == [
        True,
        True,
        False,
    ]
    other = study(BALL, {"step": "displace", "values": {"amount": 0.2}}, twist)
    assert [s.reused for s in evaluator.evaluate(other, Request("p")).steps] == [True, False, False]


def test_the_cache_stays_within_its_bytes():
    small = Evaluator(cache_bytes=200_000)
    for amount in range(1, 20):
        points(study(BALL, {"step": "displace", "values": {"amount": amount / 100}}), 0, small)
    assert small.cache.used_bytes <= 200_000
    assert len(small.cache) >= 1


def test_the_same_study_gives_the_same_bytes():
    made = study(BALL, PUSH, MOVING)
    assert points(made, 7.25).tobytes() == points(made, 7.25).tobytes()


def test_a_step_that_is_off_does_nothing():
    off = study(BALL, {**PUSH, "on": False})
    assert np.array_equal(points(off), points(study(BALL)))
    assert not plan_piece(study(BALL, {**MOVING, "on": False}), "p").moves


def test_a_pattern_in_space_moves_when_the_place_does():
    in_space = {"step": "displace", "values": {"sampled": "space"}}
    turning = {"turn": [0, {"signal": "cycle", "shape": "saw", "high": 360}, 0]}
    made = study(BALL, in_space, place=turning)
    assert plan_piece(made, "p").moves
    assert not np.allclose(points(made, 0), points(made, 6), atol=1e-3)
    stays = study(BALL, PUSH, place=turning)
    assert not plan_piece(stays, "p").moves
    assert np.array_equal(points(stays, 0), points(stays, 6))


def test_a_pattern_in_space_is_the_one_seen_through_the_place():
    in_space = {"step": "displace", "values": {"sampled": "space", "along": "normal"}}
    moved = points(study(BALL, in_space, place={"move": [0.5, 0, 0]}))
    shifted = {"step": "place", "values": {"move": [0.5, 0, 0], "turn": [0, 0, 0]}}
    in_piece = points(study(BALL, shifted, {"step": "displace", "values": {"along": "normal"}}))
    assert np.allclose(moved + np.float32([0.5, 0, 0]), in_piece, atol=1e-5)


def test_counts_can_move(evaluator):
    steps = {
        "halvings": {
            "signal": "keys",
            "keys": [{"frame": 0, "value": 1}, {"frame": 10, "value": 4}],
        }
    }
    made = study({"step": "icosphere", "values": steps})
    found = [len(points(made, f, evaluator)) for f in (0, 5, 10)]
    assert found[0] == 42
    assert found[2] == 2562
    assert found[0] < found[1] <= found[2]


def test_draft_and_final_differ_where_they_are_told_to():
    made = study({"step": "icosphere", "values": {"halvings": {"draft": 1, "final": 2}}})
    assert len(points(made)) == 42
    assert len(points(made, final=True)) == 162


def test_a_stored_mask_is_used_below():
    front = {"id": "f", "layer": "linear", "profile": "hard"}
    stored = {"id": "m", "layer": "stored", "profile": "linear", "values": {"name": "top"}}
    push = {"amount": 0.3, "along": "axis", "brightness": 1, "contrast": 0}
    made = study(
        BALL,
        {**PUSH, "values": {"amount": 0}, "where": {"layers": [front], "store": "top"}},
        {"step": "displace", "values": push, "where": {"layers": [stored]}},
    )
    base = points(study(BALL))
    lifted = points(made)[:, 1] - base[:, 1]
    assert np.allclose(lifted, np.where(base[:, 1] >= 0, 0.3, 0), atol=1e-5)


def test_a_missing_stored_mask_names_the_step():
    layer = {"id": "m", "layer": "stored", "values": {"name": "nowhere"}}
    with pytest.raises(StepError, match="nowhere") as caught:
        points(study(BALL, {**PUSH, "where": {"layers": [layer]}}))
    assert caught.value.step_id == "s1"


def test_what_is_not_finite_never_leaves_a_step():
    huge = {"step": "place", "values": {"move": [1e9, 0, 0], "scale": [1e9] * 3}}
    with pytest.raises(StepError, match="finite") as caught:
        points(study(BALL, *[huge] * 5))
    assert caught.value.step_id.startswith("s")


@pytest.mark.parametrize(
    "form",
    [
        {"step": "sheet", "values": {"columns": 4000, "rows": 4000}},
        {"step": "torus", "values": {"around": 4000, "section": 2000}},
        {"step": "box", "values": {"across": 1000, "up": 1000, "deep": 1000}},
    ],
)
def test_a_form_over_the_budget_is_refused_before_memory_is(form, monkeypatch):
    monkeypatch.setenv("ZYGOMORPH_BUDGET_MB", "1000")
    tracemalloc.start()
    try:
        with pytest.raises(StepError, match=r"points, about .* GB; the limit is 1.0 GB") as caught:
            points(study(form))
        assert tracemalloc.get_traced_memory()[1] < 50_000_000
    finally:
        tracemalloc.stop()
    assert "ZYGOMORPH_BUDGET_MB" in caught.value.hint


def test_a_tube_over_the_budget_is_refused(monkeypatch):
    monkeypatch.setenv("ZYGOMORPH_BUDGET_MB", "100")
    helix = {"step": "helix", "values": {"count": 100_000}}
    with pytest.raises(StepError, match="That would be"):
        points(study(helix, {"step": "tube", "values": {"sides": 24}}))


def test_a_picture_has_less_to_spend_than_the_study():
    with budget(1_000_000), pytest.raises(StepError, match="the limit is 0.0 GB"):
        points(study({"step": "sheet", "values": {"columns": 100, "rows": 100}}))


def test_a_cancelled_evaluation_stops_between_steps():
    asked = []

    def cancelled():
        asked.append(1)
        return len(asked) > 1

    with pytest.raises(Cancelled):
        points(study(BALL, PUSH, MOVING), cancelled=cancelled)
    assert len(asked) == 2


def test_a_piece_that_is_not_there_is_named():
    with pytest.raises(ZygomorphError, match=r"no piece 'q'.*It has: p"):
        Evaluator().evaluate(study(BALL), Request("q"))


@pytest.mark.parametrize(
    "first", ["numba", "zygomorph.core.masking.blending", "zygomorph.core.document.study"]
)
def test_numbas_settings_hold_whatever_is_imported_first(first):
    # Else stale kernels would be run, and without the machine's widest registers.
    told = subprocess.run(
        [
            sys.executable,
            "-c",
            f"import {first}, zygomorph.core.kernels.compiled as c, numba, os;"
            "print(numba.config.CACHE_DIR);"
            "print(numba.config.CPU_FEATURES == os.environ.get('NUMBA_CPU_FEATURES'));"
            "print(numba.config.THREADING_LAYER)",
        ],
        capture_output=True,
        text=True,
        check=True,
    ).stdout.split()
    assert told[0].endswith(source_digest())
    assert told[1:] == ["True", "omp"]


@pytest.mark.parametrize("key", sorted(set(definitions("form")) - {"imported", "outline", "piece"}))
def test_every_form_at_its_defaults(key):
    found = Evaluator().evaluate(study({"step": key}), Request("p"))
    topology = found.mesh.topology
    assert topology.face_count > 100 or topology.curve_count or len(found.mesh.points) > 1000


def test_a_new_step_does_something_visible_at_its_defaults():
    base = points(study(BALL))
    # A ball has no bumps, and no other piece, and points that come anew did not move; test_every_step.py and
    # test_other_pieces.py see to those.
    steps = definitions("step")
    for key in set(steps) - {"smooth", "remember"}:
        step = steps[key]
        needs_another = any(
            v.kind == "piece" and v.idle is None and v.shown_when is None
            for v in step.values.values()
        )
        idle = step.prepares or getattr(step, "needs_motion", False)
        if step.changes_topology or needs_another or idle:
            continue
        moved = np.linalg.norm(points(study(BALL, {"step": key})) - base, axis=1).max()
        assert moved > 0.02, key
