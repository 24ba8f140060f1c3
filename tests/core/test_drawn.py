"""Outlines that are drawn on the stage."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study, volume
from zygomorph.core.errors import DocumentError, StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.geometry.outlines.spline import smooth_curve

SQUARE = [[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]]
HOLE = [[-0.2, -0.2], [0.2, -0.2], [0.2, 0.2], [-0.2, 0.2]]


def made(*paths, **values):
    drawn = {"step": "drawn", "values": {"paths": list(paths), **values}}
    return Evaluator().evaluate(study(drawn), Request("p")).mesh


def closed(knots):
    return {"closed": True, "knots": knots}


def round_knots(count, radius=1.0):
    turn = np.arange(count) * 2 * np.pi / count
    return np.stack([np.cos(turn), np.sin(turn)], axis=1) * radius


knots = st.lists(
    st.tuples(st.floats(-9, 9).map(lambda v: round(v, 3)), st.floats(-9, 9)),
    min_size=3,
    max_size=12,
)


@settings(max_examples=60, deadline=None)
@given(knots, st.booleans(), st.integers(1, 9))
def test_a_smooth_curve_goes_through_every_knot(places, is_closed, pieces):
    curve = smooth_curve(np.array(places), is_closed, pieces)
    for place in places:
        assert np.abs(curve - place).max(axis=1).min() < 1e-9
    assert np.isfinite(curve).all()


def test_a_smooth_curve_through_a_circle_is_nearly_one():
    """Catmull–Rom splines have errors of third order or better: eight times more knots, at most
    a five-hundredth of the error."""

    def error(count):
        return np.abs(np.linalg.norm(smooth_curve(round_knots(count), True, 16), axis=1) - 1).max()

    assert error(8) < 0.02
    assert error(64) < error(8) / 8**3


def test_it_has_no_corner_at_a_knot():
    curve = smooth_curve(np.array([[0, 0], [1, 0.4], [1.2, 1.5], [3, 1.4]]), False, 4000)
    way = np.diff(curve, axis=0)
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    assert (way[1:] * way[:-1]).sum(axis=1).min() > 1 - 1e-4


def test_uneven_knots_make_no_loop():
    """Where knots stand close and far by turns, uniform splines overshoot; centripetal ones keep
    within (Yuksel, Schaefer and Keyser 2011)."""
    places = np.array([[0, 0], [1, 0], [1.02, 0.02], [2, 1]])
    curve = smooth_curve(places, False, 200)
    assert (np.diff(curve[:, 0]) > 0).all()


def test_straight_knots_give_exact_areas_and_volumes():
    flat = made(closed(SQUARE), closed(HOLE), make="filled", corners="sharp", cell=0.0)
    area = np.linalg.norm(face_vector_areas(flat).astype(float).sum(axis=0)) / 2
    assert area == pytest.approx(1 - 0.16, rel=1e-6)
    solid = made(
        closed(SQUARE), closed(HOLE), make="solid", corners="sharp", depth=0.3, bevel=0.0, cell=0.0
    )
    assert volume(solid) == pytest.approx(0.3 * 0.84, rel=1e-5)


def test_the_way_round_in_which_a_path_is_drawn_does_not_matter():
    one = made(closed(SQUARE), closed(HOLE), corners="sharp", bevel=0.0)
    other = made(closed(SQUARE[::-1]), closed(HOLE), corners="sharp", bevel=0.0)
    assert volume(one) == pytest.approx(volume(other), rel=1e-5)
    assert volume(one) > 0


def test_open_paths_are_curves_and_enclose_nothing():
    line = {"closed": False, "knots": [[0, 0], [1, 0.5], [2, 0]]}
    curves = made(line, closed(SQUARE), make="curves", pieces=10)
    assert curves.topology.curve_count == 2
    np.testing.assert_array_equal(curves.topology.curve_closed, [False, True])
    # So that a path is seen while it is drawn.
    assert made(line, make="solid").topology.curve_count == 1


@pytest.mark.parametrize("paths", [[], [closed([[0, 0]])], [closed([[0, 0], [1, 0]])]])
def test_where_nothing_is_drawn_it_says_what_to_do(paths):
    with pytest.raises(StepError, match="Nothing is drawn") as raised:
        made(*paths)
    assert "Draw" in raised.value.hint


@pytest.mark.parametrize(
    "path",
    [
        {"knots": []},
        {"knots": [[0, 0, 0]]},
        {"knots": [[0, float("nan")]]},
        {"knots": [["a", 0]]},
        {"closed": True},
        {"knots": [[0, 0]], "width": 2},
        {"knots": [[0, 0]] * 2001},
    ],
)
def test_a_wrong_path_is_refused_with_its_place(path):
    with pytest.raises(DocumentError) as raised:
        study({"step": "drawn", "values": {"paths": [path]}})
    assert raised.value.problems[0][0].startswith("/pieces/0/recipe/0/values/paths/0")


def test_what_is_drawn_first_is_closed_and_has_a_hole():
    leaf = Evaluator().evaluate(study({"step": "drawn"}), Request("p")).mesh
    assert leaf.topology.closed
    # One hole through a solid: Euler's characteristic is 0.
    edges = len(leaf.topology.edges)
    assert len(leaf.points) - edges + leaf.topology.face_count == 0
