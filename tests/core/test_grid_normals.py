"""Normals of grids, found without their topology, are those that the areas of the faces give."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_one_ring import by_areas
from tests.reference.test_deformers import form
from zygomorph.core.geometry.grid import grid_topology
from zygomorph.core.geometry.grid_normals import grid_normals
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.topology import Topology

CELLS = st.integers(3, 40)


@given(CELLS, CELLS, st.booleans(), st.booleans(), st.integers(0, 2**32 - 1))
def test_a_grid_of_any_size_and_wrap_has_the_normals_of_its_areas(
    columns, rows, across, down, seed
):
    topology, _ = grid_topology(columns, rows, across, down)
    points = np.random.default_rng(seed).normal(size=(topology.point_count, 3)).astype(np.float32)
    found = grid_normals(points, topology.grid)
    assert np.allclose(found, by_areas(Mesh(points, topology)), atol=2e-3)


@pytest.mark.parametrize(("columns", "rows"), [(1, 1), (1, 7), (7, 1), (2, 2)])
def test_grids_of_a_single_row_are_whole(columns, rows):
    topology, _ = grid_topology(columns, rows)
    points = np.random.default_rng(3).normal(size=(topology.point_count, 3)).astype(np.float32)
    found = grid_normals(points, topology.grid)
    assert np.allclose(found, by_areas(Mesh(points, topology)), atol=1e-4)


def test_a_wave_has_the_normals_of_its_slope():
    # The graph y = f(x) has the normal (-f', 1) / |(-f', 1)|: textbook.
    mesh = form("sheet", columns=400, rows=3, width=2.0)
    x = mesh.points[:, 0].astype(np.float64)
    mesh = mesh.moved((mesh.points + np.stack([0 * x, 0.1 * np.sin(5 * x), 0 * x], 1)).astype("f4"))
    slope = 0.5 * np.cos(5 * x)
    expected = np.stack([-slope, np.ones_like(x), 0 * x], axis=1)
    expected /= np.linalg.norm(expected, axis=1, keepdims=True)
    inner = np.abs(x) < 0.999
    assert np.allclose(point_normals(mesh)[inner], expected[inner], atol=1e-3)


@pytest.mark.parametrize("name", ["sheet", "torus"])
def test_forms_that_are_grids_say_so_and_other_faces_do_not(name):
    mesh = form(name)
    assert mesh.topology.grid is not None
    assert mesh.topology.grid.across * mesh.topology.grid.down == len(mesh.points)
    plain = Topology(len(mesh.points), mesh.topology.corners, mesh.topology.face_starts)
    assert plain.grid is None
    # float32 sums in another order
    difference = point_normals(mesh) - point_normals(Mesh(mesh.points, plain))
    assert np.abs(difference).max() < 1e-4


def test_a_point_in_which_everything_falls_together_points_up():
    topology, _ = grid_topology(3, 3)
    found = grid_normals(np.ones((16, 3), np.float32), topology.grid)
    assert np.array_equal(found, np.tile(np.float32([0, 1, 0]), (16, 1)))
