"""Cameras: what they are aimed at, follow, have in focus, how they shake, and how they are keyed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import camera, document
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.scene import plan_camera, view_at
from zygomorph.core.inspect.autofocus import focus_at
from zygomorph.core.inspect.keep_view import keep_view
from zygomorph.core.transforms.camera import along_path

FRAMES = 24
RING = {
    "id": "way",
    "name": "Way",
    "recipe": [{"id": "f", "step": "circle", "values": {"radius": 2.0, "count": 256}}],
}
BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 4}}
EVALUATOR = Evaluator()


def study(*others, cameras=None, markers=(), steps=(BALL,), **more) -> Study:
    made = document(*steps) | {"markers": list(markers), "cameras": cameras or camera()} | more
    made["pieces"] = [*made["pieces"], *others]
    return Study(check_document(made).document, curves=EVALUATOR.curve)


def seen(made: Study, frame: float = 0.0):
    return view_at(made, np.array([frame]))


def edited(made: Study, operations) -> Study:
    read = TypeAdapter(list[Operation]).validate_python(operations)
    document = check_document(apply_edit(dict(made.document), read)[0]).document
    return Study(document, curves=EVALUATOR.curve)


def ahead(view) -> np.ndarray:
    way = view.target - view.position
    return way / np.linalg.norm(way)


def run(high: float) -> dict:
    return {"signal": "cycle", "shape": "triangle", "cycles": 1, "low": 0, "high": high}


def test_it_goes_round_a_closed_path_at_an_even_speed_and_is_back():
    made = study(RING, cameras=camera(stands="path", path="way", aims="ahead"))
    places = np.array([seen(made, f).position for f in range(FRAMES + 1)])
    assert np.linalg.norm(places, axis=1) == pytest.approx(np.full(FRAMES + 1, 2.0), abs=1e-3)
    steps = np.linalg.norm(np.diff(places, axis=0), axis=1)
    # A chord of a circle: 2 r sin(angle / 2).
    assert steps == pytest.approx(np.full(FRAMES, 4 * np.sin(np.pi / FRAMES)), rel=1e-3)
    assert places[-1] == pytest.approx(places[0], abs=1e-6)
    # It looks along the tangent: at right angles to the radius, the way that it goes.
    view = seen(made, 5.0)
    assert abs(ahead(view) @ view.position) < 0.02
    assert ahead(view) @ (seen(made, 5.5).position - view.position) > 0


def test_half_the_speed_backwards_is_half_of_the_way_back():
    there = study(RING, cameras=camera(stands="path", path="way"))
    back = study(RING, cameras=camera(stands="path", path="way", rounds=-0.5))
    assert seen(back, 8.0).position == pytest.approx(seen(there, FRAMES - 4.0).position, abs=1e-6)


def test_a_path_that_is_gone_leaves_it_where_its_position_is():
    made = study(cameras=camera(stands="path", path="gone", position=[0, 1, 2]))
    assert seen(made, 3.0).position == pytest.approx([0, 1, 2])


@given(st.floats(0, 1), st.integers(2, 9))
def test_a_share_of_a_polygon_is_a_share_of_its_length(share, count):
    points = np.cumsum(np.abs(np.random.default_rng(count).normal(size=(count, 3))), axis=0)
    at = along_path(points, False, share)
    lengths = np.linalg.norm(np.diff(points, axis=0), axis=1)
    # The point at which as much lies behind as the share says.
    k = int(np.argmin([np.linalg.norm(at - p) for p in points]))
    behind = lengths[:k].sum() + np.sign(
        np.linalg.norm(at - points[0]) - np.linalg.norm(points[k] - points[0])
    ) * np.linalg.norm(at - points[k])
    assert behind == pytest.approx(share * lengths.sum(), abs=1e-6)


def test_what_faces_the_camera_depends_on_its_path():
    facing = {
        "step": "inflate",
        "values": {"amount": 0.3},
        "where": {"layers": [{"id": "l", "layer": "facing", "values": {"against": "viewer"}}]},
    }
    cameras = camera(stands="path", path="way")
    wide = {**RING, "recipe": [{"id": "f", "step": "circle", "values": {"radius": 3.0}}]}
    one = study(RING, cameras=cameras, steps=(BALL, facing))
    other = study(wide, cameras=cameras, steps=(BALL, facing))
    assert piece_key(one, "p", False) != piece_key(other, "p", False)
    assert plan_piece(one, "p").moves
    fat = [EVALUATOR.evaluate(one, Request("p", f)).mesh.points for f in (0.0, 6.0)]
    towards = [seen(one, f).position for f in (0.0, 6.0)]
    for points, place in zip(fat, towards, strict=True):
        farthest = points[np.linalg.norm(points, axis=1).argmax()]
        assert farthest @ place / np.linalg.norm(place) > 0.75


def test_it_looks_at_a_marker_wherever_that_goes():
    marker = {"id": "m", "name": "M", "place": {"move": [run(1.0), 0.5, 0]}}
    made = study(markers=[marker], cameras=camera(aims="anchor", aim="/markers/m"))
    assert plan_camera(made).moves
    assert seen(made, 0).target == pytest.approx([0, 0.5, 0])
    assert seen(made, FRAMES / 2).target == pytest.approx([1, 0.5, 0])


def test_what_looks_at_what_it_carries_is_refused():
    marker = {"id": "m", "name": "M", "carried": {"by": "camera", "id": "camera"}}
    with pytest.raises(DocumentError, match="carry itself|carries itself"):
        study(markers=[marker], cameras=camera(aims="anchor", aim="/markers/m"))


def test_what_it_carries_stays_in_the_same_place_of_the_picture():
    tied = {
        "id": "tied",
        "name": "Tied",
        "recipe": [{"id": "f", "step": "box"}],
        "place": {"move": [0.1, 0, -2]},
        "carried": {"by": "camera", "id": "camera"},
    }
    made = study(RING, tied, cameras=camera(stands="path", path="way", roll=30.0))
    for frame in (0.0, 7.0):
        view = seen(made, frame)
        place = plan_piece(made, "tied").place_at(np.array([frame]))
        within = view.axes.T @ (place[:3, 3] - view.position)
        assert within == pytest.approx([0.1, 0, -2], abs=1e-6)


@given(st.floats(0.1, 20), st.integers(1, 12), st.integers(0, 99))
def test_a_hand_shakes_no_more_than_it_says_and_comes_back(size, pace, seed):
    shaking = camera(shake=size, shake_pace=pace, shake_seed=seed)
    still, made = study(), study(cameras=shaking)
    turned = []
    for frame in range(FRAMES + 1):
        view = seen(made, frame)
        assert view.position == pytest.approx(seen(still).position)
        turned.append(np.degrees(np.arccos(np.clip(ahead(view) @ ahead(seen(still)), -1, 1))))
    # Up and sideways together.
    assert max(turned) <= size * np.sqrt(2) + 1e-6
    assert max(turned) > size * 0.1
    assert ahead(seen(made, FRAMES)) == pytest.approx(ahead(seen(made, 0)), abs=1e-9)


def test_a_kick_moves_it_for_one_frame_only():
    kick = {"signal": "kicks", "by": "hand", "frames": "3, 10", "size": 0.2}
    made = study(cameras=camera(shift=[kick, 0, 0]))
    still = seen(study())
    moved = [
        (seen(made, f).position - still.position) @ still.axes[:, 0] for f in np.arange(0, 24, 0.25)
    ]
    kicked = np.flatnonzero(np.abs(moved) > 1e-9) / 4
    # As long as the shutter may be open in these frames, and not a moment longer.
    assert kicked.tolist() == [3, 3.25, 3.5, 3.75, 10, 10.25, 10.5, 10.75]
    assert max(moved) == pytest.approx(0.2)


def test_the_lens_sees_what_the_formula_says_and_the_longer_side_is_the_films():
    def angle(**values):
        return seen(study(cameras=camera(seen="lens", **values))).angle

    # 2 atan(d / 2f), for the height of 20.25 mm of a picture of 36 mm in 16:9.
    assert angle(lens=35.0) == pytest.approx(np.degrees(2 * np.arctan(20.25 / 70)))
    assert angle(lens=50.0, format="1:1") == pytest.approx(39.5978, abs=1e-3)
    assert angle(lens=50.0, format="9:16") == pytest.approx(39.5978, abs=1e-3)
    assert angle(lens=25.0, film=18.0) == pytest.approx(angle(lens=50.0))
    own = study(cameras=camera(format="own", format_width=3.0, format_height=2.0))
    assert seen(own).aspect == 1.5


def test_the_surface_on_the_axis_is_in_focus_as_it_moves():
    swells = {"step": "inflate", "values": {"amount": run(0.4)}}
    at = {"position": [0, 0, 4.0], "target": [0, 0, 0.0]}
    focus = {"blur": True, "focus_by": "surface", "focus_piece": "p"}
    made = study(cameras=camera(**at, **focus), steps=(BALL, swells))
    for frame, radius in ((0.0, 0.5), (FRAMES / 2, 0.9)):
        distance, found = focus_at(EVALUATOR, made, frame)
        assert found
        assert distance == pytest.approx(4 - radius, abs=2e-3)
    aside = study(cameras=camera(position=[3, 0, 4.0], target=[3, 0, 0.0], **focus))
    assert focus_at(EVALUATOR, aside, 0.0) == (pytest.approx(4.0), False)


def test_an_opening_is_as_wide_as_the_f_number_says():
    view = seen(study(cameras=camera(blur=True, f_number=2.0, seen="lens", lens=50.0)))
    # A 50 mm lens at f/2 has an opening of 25 mm.
    assert view.lens_radius == pytest.approx(0.0125)
    assert seen(study()).lens_radius == 0


def test_keys_of_the_view_close_a_loop_by_themselves():
    made = study()
    made = edited(made, keep_view(made, [0, 1, 3], [0, 0, 0], 4, "key"))
    assert seen(made, 9).position == pytest.approx([0, 1, 3])
    made = edited(made, keep_view(made, [2, 1, 0], [0, 0.2, 0], 12, "key"))
    assert seen(made, 4).position == pytest.approx([0, 1, 3])
    assert seen(made, 12).position == pytest.approx([2, 1, 0])
    assert seen(made, 12).target == pytest.approx([0, 0.2, 0])
    assert seen(made, FRAMES).position == pytest.approx(seen(made, 0).position)
    # A key before the first is one before the loop's end.
    made = edited(made, keep_view(made, [0, 4, 0.1], [0, 0, 0], 2, "key"))
    assert [seen(made, f).position[1] for f in (2, 4)] == pytest.approx([4, 1])
    # The key that ends the loop is the one that begins it.
    made = edited(made, keep_view(made, [0, 2, 3], [0, 0, 0], 4, "key"))
    assert seen(made, 4 + FRAMES).position == pytest.approx([0, 2, 3])
    with pytest.raises(ZygomorphError, match="moves by itself"):
        keep_view(made, [0, 0, 1], [0, 0, 0], 0.0)


def test_a_kept_view_may_be_another_camera_with_the_same_lens():
    made = study(cameras=camera(seen="lens", lens=80.0, aims="ahead"))
    with pytest.raises(ZygomorphError, match="looks the way it goes"):
        keep_view(made, [0, 0, 1], [0, 0, 0], 0.0)
    made = edited(made, keep_view(made, [0, 0, 5], [0, 1, 0], 0.0, "new"))
    assert [each["name"] for each in made.cameras] == ["Camera", "Camera 2"]
    assert seen(made).position == pytest.approx([0, 0, 5])
    assert seen(made).angle == pytest.approx(np.degrees(2 * np.arctan(20.25 / 160)))


def test_an_orthographic_camera_sees_a_height():
    own = [{**camera()[0], "camera": "orthographic", "values": {"height": 2.5}}]
    view = seen(study(cameras=own))
    assert (view.height, view.lens_radius) == (2.5, 0)
