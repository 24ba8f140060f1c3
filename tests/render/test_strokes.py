"""Curves and loose points in the small rasteriser."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.render.strokes import dots, strokes
from zygomorph.render.thumbnail import render_frame

VIEW = np.eye(3)


def test_a_stroke_is_as_wide_as_it_measures_at_its_distance():
    # Pinhole: thickness · focal / distance pixels (textbook).
    screen = np.array([[10.0, 20.0, 2.0], [110.0, 20.0, 4.0]])
    corners, normals, colours, triangles = strokes(
        screen, np.eye(3)[:2], np.array([[0, 1]]), VIEW, np.full(2, 0.2), 100.0
    )
    assert np.ptp(corners[[0, 3], 1]) == pytest.approx(10)
    assert np.ptp(corners[[1, 2], 1]) == pytest.approx(5)
    assert np.allclose(np.linalg.norm(normals, axis=1), 1)
    assert np.array_equal(colours, np.eye(3)[[0, 1, 1, 0]])
    assert len(triangles) == 2


def test_dots_are_squares_and_never_too_small_to_see():
    corners, *_ = dots(np.array([[5.0, 5.0, 1.0]]), np.ones((1, 3)), VIEW, np.full(1, 1e-6), 100.0)
    assert np.allclose(np.ptp(corners[:, :2], axis=0), 1.5)


@pytest.mark.parametrize(
    "form",
    [{"step": "circle"}, {"step": "strands"}, {"step": "cloth"}],
    ids=lambda form: form["step"],
)
def test_curves_and_cloths_are_seen_in_thumbnails(form):
    empty = {"step": "line", "values": {"begin": [0, 90, 0], "end": [0, 91, 0]}}
    evaluator = Evaluator()
    seen, nothing = (
        np.asarray(render_frame(study(s), evaluator, 0.0, (96, 60)), float) for s in (form, empty)
    )
    assert (np.abs(seen - nothing).max(axis=2) > 12).mean() > 0.02
