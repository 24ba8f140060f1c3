"""Rings of neighbours give the normals that the areas of the faces give."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.reference.test_deformers import form
from zygomorph.core.geometry import normals
from zygomorph.core.geometry.mesh import Mesh, make_mesh
from zygomorph.core.geometry.normals import face_vector_areas, point_normals
from zygomorph.core.geometry.one_ring import LONGEST_SEARCH, rings


def triangle_mesh(points: np.ndarray, triangles: np.ndarray) -> Mesh:
    flat = np.asarray(triangles).reshape(-1)
    return make_mesh(np.asarray(points), flat, np.arange(0, len(flat) + 1, 3))


def by_areas(mesh: Mesh) -> np.ndarray:
    """The sum over the faces of each point, in float64 and without any order."""
    areas = face_vector_areas(mesh).astype(np.float64)
    total = np.zeros((len(mesh.points), 3))
    np.add.at(total, mesh.topology.corners, areas[mesh.topology.corner_face])
    length = np.linalg.norm(total, axis=1, keepdims=True)
    return np.where(length > 1e-30, total / np.maximum(length, 1e-30), [0.0, 1.0, 0.0])


def fan(count: int, closed: bool) -> Mesh:
    """Triangles around point 0, a shallow cone."""
    turn = np.linspace(0, 2 * np.pi * (1 if closed else 0.8), count, endpoint=not closed)
    rim = np.stack([np.cos(turn), np.sin(turn), 0.2 * np.sin(5 * turn)], axis=1)
    after = [(k, (k + 1) % count) for k in range(count if closed else count - 1)]
    return triangle_mesh(
        np.vstack([[0, 0, 0.5], rim]), np.array([[0, a + 1, b + 1] for a, b in after])
    )


def test_inside_a_closed_surface_a_ring_is_the_neighbours_in_order():
    mesh = form("icosphere", halvings=3)
    begins, ring = rings(mesh.topology)
    assert set(np.diff(begins)) == {5, 6}
    edges = {tuple(sorted(edge)) for edge in mesh.topology.edges.tolist()}
    for p in range(len(mesh.points)):
        around = ring[begins[p] : begins[p + 1]].tolist()
        assert len(set(around)) == len(around)
        for a, b in zip(around, around[1:] + around[:1], strict=True):
            assert {tuple(sorted((a, b))), tuple(sorted((p, a)))} <= edges


def test_at_a_border_the_point_itself_stands_between_the_ends():
    mesh = fan(4, closed=False)
    begins, ring = rings(mesh.topology)
    assert ring[begins[0] : begins[1]].tolist() == [1, 2, 3, 4, 0]
    assert ring[begins[1] : begins[2]].tolist() == [2, 0, 1]


@pytest.mark.parametrize("closed", [True, False], ids=["closed", "open"])
@pytest.mark.parametrize("count", [3, 4, 5, 6, 7, 12, LONGEST_SEARCH, LONGEST_SEARCH + 1, 200_000])
def test_a_fan_of_any_size_has_the_normals_of_its_areas(count, closed):
    mesh = fan(count, closed)
    # Of 200,000 triangles each is so thin that float32 leaves three digits of its direction.
    tolerance = 2e-6 if count < 1000 else 2e-3
    assert np.allclose(point_normals(mesh), by_areas(mesh), atol=tolerance)


@given(
    st.integers(4, 12),
    st.lists(st.lists(st.integers(0, 11), min_size=3, max_size=3), min_size=1, max_size=40),
    st.integers(0, 1000),
)
def test_any_soup_of_triangles_has_the_normals_of_its_areas(count, triangles, seed):
    # Doubled, turned over and degenerate triangles, several fans in one point: all may be.
    points = np.random.default_rng(seed).normal(size=(count, 3))
    mesh = triangle_mesh(points, np.array(triangles) % count)
    areas = face_vector_areas(mesh).astype(np.float64)
    total = np.zeros((count, 3))
    np.add.at(total, mesh.topology.corners, areas[mesh.topology.corner_face])
    # Where areas cancel, rounding alone decides the direction.
    clear = np.linalg.norm(total, axis=1) > 1e-3
    found, expected = point_normals(mesh), by_areas(mesh)
    assert np.allclose(found[clear], expected[clear], atol=1e-3)
    assert np.allclose(np.linalg.norm(found, axis=1), 1, atol=1e-5)


def test_points_without_faces_point_up_and_have_no_ring():
    mesh = triangle_mesh(np.eye(5, 3), np.array([[0, 1, 2]]))
    begins, _ = rings(mesh.topology)
    assert np.diff(begins).tolist() == [3, 3, 3, 0, 0]
    assert point_normals(mesh)[3:].tolist() == [[0, 1, 0], [0, 1, 0]]


def test_triangles_shade_like_the_polygons_they_are():
    # One way is used for triangles and another for polygons; over the same faces they agree.
    mesh = form("icosphere", halvings=4)
    starts, faces = mesh.topology.point_faces
    other = np.empty_like(mesh.points)
    normals._sum_around(face_vector_areas(mesh), starts, faces, other)
    assert np.allclose(point_normals(mesh), other, atol=1e-6)
