"""Lights, camera and backdrop: what moves and carries them, what masks see, what is kept."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import camera, document
from zygomorph.core.animation.loop_closure import moving_numbers
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.document.variants import differ
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.inspect.attach import attach, let_go, remove_carrier
from zygomorph.core.inspect.keep_view import keep_view
from zygomorph.core.kernels.rotation import rotation

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 2}}
FACING = {
    "step": "inflate",
    "values": {"amount": 0.3},
    "where": {"layers": [{"id": "l", "layer": "facing", "values": {"against": "viewer"}}]},
}
MARKER = {"id": "m", "name": "Marker", "place": {"move": [0.5, 0.0, 0.0], "turn": [0.0] * 3}}
THERE = st.tuples(*[st.floats(-5, 5)] * 3)
TURN = st.tuples(*[st.floats(-170, 170)] * 3)


def keyed(*values: float) -> dict:
    keys = [{"frame": 12 * k, "value": v, "ease": "linear"} for k, v in enumerate(values)]
    return {"signal": "keys", "keys": keys}


def made(*steps, marker=None, **scene) -> Study:
    markers = [{**MARKER, **(marker or {})}]
    return check_document(document(*(steps or (BALL,))) | {"markers": markers} | scene)


def at(study: Study, frame: float):
    return plan_scene(study).at(np.array([frame]))


def edited(study: Study, operations) -> Study:
    read = TypeAdapter(list[Operation]).validate_python(operations)
    return check_document(apply_edit(dict(study.document), read)[0])


def sun(**values) -> list[dict]:
    return [{"id": "s", "name": "Sun", "light": "sun", "values": values}]


def test_every_number_of_lights_and_camera_may_move():
    study = made(
        lights=sun(strength=keyed(0, 4), towards=[keyed(0, 1), 1, 0]),
        cameras=camera(position=[0, keyed(1, 3), 4], angle=keyed(20, 60)),
    )
    scene = at(study, 6.0)
    assert scene.lamps["s"][0].strength == pytest.approx(2)
    assert scene.lamps["s"][0].towards == pytest.approx(np.array([0.5, 1, 0]) / np.hypot(0.5, 1))
    assert scene.view.position == pytest.approx([0, 2, 4])
    assert scene.view.angle == pytest.approx(40)
    assert plan_scene(study).moves
    assert not plan_scene(made()).moves
    # So they are told where the loop is asked whether it closes.
    assert {moving.address.split("/")[1] for moving in moving_numbers(study)} == {
        "lights",
        "cameras",
    }


def test_the_camera_that_masks_see_from_is_where_it_is_at_that_frame():
    moving = made(BALL, FACING, cameras=camera(position=[keyed(-3, 3), 0, 0.1]))
    assert plan_piece(moving, "p").moves
    for frame, x in ((0.0, -3.0), (12.0, 3.0)):
        still = made(BALL, FACING, cameras=camera(position=[x, 0, 0.1]))
        assert not plan_piece(still, "p").moves
        points = [Evaluator().evaluate(s, Request("p", frame)).mesh.points for s in (moving, still)]
        assert np.allclose(*points, atol=1e-6)
        # It is fat on the side that it turns to the camera.
        assert np.abs(points[0][:, 0]).max() == pytest.approx(0.8, abs=0.02)
        assert np.sign(points[0][np.abs(points[0][:, 0]).argmax(), 0]) == np.sign(x)


def test_what_carries_the_camera_changes_the_address_of_what_it_sees():
    by = {"carried": {"by": "marker", "id": "m"}}
    cameras = [camera(position=[0, 0, 3])[0] | by]
    one = made(BALL, FACING, cameras=cameras)
    other = made(BALL, FACING, cameras=cameras, marker={"place": {"move": [9, 0, 0]}})
    meshes = [Evaluator().evaluate(s, Request("p")).mesh.points for s in (one, other)]
    assert np.abs(meshes[0] - meshes[1]).max() > 0.01
    assert piece_key(one, "p", False) != piece_key(other, "p", False)


def test_the_first_camera_is_the_studys_unless_another_is_chosen():
    two = [*camera(angle=20), camera(angle=70)[0] | {"id": "other"}]
    assert at(made(cameras=two), 0).view.angle == 20
    assert at(made(cameras=two, camera="other"), 0).view.angle == 70


@given(TURN, THERE, THERE)
def test_a_light_and_a_camera_turn_with_what_carries_them(turn, move, place):
    """What is carried goes as a point and a direction of a body that its marker holds."""
    study = made(
        lights=sun(towards=[0.2, 0.5, -0.7]), cameras=camera(position=list(place), target=[0, 0, 0])
    )
    study = edited(study, attach(study, "/lights/s", "marker", "m", 0.0))
    study = edited(study, attach(study, "/cameras/camera", "marker", "m", 0.0))
    before = at(study, 0)
    assert before.view.position == pytest.approx(place, abs=1e-5)
    turned = {"move": list(move), "turn": list(turn)}
    moved = edited(study, [{"do": "set", "path": "/markers/m/place", "value": turned}])
    after = at(moved, 0)
    about, by = np.array([0.5, 0, 0]), rotation(np.array(turn))
    for name in ("position", "target"):
        wanted = by @ (getattr(before.view, name) - about) + np.array(move)
        assert getattr(after.view, name) == pytest.approx(wanted, abs=1e-4)
    assert after.lamps["s"][0].towards == pytest.approx(by @ before.lamps["s"][0].towards, abs=1e-5)
    # And stays there when it is let go, or its marker is gone.
    for operations in (
        let_go(moved, "/cameras/camera", 0.0) + let_go(moved, "/lights/s", 0.0),
        remove_carrier(moved, "/markers/m", 0.0),
    ):
        free = at(edited(moved, operations), 0)
        assert free.view.position == pytest.approx(after.view.position, abs=1e-4)
        assert free.lamps["s"][0].towards == pytest.approx(after.lamps["s"][0].towards, abs=1e-5)


@given(THERE, THERE, TURN)
def test_a_view_that_is_kept_is_what_the_camera_has(position, target, turn):
    by = {"carried": {"by": "marker", "id": "m"}}
    marker = {"place": {"move": [1, 2, 3], "turn": list(turn)}}
    for study in (made(), made(cameras=[camera()[0] | by], marker=marker)):
        kept = at(edited(study, keep_view(study, position, target, 5.0)), 5.0).view
        assert kept.position == pytest.approx(position, abs=1e-4)
        assert kept.target == pytest.approx(target, abs=1e-4)
        assert kept.angle == at(study, 5.0).view.angle


def test_a_view_is_not_kept_over_keys():
    study = made(cameras=camera(position=[0, keyed(1, 3), 4]))
    with pytest.raises(ZygomorphError, match="position of “Camera” moves by itself"):
        keep_view(study, [0, 0, 1], [0, 0, 0], 0.0)


@pytest.mark.parametrize(
    ("scene", "path", "message"),
    [
        ({"camera": "gone"}, "/camera", "no camera 'gone'"),
        ({"cameras": []}, "/cameras", "at least 1"),
        ({"cameras": camera() + camera()}, "/cameras/1/id", "used twice"),
        ({"cameras": camera(angle=200)}, "/cameras/0/values/angle", "less than"),
        ({"lights": sun() + sun()}, "/lights/1/id", "used twice"),
        ({"lights": sun(strength=-1)}, "/lights/0/values/strength", "greater than"),
        ({"lights": [{"id": "s", "name": "S", "light": "son"}]}, "/lights/0/light", "'sun'"),
        ({"backdrop": {"backdrop": "stripes"}}, "/backdrop/backdrop", "not known"),
        ({"backdrop": {"values": {}}}, "/backdrop/backdrop", "which kind it is"),
    ],
)
def test_what_is_wrong_in_a_scene_is_told_with_its_place(scene, path, message):
    with pytest.raises(DocumentError) as error:
        check_document(document(BALL) | scene)
    assert any(at == path and message in said for at, said in error.value.problems)


def test_a_light_that_is_switched_off_gives_none():
    off = [sun()[0] | {"visible": False}]
    assert at(made(lights=off), 0).lamps == {}


def test_variants_switch_lights_cameras_and_the_backdrop():
    made_ = dict(made(lights=sun()).document)
    options = [{"id": "a", "name": "Day"}, {"id": "b", "name": "Night"}]
    made_["variants"] = [{"id": "v", "name": "Time", "chosen": "a", "options": options}]
    for address in (
        "/lights/s/values/strength",
        "/lights/s/visible",
        "/lights/s/values",
        "/cameras/camera/values",
        "/backdrop",
        "/backdrop/values/centre",
    ):
        (operation,) = differ(made_, "v", address)
        assert address in operation["value"]
    with pytest.raises(ZygomorphError):
        differ(made_, "v", "/lights/gone/visible")
