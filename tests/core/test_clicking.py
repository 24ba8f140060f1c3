"""Places that are clicked on the stage: what a click means, and what is made there."""

import numpy as np
import pytest

from tests.conftest import study, volume
from tests.random_values import made_of
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.inspect.clicking import place_of_click
from zygomorph.core.inspect.rays import Ray

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 4}}
FRACTURE = {"step": "fracture", "values": {"way": "clicked", "gap": 0.0, "below": 0.1}}
CLICKED = {"step": "where_clicked", "values": {"smallest": 100.0}}
DOWN = np.array([0.0, -1.0, 0.0])


def clicked(*ways):
    return [{"at": [0.5 * c for c in way], "normal": list(way)} for way in ways]


def above(x=0.0, z=0.0):
    return Ray(np.array([x, 9.0, z]), DOWN)


def two(own, other, place=None, visible=True):
    pieces = {"id": "o", "name": "Ground", "place": place or {}, "recipe": [{"id": "f", **other}]}
    return made_of(*own, other={**pieces, "visible": visible})


def test_a_click_on_a_ball_is_on_it_and_its_normal_leads_away():
    at, normal = place_of_click(Evaluator(), study(BALL, FRACTURE), "p", "s1", above(0.1, 0.05))
    assert np.linalg.norm(at) == pytest.approx(0.5, abs=0.003)
    assert (at[0], at[2]) == (pytest.approx(0.1, abs=1e-6), pytest.approx(0.05, abs=1e-6))
    assert normal @ (at / np.linalg.norm(at)) > 0.99
    assert place_of_click(Evaluator(), study(BALL, FRACTURE), "p", "s1", above(0.6)) is None


def test_a_click_on_what_was_moved_is_where_that_was_at_rest():
    move = {"step": "place", "values": {"move": [2.0, 0.0, 0.0], "turn": [0.0, 0.0, 0.0]}}
    made = study(BALL, move, FRACTURE, place={"move": [0.0, 0.0, 1.0]})
    at, _ = place_of_click(Evaluator(), made, "p", "s2", above(2.1, 1.05))
    assert (at[0], at[2]) == (pytest.approx(0.1, abs=1e-5), pytest.approx(0.05, abs=1e-5))


def test_copies_are_placed_on_the_nearest_other_piece_that_is_seen():
    cone = {"step": "cone", "values": {"height": 0.2}}
    place = {"move": [0.0, -1.0, 0.0]}
    made = two([cone, CLICKED], BALL, place)
    at, normal = place_of_click(Evaluator(), made, "p", "s1", above())
    assert at == pytest.approx([0, -0.5, 0], abs=1e-3)
    assert normal @ [0, 1, 0] > 0.99
    hidden = two([cone, CLICKED], BALL, place, visible=False)
    assert place_of_click(Evaluator(), hidden, "p", "s1", above()) is None


def test_a_place_is_told_in_the_space_of_the_piece_that_takes_it():
    own = {"step": "cone", "values": {"height": 0.2}}
    made = two([own, CLICKED], BALL, {"move": [3.0, 0.0, 0.0]})
    made.document["pieces"][0]["place"] = {"move": [1.0, 0.0, 0.0], "scale": [2.0, 2.0, 2.0]}
    at, _ = place_of_click(Evaluator(), made, "p", "s1", above(3.0))
    assert at == pytest.approx([1.0, 0.25, 0.0], abs=1e-3)


def test_a_step_that_is_not_there_is_refused():
    with pytest.raises(ZygomorphError, match="no step"):
        place_of_click(Evaluator(), study(BALL, FRACTURE), "p", "gone", above())


def test_every_click_makes_a_shard_around_what_is_below_it():
    ways = [(0, 1, 0), (1, 0, 0), (0, 0, -1), (-1, 0, 0)]
    step = {**FRACTURE, "values": {**FRACTURE["values"], "clicked": clicked(*ways)}}
    mesh = Evaluator().evaluate(study(BALL, step), Request("p", 0.0)).mesh
    whole = Evaluator().evaluate(study(BALL), Request("p", 0.0)).mesh
    assert mesh.count("shard") == 4
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(volume(whole), rel=1e-6)
    # The nearest centre to each place is that of a shard of its own.
    centres = elements_of(mesh, "shards").centres
    places = 0.4 * np.array(ways)
    nearest = np.linalg.norm(centres[:, None] - places, axis=2).argmin(axis=0)
    assert sorted(nearest.tolist()) == [0, 1, 2, 3]


def test_one_click_breaks_nothing_and_one_beside_the_solid_does_not_count():
    for places in ([], clicked((0, 1, 0)), [*clicked((0, 1, 0)), *clicked((0, 9, 0))]):
        step = {**FRACTURE, "values": {**FRACTURE["values"], "clicked": places}}
        assert Evaluator().evaluate(study(BALL, step), Request("p", 0.0)).mesh.count("shard") == 1


def test_copies_stand_where_it_was_clicked_and_point_away():
    ways = [(0, 1, 0), (1, 0, 0), (0, 0.6, 0.8)]
    values = {"clicked": clicked(*ways), "offset": 0.1, "smallest": 100.0}
    cone = {"step": "cone", "values": {"height": 0.2}}
    step = {"step": "where_clicked", "values": values}
    copies = Evaluator().evaluate(study(cone, step), Request("p", 0.0)).geometry.copies
    assert copies.centres == pytest.approx(0.6 * np.array(ways), abs=1e-6)
    assert copies.placements[:, :, 1] == pytest.approx(np.array(ways), abs=1e-6)


def test_what_is_cut_anew_at_every_frame_takes_places_as_they_are_then():
    move = {"step": "place", "values": {"move": [2.0, 0.0, 0.0], "turn": [0.0, 0.0, 0.0]}}
    now = {**FRACTURE, "values": {**FRACTURE["values"], "cut": "now"}}
    at, _ = place_of_click(Evaluator(), study(BALL, move, now), "p", "s2", above(2.1, 0.05))
    assert (at[0], at[2]) == (pytest.approx(2.1, abs=1e-5), pytest.approx(0.05, abs=1e-5))
