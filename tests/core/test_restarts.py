"""What a change lets begin again is told beforehand: no step too few, no step too many."""

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request

FRAMES = 24
BALL = {"step": "icosphere", "values": {"halvings": 1}}
SHAKEN = {
    "step": "place",
    "values": {"move": [{"signal": "cycle", "low": -0.2, "high": 0.2}, 0.0, 0.0]},
}
SPRINGS = {"step": "springs", "values": {"closing": "settles"}}
TWIST = {"step": "twist", "values": {"angle": 30.0}}
REMEMBERS = {
    "step": "inflate",
    "where": {
        "layers": [
            {"id": "l", "layer": "ball", "memory": "stays", "values": {"radius": 0.3}},
        ]
    },
}


def made(*steps, more=()):
    return check_document(
        document(*(steps or (BALL, SHAKEN, SPRINGS, TWIST)), frames=FRAMES)
        | {"pieces": [*document(*(steps or (BALL, SHAKEN, SPRINGS, TWIST)))["pieces"], *more]}
    )


def changed(study, piece=0, step=0, **values):
    own = {**study.document, "pieces": [dict(each) for each in study.document["pieces"]]}
    recipe = [dict(each) for each in own["pieces"][piece]["recipe"]]
    recipe[step] = {**recipe[step], "values": {**recipe[step].get("values", {}), **values}}
    own["pieces"][piece]["recipe"] = recipe
    return check_document(own)


def steps_of(study, after, evaluator=None):
    return [(r.piece, r.step) for r in (evaluator or Evaluator()).restarts(study, after)]


def test_what_comes_before_a_system_and_itself_let_it_begin_again_and_what_follows_not():
    study = made()
    assert steps_of(study, changed(study, step=0, radius=0.7)) == [("p", "s2")]
    assert steps_of(study, changed(study, step=1, turn=[0.0, 10.0, 0.0])) == [("p", "s2")]
    assert steps_of(study, changed(study, step=2, damping=0.9)) == [("p", "s2")]
    assert steps_of(study, changed(study, step=3, angle=50.0)) == []


def test_a_name_and_a_look_restart_nothing():
    study = made()
    own = {**study.document, "name": "Other"}
    looks = [{"id": "o", "look": "surface", "values": {"opacity": 50.0}}]
    own["pieces"] = [{**study.document["pieces"][0], "name": "Renamed", "looks": looks}]
    assert steps_of(study, check_document(own)) == []


def test_what_uses_a_piece_that_changes_begins_again_too():
    """A piece drapes on one that is changed, and has springs after that."""
    drape = {"id": "d", "step": "drape", "values": {"piece": "p"}}
    other = {"id": "q", "name": "Cloth"}
    other["recipe"] = [
        {"id": "f", **BALL},
        drape,
        {"id": "g", **SPRINGS},
    ]
    study = made(BALL, TWIST, more=[other])
    assert steps_of(study, changed(study, step=0, radius=0.7)) == [("q", "g")]


def test_a_mask_that_remembers_begins_again_by_what_it_is_read_on():
    study = made(BALL, SHAKEN, REMEMBERS, TWIST)
    found = Evaluator().restarts(study, changed(study, step=0, radius=0.7))
    assert [(r.step, r.frames) for r in found] == [("s2", FRAMES)]
    # How far it inflates is nothing that is remembered.
    assert steps_of(study, changed(study, step=2, amount=0.4)) == []


@pytest.mark.parametrize(
    ("closing", "frames"),
    [
        ({"closing": "settles", "most_loops": 5}, FRAMES * 6),
        ({"closing": "blended", "blend": 6, "prerun": 2}, FRAMES + 6),
        ({"closing": "once", "prerun": 10}, FRAMES + 10),
    ],
)
def test_the_frames_are_those_of_its_way_to_close(closing, frames):
    study = made(BALL, SHAKEN, {"step": "springs", "values": closing})
    after = changed(study, step=0, radius=0.7)
    told = Evaluator().restarts(study, after)
    assert [(r.frames, r.at_most) for r in told] == [(frames, closing["closing"] == "settles")]


def test_what_was_walked_tells_what_it_will_take():
    study, evaluator = made(), Evaluator()
    after = changed(study, step=0, radius=0.7)
    assert evaluator.restarts(study, after)[0].seconds is None
    evaluator.evaluate(study, Request("p", 3.0))
    told = evaluator.restarts(study, after)[0]
    # It has settled by now, so that its loops are known; it walks so many again.
    loops = evaluator.settled(study, "p")[0][1].loops
    assert (told.frames, told.at_most) == (FRAMES * (loops + 1), False)
    assert told.seconds is not None and np.isfinite(told.seconds) and told.seconds > 0
