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
