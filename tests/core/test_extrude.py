"""Extrusion: volumes by textbook formulas, what stays closed, and what is known of the parts."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study, volume
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.elements import face_centres
from zygomorph.core.geometry.mesh import MASK

CUBE = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}
BALL = {"step": "icosphere", "values": {"radius": 1.0, "halvings": 2}}
SHEET = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0, "columns": 4, "rows": 4}}


def extrude(depth=0.5, where=None, **values):
    step = {"step": "extrude", "values": {"depth": depth, **values}}
    return step | ({"where": where} if where else {})


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def front(position, width=0.001, profile="hard"):
    values = {"direction": [-1, 0, 0], "position": [position, 0, 0], "width": width}
    return {"layers": [{"id": "l", "layer": "linear", "profile": profile, "values": values}]}


def test_one_by_one_each_face_of_a_cube_bears_a_box():
    mesh = made(CUBE, extrude(0.5))
    assert mesh.topology.closed
    assert (len(mesh.points), mesh.topology.face_count) == (32, 30)
    assert volume(mesh) == pytest.approx(8 + 6 * 4 * 0.5)


@pytest.mark.parametrize("taper", [0.0, 30.0, 100.0])
@pytest.mark.parametrize("rows", [1, 3])
def test_tapered_they_are_frustums(taper, rows):
    # V = h/3 (A + a + sqrt(A a)) (textbook).
    share = (1 - taper / 100) ** 2
    frustum = 0.6 / 3 * 4 * (1 + share + np.sqrt(share))
    mesh = made(CUBE, extrude(0.6, taper=taper, rows=rows))
    assert volume(mesh) == pytest.approx(8 + 6 * frustum, rel=1e-5)
    assert mesh.topology.face_count == 6 + 24 * rows


def test_an_inset_moves_each_side_by_as_much():
    mesh = made(CUBE, extrude(0.5, inset=0.3))
    share = (1.4 / 2) ** 2
    frustum = 0.5 / 3 * 4 * (1 + share + np.sqrt(share))
    assert volume(mesh) == pytest.approx(8 + 6 * frustum, rel=1e-5)
    top = mesh.points[mesh.points[:, 1] > 1.4]
    assert np.abs(top[:, [0, 2]]) == pytest.approx(0.7, abs=1e-6)


def test_an_inset_beyond_the_middle_ends_there():
    mesh = made(CUBE, extrude(0.5, inset=9.0))
    top = mesh.points[mesh.points[:, 1] > 1.4]
    assert np.abs(top[:, [0, 2]]).max() < 1e-6
    assert volume(mesh) == pytest.approx(8 + 6 * 4 * 0.5 / 3, rel=1e-5)


def test_joined_the_whole_of_a_cube_is_a_larger_cube():
    mesh = made(CUBE, extrude(0.5, way="region"))
    assert (len(mesh.points), mesh.topology.face_count) == (8, 6)
    assert volume(mesh) == pytest.approx(27)


def test_joined_a_masked_part_has_sides_along_its_border_only():
    fine = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 4, "up": 4, "deep": 4}}
    top = {
        "id": "l",
        "layer": "linear",
        "profile": "hard",
        "values": {"direction": [0, 1, 0], "position": [0, 0.999, 0], "width": 0.0001},
    }
    mesh = made(fine, extrude(0.5, way="region", where={"layers": [top]}))
    assert mesh.topology.closed
    assert mesh.topology.face_count == 6 * 16 + 16
    assert volume(mesh) == pytest.approx(8 + 4 * 0.5)


def test_inwards_a_dent_is_left():
    mesh = made(CUBE, extrude(-0.5, inset=0.5))
    share = 0.25
    assert mesh.topology.closed
    dent = 0.5 / 3 * 4 * (1 + share + np.sqrt(share))
    assert volume(mesh) == pytest.approx(8 - 6 * dent, rel=1e-5)


@pytest.mark.parametrize("way", ["each", "region"])
def test_with_a_back_an_open_sheet_is_a_solid(way):
    mesh = made(SHEET, extrude(0.5, way=way, back=True))
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(2 * 2 * 0.5, rel=1e-5)


@pytest.mark.parametrize("way", ["each", "region"])
@pytest.mark.parametrize("depth", [0.3, -0.3])
def test_with_a_back_a_solid_looks_outward_on_both_sides(way, depth):
    mesh = made(SHEET, extrude(depth, way=way, back=True, taper=10))
    assert mesh.topology.closed
    assert volume(mesh) > 0
    height = mesh.points[:, 1]
    # Inwards it lies below the surface, which stays.
    assert (height.min(), height.max()) == pytest.approx((min(depth, 0), max(depth, 0)), abs=1e-6)


@pytest.mark.parametrize("way", ["each", "region"])
@settings(max_examples=15)
@given(
    depth=st.floats(-0.2, 0.4),
    inset=st.floats(-0.1, 0.3),
    taper=st.floats(0, 100),
    rows=st.integers(1, 4),
    position=st.floats(-1.2, 1.2),
    back=st.booleans(),
)
def test_what_is_closed_stays_closed(way, depth, inset, taper, rows, position, back):
    step = extrude(depth, front(position), way=way, inset=inset, taper=taper, rows=rows, back=back)
    mesh = made(BALL, step)
    # With its back kept, a part of a closed surface bounds two solids that share a surface.
    assert mesh.topology.closed or back
    assert np.isfinite(mesh.points).all()


def test_before_a_front_nothing_is_changed_and_behind_it_all_is():
    before, mesh = made(BALL), made(BALL, extrude(0.3, front(0.0)))
    sides = mesh.get("face", MASK + "sides")
    assert mesh.topology.face_count == before.topology.face_count + (sides == 1).sum()
    middle = before.points[before.topology.corners.reshape(-1, 3)].mean(axis=1)
    old = before.points[before.topology.corners].reshape(-1, 3, 3)
    new = mesh.points[mesh.topology.corners[: 3 * len(middle)]].reshape(-1, 3, 3)
    far = np.linalg.norm(new - old, axis=2).mean(axis=1)
    assert np.array_equal(new[middle[:, 0] > 0.001], old[middle[:, 0] > 0.001])
    assert far[middle[:, 0] < -0.001] == pytest.approx(0.3, abs=1e-5)


def test_a_soft_mask_gives_each_face_its_depth():
    mesh = made(BALL, extrude(1.0, front(0.0, width=2.0, profile="linear")))
    before = made(BALL)
    face = before.topology.corners.reshape(-1, 3)
    middle = before.points[face].mean(axis=1)
    tops = mesh.points[mesh.topology.corners[: face.size]].reshape(-1, 3, 3).mean(axis=1)
    raised = np.linalg.norm(tops - middle, axis=1)
    assert raised == pytest.approx(np.clip((1 - middle[:, 0]) / 2, 0, 1), abs=2e-3)


def test_the_structure_is_made_once_while_the_depth_moves():
    evaluator = Evaluator()
    document = study(BALL, extrude({"signal": "cycle", "low": 0.1, "high": 0.4}))
    topologies = {
        id(evaluator.evaluate(document, Request("p", float(frame))).mesh.topology)
        for frame in range(5)
    }
    assert len(topologies) == 1


def test_stored_masks_uvs_and_ids_come_along():
    store = {"step": "inflate", "values": {"amount": 0.0}, "where": {**front(0.1), "store": "left"}}
    mesh = made(SHEET, store, extrude(0.3))
    stored = mesh.get("point", MASK + "left")
    assert np.array_equal(stored > 0.5, mesh.points[:, 0] < 0.1)
    uv = mesh.get("corner", "uv")
    at = mesh.points[mesh.topology.corners]
    assert uv[:, 0] == pytest.approx(at[:, 0] / 2 + 0.5, abs=1e-5)
    # Bases go on; what is new has new numbers.
    ids = mesh.ids("point")
    assert ids[:25].tolist() == list(range(25))
    assert len(np.unique(ids)) == len(ids)


def test_the_rest_shape_is_extruded_too():
    push = {"step": "place", "values": {"move": [5, 0, 0], "turn": [0, 0, 0]}}
    mesh = made(CUBE, push, extrude(0.5))
    assert mesh.rest + np.array([5, 0, 0]) == pytest.approx(mesh.points, abs=1e-5)


def test_the_depth_of_each_face_follows_a_formula():
    sheet = {"step": "sheet", "values": {"width": 4, "depth": 1, "columns": 4, "rows": 1}}
    values = {"depth": 0.5, "times": "x * w"}
    mesh = (
        Evaluator()
        .evaluate(study(sheet, {"step": "extrude", "values": values}), Request("p", 0.0))
        .mesh
    )
    # Faces begin with the raised ones, whose middles are at -1.5, -0.5, 0.5 and 1.5.
    centres = face_centres(mesh)[:4]
    assert sorted(centres[:, 0].tolist()) == pytest.approx([-1.5, -0.5, 0.5, 1.5], abs=1e-6)
    assert centres[:, 1] == pytest.approx(0.5 * centres[:, 0], abs=1e-6)


def test_a_formula_of_time_moves_and_a_wrong_one_is_refused_with_its_place():
    ball = {"step": "icosphere", "values": {"halvings": 1}}
    moving = study(ball, {"step": "extrude", "values": {"times": "sin(tau * p)"}})
    kept = Evaluator()
    one, other = (kept.evaluate(moving, Request("p", f)).mesh.points for f in (0.0, 6.0))
    assert np.abs(one - other).max() > 0.05
    with pytest.raises(DocumentError, match="times"):
        study(ball, {"step": "extrude", "values": {"times": "sin(tau *"}})
