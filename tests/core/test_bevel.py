"""Bevels: volumes by textbook formulas, and that nothing opens."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study, volume
from tests.random_values import small
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK

CUBE = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def bevel(width=0.4, **values):
    return {"step": "bevel", "values": {"width": width, **values}}


def test_one_segment_cuts_the_edges_and_corners_of_a_cube():
    mesh = made(CUBE, bevel(0.4, segments=1))
    assert (len(mesh.points), mesh.topology.face_count) == (24, 6 + 12 + 8)
    assert mesh.topology.closed
    # A prism of right triangles along each edge between the corners, and at each corner a cube of
    # which a tetrahedron of a sixth is left.
    assert volume(mesh) == pytest.approx(8 - 12 * 1.2 * 0.08 - 8 * (1 - 1 / 6) * 0.064, rel=1e-5)


def test_round_it_nears_the_cube_with_round_edges():
    # A cuboid, six slabs, twelve quarters of a cylinder, eight eighths of a ball (textbook).
    r, a = 0.4, 1.2
    exact = a**3 + 6 * a * a * r + 12 * a * np.pi * r * r / 4 + 4 / 3 * np.pi * r**3
    away = [abs(volume(made(CUBE, bevel(r, segments=n))) - exact) for n in (1, 2, 4, 8)]
    assert away == sorted(away, reverse=True)
    assert away[-1] < 0.01 * exact


@pytest.mark.parametrize("segments", [2, 5])
def test_round_strips_lie_on_a_cylinder(segments):
    mesh = made(CUBE, bevel(0.5, segments=segments))
    # Beside the edge along z at x = y = 1 the axis is at 0.5.
    strip = mesh.points[(mesh.points[:, 0] > 0.5 - 1e-6) & (mesh.points[:, 1] > 0.5 - 1e-6)]
    ends = strip[np.isclose(np.abs(strip[:, 2]), 0.5, atol=1e-5)]
    assert len(ends) == 2 * (segments + 1)
    assert np.hypot(ends[:, 0] - 0.5, ends[:, 1] - 0.5) == pytest.approx(0.5, abs=1e-5)


@pytest.mark.parametrize("profile", [0.0, 25.0, 50.0, 80.0, 100.0])
def test_the_profile_goes_from_flat_to_sharp(profile):
    mesh = made(CUBE, bevel(0.4, segments=4, profile=profile))
    flat, sharp = 8 - 12 * 1.2 * 0.08 - 8 * (1 - 1 / 6) * 0.064, 8
    assert mesh.topology.closed
    assert flat - 1e-4 <= volume(mesh) <= sharp + 1e-4
    if profile == 100:
        assert volume(mesh) == pytest.approx(8, rel=1e-3)


@pytest.mark.parametrize("form", ["box", "cylinder", "cone", "text", "torus", "icosphere"])
@settings(max_examples=6)
@given(width=st.floats(0, 2), segments=st.integers(1, 4), angle=st.floats(0, 60))
def test_what_is_closed_stays_closed_however_wide(form, width, segments, angle):
    base = {"step": form, "values": small(form)}
    before, mesh = made(base), made(base, bevel(width, segments=segments, angle=angle))
    assert np.isfinite(mesh.points).all()
    assert mesh.topology.closed
    if width == 0:
        assert volume(mesh) == pytest.approx(volume(before), rel=1e-4)


def test_a_wide_bevel_takes_no_more_than_fits():
    mesh = made(CUBE, bevel(9.0, segments=1))
    assert np.abs(mesh.points).max() == pytest.approx(1, abs=1e-6)
    # Taken to its middle a cube is an octahedron, of 4/3 r³ (textbook).
    assert 4 / 3 < volume(mesh) < 1.6


def test_only_edges_above_the_angle_and_where_the_mask_is():
    cylinder = {"step": "cylinder", "values": {"around": 24, "rows": 1, "cap_rings": 1}}
    mesh = made(cylinder, bevel(0.05, segments=1, angle=40, mark="rims"))
    assert (mesh.get("face", MASK + "rims") == 1).sum() == 48
    top = {
        "id": "l",
        "layer": "linear",
        "profile": "hard",
        "values": {"direction": [0, 1, 0], "position": [0, -0.1, 0], "width": 0.001},
    }
    some = made(CUBE, {**bevel(0.2, segments=1), "where": {"layers": [top]}})
    low = some.points[some.points[:, 1] < 0]
    assert np.abs(low) == pytest.approx(1, abs=1e-6)


def test_an_open_box_keeps_its_rim_in_its_plane():
    cut = {
        "id": "l",
        "layer": "facing",
        "profile": "hard",
        "values": {"against": "piece", "direction": [0, 1, 0], "angle": 30},
    }
    opened = {"step": "remove", "values": {"way": "whole"}, "where": {"layers": [cut]}}
    mesh = made(CUBE, opened, bevel(0.3, segments=3))
    rim = mesh.points[mesh.topology.border]
    assert rim[:, 1] == pytest.approx(1, abs=1e-6)
    assert len(rim) == 4 * 4
    uses = np.bincount(mesh.topology.side_edges)
    assert uses.max() == 2


def test_it_follows_the_points_and_its_structure_is_made_once():
    evaluator = Evaluator()
    document = study(
        CUBE,
        {"step": "twist", "values": {"angle": {"signal": "cycle", "low": 0, "high": 50}}},
        bevel(0.2),
    )
    meshes = [evaluator.evaluate(document, Request("p", float(f))).mesh for f in range(4)]
    assert len({id(m.topology) for m in meshes}) == 1
    assert np.abs(meshes[0].points - meshes[3].points).max() > 0.05


def test_uvs_stay_those_of_the_faces():
    mesh = made(CUBE, bevel(0.2, segments=2))
    uv = mesh.get("corner", "uv")
    assert len(uv) == len(mesh.topology.corners)
    assert np.isfinite(uv).all()
