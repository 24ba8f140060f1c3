"""Swarms against Newton, brute force over all pairs, and closed forms of motion."""

import numpy as np
import pytest

from tests.conftest import study
from tests.random_values import made_of
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.swarm.neighbours import RULES, around
from zygomorph.core.inspect.seam import seam

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 3}}


def force(kind, **values):
    return {"step": f"force_{kind}", "values": values}


def swarm(*forces, frames=48, form=BALL, other=None, **values):
    steps = [form, *forces]
    own = {"count": 60, "closing": "once", **values}
    steps.append({"step": "swarm", "values": own})
    return study(*steps, frames=frames) if other is None else made_of(*steps, other=other)


def points(document, frame, evaluator=None, **more):
    return (evaluator or Evaluator()).evaluate(document, Request("p", frame, **more)).mesh.points


def test_without_forces_it_keeps_its_momentum():
    # Newton's first law: each goes on in a straight line with the speed of its birth.
    document, evaluator = swarm(leaves=0.4, scatter=0.3), Evaluator()
    at = [points(document, f, evaluator).astype(float) for f in (0, 12, 24, 30.5)]
    speed = (at[1] - at[0]) / 12
    assert at[2] - at[1] == pytest.approx(12 * speed, abs=1e-4)
    assert at[3] - at[0] == pytest.approx(30.5 * speed, abs=1e-4)
    assert np.linalg.norm(speed, axis=1).max() > 0.01


def test_it_falls_as_galilei_says():
    # h = g t² / 2; by Euler's method with steps of dt, g t (t + dt) / 2.
    document = swarm(force("gravity", strength=2.0), steps=4)
    fallen = points(document, 0)[:, 1] - points(document, 24)[:, 1]
    assert fallen == pytest.approx(np.full(60, 2.0 * 1.0 * (1.0 + 1 / 96) / 2), rel=1e-3)


def test_drag_slows_it_exponentially():
    # v = v₀ exp(-k t), so that it goes v₀ / k at most.
    document = swarm(force("drag", least=4.0, most=4.0), leaves=1.0, steps=16)
    gone = np.linalg.norm(points(document, 48) - points(document, 0), axis=1)
    assert gone == pytest.approx(np.full(60, 0.25), rel=0.03)


def test_drag_differs_from_point_to_point_between_two_values():
    document = swarm(force("drag", least=1.0, most=9.0), leaves=1.0, steps=8, count=400)
    gone = np.linalg.norm(points(document, 47) - points(document, 0), axis=1)
    # After two seconds (1 - exp(-2 k)) / k.
    assert 0.1 < gone.min() < 0.15
    assert 0.6 < gone.max() < 0.87
    assert gone.std() > 0.1


@pytest.mark.parametrize("rule", RULES)
def test_neighbours_against_all_pairs(rule):
    chance = np.random.default_rng(6)
    places = chance.uniform(-1, 1, (700, 3)).astype(np.float32)
    speeds = chance.normal(size=(700, 3)).astype(np.float32)
    found = around(places, speeds, 0.3, rule)
    ways = places[None].astype(float) - places[:, None]
    far = np.linalg.norm(ways, axis=2)
    near = (far < 0.3) & ~np.eye(700, dtype=bool)
    if rule == "apart":
        share = np.where(near, (1 - far / 0.3) / np.maximum(far, 1e-9), 0)
        total, weight = -(share[:, :, None] * ways).sum(1), np.where(near, 1 - far / 0.3, 0).sum(1)
    elif rule == "match":
        total, weight = near.astype(float) @ speeds, near.sum(1)
    else:
        total, weight = (near[:, :, None] * ways).sum(1), near.sum(1)
    assert found[:, :3] == pytest.approx(total, abs=2e-4)
    assert found[:, 3] == pytest.approx(weight, abs=2e-4)


def test_neighbours_that_keep_apart_end_apart():
    document = swarm(
        force("neighbours", rule="apart", distance=0.3, strength=20.0),
        force("drag", least=4.0, most=4.0),
        count=40,
        form={"step": "icosphere", "values": {"radius": 0.1, "halvings": 2}},
    )

    def nearest(frame):
        at = points(document, frame).astype(float)
        far = np.linalg.norm(at[None] - at[:, None], axis=2) + 10 * np.eye(len(at))
        return far.min(1).mean()

    assert nearest(0) < 0.05
    assert nearest(96) > 0.12


