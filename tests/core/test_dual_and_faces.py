"""Duals, triangles, orientation and facets."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study, volume
from tests.random_values import small
from zygomorph.core.evaluation.evaluate import Evaluator, Request

CUBE = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}
CLOSED = ["torus", "box", "icosphere", "sphere", "cylinder"]


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def form(name):
    return {"step": name, "values": small(name)}


@pytest.mark.parametrize("halvings", [0, 1, 2, 3])
def test_the_dual_of_an_icosphere_has_12_pentagons_and_hexagons(halvings):
    # Euler: a closed honeycomb with three faces at each point has 12 pentagons (textbook).
    ball = {"step": "icosphere", "values": {"halvings": halvings}}
    before, mesh = made(ball), made(ball, {"step": "dual"})
    sizes = np.bincount(np.diff(mesh.topology.face_starts), minlength=7)
    assert sizes[5] == 12
    assert sizes[6] == 10 * 4**halvings + 2 - 12
    assert sizes.sum() == sizes[5] + sizes[6]
    assert mesh.topology.closed
    assert (len(mesh.points), mesh.topology.face_count) == (
        before.topology.face_count,
        len(before.points),
    )


@pytest.mark.parametrize("name", CLOSED)
def test_points_and_faces_change_places(name):
    before, mesh = made(form(name)), made(form(name), {"step": "dual"})
    assert len(mesh.points) == before.topology.face_count
    assert mesh.topology.face_count == len(before.points)
    assert len(mesh.topology.edges) == len(before.topology.edges)
    assert mesh.topology.closed
    assert volume(mesh) > 0


def test_the_dual_of_a_cube_is_an_octahedron():
    mesh = made(CUBE, {"step": "dual"})
    assert np.sort(np.abs(mesh.points), axis=1).tolist() == [[0, 0, 1]] * 6
    # The octahedron's volume is 4/3 r³ (textbook).
    assert volume(mesh) == pytest.approx(4 / 3)


def test_an_open_sheet_ends_where_it_did_or_loses_a_strip():
    sheet = {"step": "sheet", "values": {"width": 2, "depth": 2, "columns": 4, "rows": 4}}
    whole = made(sheet, {"step": "dual"})
    assert whole.topology.face_count == 25
    assert np.ptp(whole.points, axis=0).tolist() == [2, 0, 2]
    area = whole.points[whole.topology.corners]
    assert len(whole.points) == 16 + 16 + 16
    inner = made(sheet, {"step": "dual", "values": {"rim": False}})
    assert (inner.topology.face_count, len(inner.points)) == (9, 16)
    assert area[:, 1].max() == 0
    uv = whole.get("corner", "uv")
    assert uv[:, 0] == pytest.approx(area[:, 0] / 2 + 0.5, abs=1e-5)


@pytest.mark.parametrize("name", [*CLOSED, "tiling", "disc", "text"])
def test_triangles_cover_the_same_surface(name):
    before, mesh = made(form(name)), made(form(name), {"step": "triangulate"})
    assert set(np.diff(mesh.topology.face_starts).tolist()) == {3}
    assert np.array_equal(mesh.points, before.points)
    assert mesh.topology.closed == before.topology.closed
    old = before.topology.triangles(before.points)
    assert np.array_equal(np.sort(old, axis=None), np.sort(mesh.topology.corners))
    if before.topology.closed:
        assert volume(mesh) == pytest.approx(volume(before), rel=1e-5)


@settings(max_examples=20)
@given(st.integers(0, 99), st.sampled_from(CLOSED))
def test_faces_turned_by_chance_look_outward_again(seed, name):
    over = {
        "step": "orient",
        "values": {"way": "over"},
        "where": {
            "layers": [
                {
                    "id": "l",
                    "layer": "random",
                    "read": "faces",
                    "values": {"seed": seed, "share": 40, "edge": 0},
                }
            ]
        },
    }
    whole, back = made(form(name)), made(form(name), over, {"step": "orient"})
    assert not made(form(name), over).topology.closed
    assert back.topology.closed
    assert volume(back) == pytest.approx(volume(whole), rel=1e-5)
    inward = made(form(name), over, {"step": "orient", "values": {"way": "inward"}})
    assert volume(inward) == pytest.approx(-volume(whole), rel=1e-5)


def test_facets_have_the_normals_of_their_faces_and_can_be_joined_again():
    from zygomorph.core.geometry.normals import point_normals

    flat = made(CUBE, {"step": "shade"})
    assert len(flat.points) == 24
    normals = point_normals(flat)
    assert np.sort(np.abs(normals), axis=1) == pytest.approx(np.tile([0, 0, 1], (24, 1)))
    assert flat.get("face", "shard") is None
    again = made(CUBE, {"step": "shade"}, {"step": "shade", "values": {"way": "smooth"}})
    assert len(again.points) == 8
    assert again.topology.closed


def test_by_angle_a_cylinder_keeps_its_round_side_and_has_edged_caps():
    from zygomorph.core.geometry.normals import point_normals

    cylinder = {"step": "cylinder", "values": {"around": 32}}
    mesh = made(cylinder, {"step": "shade", "values": {"way": "angle", "angle": 40}})
    normals = point_normals(mesh)
    upright = np.abs(normals[:, 1])
    assert np.all((upright < 1e-5) | (upright > 1 - 1e-5))
    assert len(mesh.points) == len(made(cylinder).points) + 64


def test_joined_points_lie_in_their_middle_and_keep_masks():
    mesh = made(
        CUBE,
        {"step": "split"},
        {"step": "spread", "values": {"amount": 0.3, "of": "shards"}},
        {"step": "shade", "values": {"way": "smooth"}},
    )
    # At rest they were at one place; now each is in the middle of three.
    assert len(mesh.points) == 8
    assert np.abs(mesh.points) == pytest.approx(1 + 0.1, abs=1e-6)
