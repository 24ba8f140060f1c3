"""The software pictures of the gallery."""

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import camera, study, surface
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.view import View, upright
from zygomorph.render.raster import draw, project
from zygomorph.render.thumbnail import FRAMES, SIZE, moving_thumbnail, render_frame

BALL = {"step": "icosphere", "values": {"halvings": 3, "radius": 0.5}}
GREEN = {"colour": "#00ff00"}
CAMERA = camera(position=[0.0, 0.0, 3.0], angle=30)


def canvas(columns=40, rows=30):
    image = np.zeros((rows, columns, 6), np.float32)
    return image, np.full((rows, columns), np.inf, np.float32)


def paint(image, depth, corners, colour=(1, 0, 0)):
    count = len(corners)
    draw(
        image,
        depth,
        np.array(corners, np.float32),
        np.tile([0, 0, 1], (count, 1)),
        np.tile(colour, (count, 1)),
        np.arange(count).reshape(-1, 3),
    )


def test_a_triangle_covers_its_area():
    image, depth = canvas(200, 200)
    paint(image, depth, [[10, 10, 1], [190, 10, 1], [10, 190, 1]])
    assert np.isfinite(depth).sum() == pytest.approx(180 * 180 / 2, rel=0.01)


def test_triangles_that_share_an_edge_leave_no_gap_between_them():
    image, depth = canvas(64, 64)
    paint(image, depth, [[5, 5, 1], [59, 5, 1], [59, 59, 1], [5, 5, 1], [59, 59, 1], [5, 59, 1]])
    assert np.isfinite(depth[6:58, 6:58]).all()


def test_the_nearer_triangle_hides_the_farther_in_either_order():
    near = [[0, 0, 1], [40, 0, 1], [0, 30, 1]]
    far = [[0, 0, 2], [40, 0, 2], [0, 30, 2]]
    for order in ((near, far), (far, near)):
        image, depth = canvas()
        for triangle in order:
            paint(image, depth, triangle, (1, 0, 0) if triangle is near else (0, 0, 1))
        assert image[5, 5, :3].tolist() == [1, 0, 0]


def test_what_is_behind_the_eye_is_not_drawn():
    image, depth = canvas()
    paint(image, depth, [[0, 0, -1], [40, 0, 1], [0, 30, 1]])
    assert not np.isfinite(depth).any()


@given(st.lists(st.floats(-5, 5), min_size=3, max_size=3).filter(lambda v: np.linalg.norm(v) > 0.1))
def test_a_view_has_right_angles(position):
    view = View(np.array(position), np.zeros(3), upright(np.array(position), np.zeros(3))).axes.T
    assert np.allclose(view @ view.T, np.eye(3), atol=1e-9)
    assert np.linalg.det(view) == pytest.approx(1)
    assert view[2] @ position > 0


def test_the_target_is_in_the_middle_and_the_angle_of_view_fills_the_height():
    position = np.array([0.0, 0.0, 4.0])
    view = View(position, np.zeros(3), upright(position, np.zeros(3))).axes.T
    # Field of view: half the height at distance d is d · tan(angle / 2) (textbook pinhole).
    edge = 4 * np.tan(np.radians(15))
    seen = project(np.array([[0, 0, 0], [0, edge, 0], [0, -edge, 0]]), position, view, 30, (80, 60))
    assert np.allclose(seen, [[40, 30, 4], [40, 0, 4], [40, 60, 4]], atol=1e-4)


def picture(made, frame=0.0):
    return np.asarray(render_frame(made, Evaluator(), frame, (96, 60))).astype(int)


def with_camera(*steps, **piece):
    made = study(*steps, **piece)
    return type(made)({**made.document, "cameras": CAMERA})


def test_a_ball_is_round_in_the_picture():
    shown = picture(with_camera(BALL, looks=surface(**GREEN)))
    ball = shown[..., 1] > shown[..., 0] + 30
    rows, columns = np.flatnonzero(ball.any(axis=1)), np.flatnonzero(ball.any(axis=0))
    assert np.ptp(rows) == pytest.approx(np.ptp(columns), abs=2)
    # A ball of radius r at distance d has the apparent half angle asin(r / d).
    radius = 30 * np.tan(np.arcsin(0.5 / 3)) / np.tan(np.radians(15))
    assert np.ptp(rows) / 2 == pytest.approx(radius, abs=1.5)


def test_a_hidden_piece_is_not_in_the_picture():
    shown = picture(with_camera(BALL, looks=surface(**GREEN), visible=False))
    assert (shown[..., 1] <= shown[..., 0] + 30).all()


def test_glow_makes_it_brighter():
    plain = picture(with_camera(BALL, looks=surface(**GREEN)))
    # On the side that is turned away from both lights.
    dim = np.unravel_index(
        np.argmin(np.where(plain[..., 1] > plain[..., 0] + 30, plain[..., 1], 999)), plain.shape[:2]
    )
    assert (
        picture(with_camera(BALL, looks=surface(**GREEN, glow=80.0)))[dim][1] > plain[dim][1] + 20
    )


def test_facets_have_one_tone_each():
    coarse = {"step": "icosphere", "values": {"halvings": 0, "radius": 0.5}}
    smooth = picture(with_camera(coarse, looks=surface(**GREEN)))
    flat = picture(with_camera(coarse, looks=surface(**GREEN, shading="flat")))

    def tones(shown):
        return len(np.unique(shown[shown[..., 1] > shown[..., 0] + 30], axis=0))

    assert tones(flat) < tones(smooth) / 2


def test_the_thumbnail_has_its_frames_and_lasts_as_long_as_the_loop():
    turning = [40, {"signal": "cycle", "shape": "saw", "high": 90}, 0]
    made = with_camera(
        {"step": "sheet", "values": {"columns": 4, "rows": 4}}, place={"turn": turning}
    )
    image = Image.open(io.BytesIO(moving_thumbnail(made, Evaluator())))
    assert image.size == SIZE
    assert image.n_frames == FRAMES
    image.load()
    assert image.info["duration"] == max(40, round(made.loop.seconds * 1000 / FRAMES))