def test_neighbours_that_match_go_one_way():
    document = swarm(
        force("neighbours", rule="match", distance=3.0, strength=8.0), scatter=1.0, count=80
    )
    early, late = (points(document, f + 1) - points(document, f) for f in (0, 47))

    def order(steps):
        return np.linalg.norm(steps.mean(0)) / np.linalg.norm(steps, axis=1).mean()

    assert order(early) < 0.6
    assert order(late) > 0.95


def test_neighbours_that_gather_come_together():
    document = swarm(
        force("neighbours", rule="gather", distance=3.0, strength=6.0),
        force("drag", least=3.0, most=3.0),
    )
    assert points(document, 90).std(0).max() < 0.3 * points(document, 0).std(0).max()


def test_it_arrives_where_it_is_pulled():
    document = swarm(force("pull", centre=[2.0, 0.5, 0.0], speed=3.0, strength=6.0))
    assert points(document, 120) == pytest.approx(np.tile([2.0, 0.5, 0.0], (60, 1)), abs=0.02)


def test_a_pull_acts_where_its_mask_lets_it():
    right = {
        "layers": [
            {
                "id": "l",
                "layer": "linear",
                "profile": "hard",
                "values": {"position": [0.0, 0.0, 0.0], "direction": [1.0, 0.0, 0.0]},
            }
        ]
    }
    up = force("gravity", strength=1.0, direction=[0.0, 1.0, 0.0])
    document = swarm({**up, "where": right})
    begin, end = points(document, 0), points(document, 20)
    rises = end[:, 1] - begin[:, 1] > 0.05
    assert rises.any()
    assert not rises.all()
    sides = np.sign(begin[:, 0])
    assert len(np.unique(sides[rises])) == 1
    assert len(np.unique(sides[~rises])) == 1


def test_a_force_moves_with_its_marker():
    carried = {"by": "marker", "id": "m", "start": np.eye(4).reshape(-1).tolist()}
    document = dict(swarm({**force("pull", speed=3.0, strength=6.0), "carried": carried}).document)
    document["markers"] = [{"id": "m", "name": "M", "place": {"move": [0.0, 1.5, 0.0]}}]
    made = check_document(document)
    assert points(made, 120)[:, 1] == pytest.approx(np.full(60, 1.5), abs=0.02)


def test_the_wind_carries_it_without_pressing_it_together():
    # Curl noise has no sources (R. Bridson et al., SIGGRAPH 2007): what fills a ball stays spread.
    form = {"step": "icosphere", "values": {"radius": 0.8, "halvings": 3}}
    document = swarm(
        force("wind", speed=0.5, size=1.2, grip=200.0, octaves=1.0),
        count=500,
        form=form,
        born="inside",
        steps=4,
    )
    begin, end = points(document, 0), points(document, 24)
    assert np.linalg.norm(end - begin, axis=1).mean() > 0.1

    def crowding(at):
        near = around(at, np.zeros_like(at), 0.2, "gather")[:, 3]
        return near.mean()

    assert crowding(end) < 1.3 * crowding(begin)


OTHER = {
    "id": "o",
    "name": "Bowl",
    "recipe": [{"id": "f", "step": "icosphere", "values": {"radius": 1.0, "halvings": 4}}],
}


def test_what_stays_inside_stays_inside():
    document = swarm(
        force("wind", speed=2.0, size=0.6),
        force("bounds", piece="o", way="inside"),
        other=OTHER,
        born="inside",
    )
    evaluator = Evaluator()
    for frame in (10, 40, 80):
        away = np.linalg.norm(points(document, frame, evaluator), axis=1)
        assert away.max() < 1.005
    assert away.max() > 0.8


def test_what_bounces_off_does_not_get_in():
    form = {"step": "sheet", "values": {"width": 1.0, "depth": 1.0, "columns": 4, "rows": 4}}
    place = {"step": "place", "values": {"move": [0.0, 2.0, 0.0], "turn": [0.0, 0.0, 0.0]}}
    steps = [
        form,
        place,
        force("gravity", strength=6.0),
        force("bounds", piece="o", bounce=50.0),
        {"step": "swarm", "values": {"count": 50, "closing": "once"}},
    ]
    document, evaluator = made_of(*steps, other=OTHER), Evaluator()
    for frame in range(0, 48, 4):
        away = np.linalg.norm(points(document, frame, evaluator), axis=1)
        assert away.min() > 0.99


