"""What a brush leaves on the rest shape."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_masks import layer, weigh
from tests.reference.test_deformers import form
from zygomorph.core.masking.brush import drawn_weights, left_behind
from zygomorph.core.values.kinds.drawn import stroke

UP = [0.0, 1.0, 0.0]
LINE = [[-0.5, 0, 0, *UP], [0.5, 0, 0, *UP]]


def sheet(cells):
    return form("sheet", width=2.0, depth=2.0, columns=cells, rows=cells)


def painted(mesh, *strokes):
    return weigh(mesh, layer("drawn", {"profile": "linear"}, strokes=list(strokes)))


def test_a_hard_stroke_reaches_as_far_as_the_brush_is_large():
    mesh = sheet(80)
    found = painted(mesh, {**stroke(LINE, size=0.3), "softness": 0.0})
    along = np.clip(mesh.points[:, 0], -0.5, 0.5)
    away = np.hypot(mesh.points[:, 0] - along, mesh.points[:, 2])
    clear = np.abs(away - 0.3) > 1e-5
    assert np.array_equal((found > 0.5)[clear], (away <= 0.3)[clear])


def test_a_soft_stroke_falls_off_smoothly():
    mesh = sheet(80)
    found = painted(mesh, {**stroke([[0, 0, 0, *UP]], size=0.5), "softness": 100.0})
    away = np.hypot(mesh.points[:, 0], mesh.points[:, 2])
    t = np.clip(1 - away / 0.5, 0, 1)
    assert np.allclose(found, 3 * t**2 - 2 * t**3, atol=1e-5)


def test_draft_and_final_agree():
    # A coarse mesh and one four times as fine have the same weights where both have points.
    strokes = [stroke(LINE), stroke([[0, 0, 0.2, *UP]], "erase", 0.2), stroke(LINE, "soften", 0.3)]
    coarse, fine = sheet(40), sheet(160)
    few, many = painted(coarse, *strokes), painted(fine, *strokes)
    shared = many.reshape(161, 161)[::4, ::4].reshape(-1)
    assert np.abs(few - shared).max() < 0.03


def test_erasing_takes_away_what_was_painted():
    mesh = sheet(30)
    assert painted(mesh, stroke(LINE), stroke(LINE, "erase", 2.0)).max() < 0.05


def test_softening_evens_out_and_adds_nothing():
    mesh = sheet(60)
    hard = {**stroke([[0, 0, 0, *UP]], size=0.4), "softness": 0.0}
    before = painted(mesh, hard)
    after = painted(mesh, hard, stroke([[0, 0, 0, *UP]], "soften", 1.0))
    slope = [np.abs(np.diff(w.reshape(61, 61), axis=1)).max() for w in (before, after)]
    assert slope[1] < 0.7 * slope[0]
    assert after.sum() == pytest.approx(before.sum(), rel=0.15)


def test_the_back_of_a_thin_wall_is_not_painted():
    both = np.array([[0, 0, 0], [0, -0.01, 0]], float)
    normals = np.array([UP, [0, -1, 0]])
    assert drawn_weights([stroke([[0, 0, 0, *UP]])], both, normals).tolist() == [1.0, 0.0]


def test_paint_stays_where_the_surface_was_at_rest():
    mesh = sheet(20)
    lifted = mesh.moved(mesh.points + np.float32([0, 5, 0]))
    assert np.array_equal(painted(mesh, stroke(LINE)), painted(lifted, stroke(LINE)))


def test_curves_and_loose_points_are_painted_from_all_sides():
    strands = form("strands", strands=20, count=10)
    found = painted(strands, stroke([[0, 0.5, 0, 0, 0, 0]], size=0.4))
    assert found.max() > 0.9


@given(st.lists(st.sampled_from(["paint", "erase", "soften"]), max_size=4))
def test_weights_stay_between_0_and_1(ways):
    found = painted(sheet(12), *(stroke(LINE, does) for does in ways))
    assert found.min() >= 0
    assert found.max() <= 1


def test_strokes_of_a_shape_that_is_gone_are_told():
    here = sheet(20).points.astype(float)
    assert left_behind([stroke(LINE)], here) == 0
    assert left_behind([stroke(LINE)], here + np.array([0, 3, 0])) == 1
    assert left_behind([], here) == 0
