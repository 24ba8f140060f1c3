"""What is meant by clicks, boxes and directions on the stage."""

import numpy as np
import pytest

from tests.conftest import study
from tests.reference.test_deformers import form
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.runs import flags
from zygomorph.core.inspect.picking import Box, Facing, Grow, Others, Sized, pick
from zygomorph.core.inspect.rays import Ray

SHEET = {"step": "sheet", "values": {"width": 1.0, "depth": 1.0, "columns": 10, "rows": 10}}
PUSH = {"step": "displace", "values": {"amount": 0.0}}
DOWN = np.array([0.0, -1.0, 0.0])


def picked(selection, of="faces", base=SHEET, **more):
    where = {k: more.pop(k) for k in ("place",) if k in more}
    return pick(Evaluator(), study(base, PUSH, **where), "p", "s1", of, selection, **more)


def above(x, z):
    return Ray(np.array([x, 3.0, z]), DOWN)


def test_a_click_takes_the_face_under_it():
    runs, count = picked(above(-0.45, -0.45))
    assert (runs, count) == ([[0, 1]], 1)


@pytest.mark.parametrize(("of", "number"), [("points", 0), ("faces", 0)])
def test_a_click_beside_the_piece_takes_nothing(of, number):
    assert picked(above(2.0, 0.0), of) == ([], number)


def test_a_click_takes_the_nearest_point():
    runs, count = picked(above(0.02, 0.01), "points")
    assert (runs, count) == ([[60, 1]], 1)


def test_a_click_sees_where_the_piece_stands():
    moved = {"move": [5.0, 0, 0]}
    assert picked(above(4.55, -0.45), place=moved)[0] == [[0, 1]]


def test_a_click_on_a_tile_takes_the_whole_tile():
    x, _, z = elements_of(form("tiling"), "shards").centres[4]
    runs, count = picked(above(x, z), "shards", {"step": "tiling"})
    assert (runs, count) == ([[4, 1]], 1)


def test_a_click_near_a_strand_takes_it():
    strands = {"step": "strands", "values": {"strands": 1, "count": 4}}
    near = Ray(np.array([0.42, 0.3, 3.0]), np.array([0.0, 0.0, -1.0]))
    assert picked(near, "curves", strands) == ([[0, 1]], 1)


def front(low, high, through=False):
    """Seen flat from the front: x and y are the view's own."""
    view = np.eye(4)
    return Box(view, np.array(low), np.array(high), np.array([0.0, 0.0, 9.0]), through)


BALL = {"step": "icosphere", "values": {"halvings": 3, "radius": 0.5}}


def test_a_box_takes_what_faces_the_viewer_or_both_sides():
    one = picked(front([-1, -1], [1, 1]), base=BALL)[1]
    both = picked(front([-1, -1], [1, 1], through=True), base=BALL)[1]
    assert both == 1280
    assert 500 < one < 700


def test_a_box_takes_only_what_is_inside():
    runs, _ = picked(front([0, 0], [1, 1], through=True), "points", BALL)
    points = form("icosphere", halvings=3, radius=0.5).points
    inside = (points[:, 0] >= 0) & (points[:, 1] >= 0)
    assert np.array_equal(flags(runs, len(points)), inside)


def test_a_direction_takes_what_looks_along_it():
    _, count = picked(Facing(np.array([0.0, 1.0, 0.0]), 45.0), base=BALL)
    # A cap of 45° is (1 - cos 45°) / 2 of the ball (Archimedes).
    assert count / 1280 == pytest.approx((1 - np.cos(np.pi / 4)) / 2, abs=0.02)


def test_picks_join_leave_and_replace():
    first = [[0, 5]]
    assert picked(above(-0.45, -0.45), picked=first, how="remove") == ([[1, 4]], 4)
    assert picked(above(0.45, 0.45), picked=first, how="add") == ([[0, 5], [99, 1]], 6)
    assert picked(above(0.45, 0.45), picked=first, how="only") == ([[99, 1]], 1)


def test_a_form_has_no_mask_to_pick_for():
    with pytest.raises(ZygomorphError, match="no step"):
        pick(Evaluator(), study(SHEET, PUSH), "p", "s0", "faces", above(0, 0))


def test_curves_of_a_sheet_are_told_to_be_none():
    with pytest.raises(ZygomorphError, match="no curves"):
        picked(above(0, 0), "curves")


def test_growing_takes_the_four_neighbours_of_a_quad_and_shrinking_gives_it_back():
    one = [[55, 1]]
    grown, count = picked(Grow(1), picked=one)
    assert count == 5
    assert np.flatnonzero(flags(grown, 100)).tolist() == [45, 54, 55, 56, 65]
    assert picked(Grow(-1), picked=grown) == (one, 1)
    assert picked(Grow(2), picked=one)[1] == 13


def test_growing_takes_the_six_neighbours_of_a_tile():
    tiling = {"step": "tiling"}
    centres = elements_of(form("tiling"), "shards").centres
    inner = int(np.linalg.norm(centres, axis=1).argmin())
    assert picked(Grow(1), "shards", tiling, picked=[[inner, 1]])[1] == 7


def test_the_largest_faces_of_a_cone_are_those_at_its_foot():
    cone = {
        "step": "cone",
        "values": {"around": 16, "rows": 8, "caps": False, "bottom": 0.5, "top": 0.1},
    }
    runs, count = picked(Sized(1 / 8, True), base=cone)
    assert count == 16
    centres = elements_of(form("cone", **cone["values"]), "faces").centres
    low = np.sort(centres[:, 1])[15] + 1e-4
    assert np.array_equal(flags(runs, 128), centres[:, 1] <= low)
    assert picked(Sized(1 / 8, False), base=cone)[0] != runs


def test_equal_sizes_are_taken_together():
    assert picked(Sized(0.1, True))[1] == 100


def test_loose_points_have_no_size():
    with pytest.raises(ZygomorphError, match="no size"):
        picked(Sized(0.1, True), "points", {"step": "cloth", "values": {"columns": 10, "rows": 10}})


def test_all_others_instead():
    assert picked(Others(), picked=[[0, 40]]) == ([[40, 60]], 60)