def test_what_sticks_stays_where_it_met():
    form = {"step": "sheet", "values": {"width": 0.6, "depth": 0.6, "columns": 4, "rows": 4}}
    place = {"step": "place", "values": {"move": [0.0, 2.0, 0.0], "turn": [0.0, 0.0, 0.0]}}
    steps = [
        form,
        place,
        force("gravity", strength=6.0),
        force("bounds", piece="o", way="sticks"),
        {"step": "swarm", "values": {"count": 50, "closing": "once"}},
    ]
    document, evaluator = made_of(*steps, other=OTHER), Evaluator()
    late, later = (points(document, f, evaluator) for f in (30, 46))
    assert np.array_equal(late, later)
    assert np.linalg.norm(late, axis=1) == pytest.approx(np.ones(50), abs=0.01)


def test_limits_of_speed_hold():
    document = swarm(force("gravity", strength=9.0), slowest=0.2, fastest=0.7, scatter=0.5)
    evaluator = Evaluator()
    for frame in (5, 30):
        gone = points(document, frame + 1, evaluator) - points(document, frame, evaluator)
        speed = np.linalg.norm(gone, axis=1) * 24
        assert speed.max() < 0.7 * 1.001
        assert speed.min() > 0.2 * 0.999


@pytest.mark.parametrize("where", ["surface", "points", "inside"])
def test_it_is_born_where_it_says(where):
    at = points(swarm(born=where, count=400), 0)
    away = np.linalg.norm(at, axis=1)
    if where == "inside":
        assert away.max() <= 0.5
        # A ball's points are at a mean distance of ¾ of its radius (derived).
        assert away.mean() == pytest.approx(0.375, rel=0.05)
    else:
        assert away == pytest.approx(np.full(400, 0.5), abs=0.01)


def test_born_steadily_it_settles_and_the_seam_agrees():
    document = swarm(
        force("wind", speed=0.6, size=0.8, evolve={"signal": "cycle", "shape": "saw"}),
        births="steadily",
        lifetime=1.0,
        leaves=0.3,
        closing="settles",
    )
    evaluator = Evaluator()
    assert "settled" in seam(document, "p", evaluator).note
    assert points(document, 0, evaluator) == pytest.approx(
        points(document, 48, evaluator), abs=1e-5
    )
    assert np.abs(points(document, 0, evaluator) - points(document, 24, evaluator)).max() > 0.05


def test_cross_blended_it_closes():
    document = swarm(
        force("wind", speed=0.6, size=0.8), force("pull", speed=0.5), closing="blended", blend=20
    )
    assert seam(document, "p", Evaluator()).state == "closed"


@pytest.mark.parametrize("becomes", ["points", "trails"])
def test_any_order_and_any_number_of_threads_give_the_same_bytes(becomes):
    document = swarm(
        force("wind", speed=0.6), force("neighbours", strength=9.0), count=300, becomes=becomes
    )
    evaluator = Evaluator()
    scrubbed = [points(document, f, evaluator) for f in (30, 4, 17.5)]
    for frame, found in zip((30, 4, 17.5), scrubbed, strict=True):
        assert np.array_equal(found, points(document, frame, shared=True))


def test_copies_look_where_they_go():
    document = made_of(
        {"step": "icosphere", "values": {"radius": 0.3, "halvings": 2}},
        {
            "step": "swarm",
            "values": {
                "count": 40,
                "leaves": 1.0,
                "becomes": "copies",
                "copies": "o",
                "closing": "once",
            },
        },
    )
    copies = Evaluator().evaluate(document, Request("p", 12)).geometry.copies
    ahead = copies.placements[:, :, 2]
    ahead = ahead / np.linalg.norm(ahead, axis=1, keepdims=True)
    out = copies.centres / np.linalg.norm(copies.centres, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", ahead, out).min() > 0.97


def test_a_swarm_that_flies_apart_is_told_of():
    with pytest.raises(StepError, match="flies apart") as raised:
        points(swarm(force("gravity", strength=1e6)), 47)
    assert "weaker" in raised.value.hint
