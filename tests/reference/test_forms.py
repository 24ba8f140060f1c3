"""Forms against textbook formulas."""

import numpy as np
import pytest
import trimesh

from tests.conftest import volume
from tests.reference.test_deformers import form


def as_trimesh(mesh) -> trimesh.Trimesh:
    triangles = mesh.topology.triangles(mesh.points)
    return trimesh.Trimesh(mesh.points, triangles, process=False)


@pytest.mark.parametrize("halvings", range(6))
def test_icosphere_counts(halvings):
    # 10·4ⁿ + 2 points (derived from Euler's formula).
    mesh = form("icosphere", halvings=halvings)
    assert len(mesh.points) == 10 * 4**halvings + 2
    assert mesh.topology.face_count == 20 * 4**halvings
    assert np.allclose(np.linalg.norm(mesh.points, axis=1), 0.6, atol=1e-6)


def test_icosphere_is_closed_and_faces_outwards():
    mesh = as_trimesh(form("icosphere", halvings=3))
    assert mesh.is_watertight
    assert mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(4 / 3 * np.pi * 0.6**3, rel=0.02)


@pytest.mark.parametrize("winding", [0, 1, 3, -5])
def test_torus_area_volume_and_characteristic(winding):
    # Area 4π²Rr, volume 2π²Rr², χ = 0 (textbook; the second by Pappus).
    mesh = form("torus", ring_radius=0.8, tube_radius=0.2, around=240, section=120, winding=winding)
    solid = as_trimesh(mesh)
    assert solid.is_watertight
    assert solid.is_winding_consistent
    assert solid.area == pytest.approx(4 * np.pi**2 * 0.8 * 0.2, rel=2e-3)
    assert solid.volume == pytest.approx(2 * np.pi**2 * 0.8 * 0.2**2, rel=2e-3)
    assert solid.euler_number == 0


def test_turning_the_section_by_its_symmetry_changes_no_volume():
    square = form("torus", section=4, around=100)
    turned = form("torus", section=4, around=100, turn=90)
    assert volume(square) == pytest.approx(volume(turned), rel=1e-5)


def test_sheet_is_level_faces_up_and_has_uvs():
    mesh = form("sheet", width=3, depth=2, columns=6, rows=4)
    assert len(mesh.points) == 7 * 5
    assert mesh.topology.face_count == 24
    assert np.ptp(mesh.points, axis=0) == pytest.approx([3, 0, 2])
    solid = as_trimesh(mesh)
    assert np.allclose(solid.face_normals, [0, 1, 0])
    uv = mesh.get("corner", "uv")
    assert uv.shape == (96, 2)
    assert uv.min() == 0
    assert uv.max() == 1


@pytest.mark.parametrize("key", ["icosphere", "sheet", "torus"])
def test_the_form_writes_its_rest_shape(key):
    mesh = form(key)
    assert np.array_equal(mesh.rest, mesh.points)


@pytest.mark.parametrize(
    ("key", "values", "area", "volume_", "points"),
    [
        # Textbook: box, ball, cylinder and (cut-off) cone. Counts derived.
        ("box", {"size": [1.0, 2.0, 0.5]}, 7.0, 1.0, 2402),
        ("sphere", {"radius": 0.5, "around": 200, "rings": 99}, np.pi, np.pi / 6, 19_802),
        (
            "cylinder",
            {"radius": 0.5, "height": 2.0, "around": 300},
            2.5 * np.pi,
            np.pi / 2,
            300 * (49 + 14) + 2,
        ),
        (
            "cone",
            {"bottom": 0.6, "top": 0.0, "height": 0.8, "around": 300},
            np.pi * 0.6 * (1.0 + 0.6),
            np.pi * 0.36 * 0.8 / 3,
            300 * (48 + 7) + 2,
        ),
        (
            "cone",
            {"bottom": 0.6, "top": 0.3, "height": 0.4, "around": 300},
            np.pi * (0.9 * 0.5 + 0.36 + 0.09),
            np.pi * 0.4 / 3 * (0.36 + 0.18 + 0.09),
            300 * (49 + 14) + 2,
        ),
    ],
)
def test_closed_forms_have_the_area_and_volume_of_the_textbook(key, values, area, volume_, points):
    mesh = form(key, **values)
    solid = as_trimesh(mesh)
    assert len(mesh.points) == points
    assert mesh.topology.closed
    assert solid.is_winding_consistent
    assert solid.area == pytest.approx(area, rel=2e-3)
    assert solid.volume == pytest.approx(volume_, rel=2e-3)
    assert solid.euler_number == 2


@pytest.mark.parametrize("hole", [0.0, 0.4])
def test_a_disc_has_its_area_and_faces_up(hole):
    mesh = form("disc", radius=1.0, hole=hole, around=300, rings=10)
    solid = as_trimesh(mesh)
    assert solid.area == pytest.approx(np.pi * (1 - hole**2), rel=1e-3)
    assert solid.face_normals[:, 1].min() > 0.999
    # χ of a disc is 1, of a ring 0 (textbook).
    assert solid.euler_number == (0 if hole else 1)


@pytest.mark.parametrize("key", ["box", "sphere", "cylinder", "cone", "disc"])
def test_every_corner_has_a_uv_within_the_picture(key):
    mesh = form(key)
    uv = mesh.get("corner", "uv")
    assert uv.shape == (len(mesh.topology.corners), 2)
    assert uv.min() >= 0
    assert uv.max() <= 1
