"""Nearest points and rays against brute force by trimesh and by linear algebra."""

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from zygomorph.core.geometry.surface_search import search_of


def soup(seed: int, count: int) -> tuple[np.ndarray, np.ndarray]:
    """Triangles here and there, some of them thin or without area."""
    rng = np.random.default_rng(seed)
    points = rng.uniform(-1, 1, (3 * count, 3))
    points[: count // 4] = np.round(points[: count // 4])
    return points, np.arange(3 * count).reshape(-1, 3)


def brute_nearest(points, triangles, places):
    distances = np.full(len(places), np.inf)
    for triangle in points[triangles]:
        on = trimesh.triangles.closest_point(np.repeat(triangle[None], len(places), 0), places)
        distances = np.minimum(distances, np.linalg.norm(on - places, axis=1))
    return distances


def brute_cast(points, triangles, places, ways):
    """p + t w = a + u (b - a) + v (c - a), solved for each pair (textbook)."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    best = np.full(len(places), np.inf)
    for q, (p, w) in enumerate(zip(places, ways, strict=True)):
        matrix = np.stack([np.broadcast_to(-w, a.shape), b - a, c - a], axis=2)
        solvable = np.abs(np.linalg.det(matrix)) > 1e-14
        t, u, v = np.linalg.solve(matrix[solvable], (p - a)[solvable][..., None])[..., 0].T
        hits = t[(u >= 0) & (v >= 0) & (u + v <= 1) & (t >= 0)]
        best[q] = hits.min(initial=np.inf)
    return best


@given(st.integers(0, 10_000), st.integers(1, 60))
def test_nearest_points_agree_with_trimesh(seed, count):
    points, triangles = soup(seed, count)
    keep = np.linalg.norm(
        np.cross(
            points[triangles[:, 1]] - points[triangles[:, 0]],
            points[triangles[:, 2]] - points[triangles[:, 0]],
        ),
        axis=1,
    )
    triangles = triangles[keep > 1e-6]
    if len(triangles) == 0:
        return
    places = np.random.default_rng(seed + 1).uniform(-1.5, 1.5, (40, 3))
    found, distance, face = search_of(points, triangles).nearest(places)
    assert np.allclose(distance, brute_nearest(points, triangles, places), atol=1e-9)
    assert np.allclose(np.linalg.norm(found - places, axis=1), distance, atol=1e-12)
    # The point that is named lies on the triangle that is named.
    on = trimesh.triangles.closest_point(points[triangles[face]], found)
    assert np.allclose(on, found, atol=1e-9)


@given(st.integers(0, 10_000), st.integers(1, 60))
def test_rays_agree_with_linear_algebra(seed, count):
    points, triangles = soup(seed, count)
    rng = np.random.default_rng(seed + 1)
    places = rng.uniform(-1.5, 1.5, (40, 3))
    ways = rng.normal(size=(40, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    ways[:6] = [*np.eye(3), *-np.eye(3)]
    distance, face = search_of(points, triangles).cast(places, ways)
    expected = brute_cast(points, triangles, places, ways)
    same = np.isclose(distance, expected, atol=1e-7) | (np.isinf(distance) & np.isinf(expected))
    # A ray that grazes an edge may be counted either way.
    assert same.mean() > 0.97
    assert np.array_equal(face >= 0, np.isfinite(distance))


def test_from_every_side_of_a_ball_its_surface_is_met():
    ball = trimesh.creation.icosphere(4, 1.0)
    search = search_of(ball.vertices, ball.faces)
    away = np.random.default_rng(0).normal(size=(3000, 3))
    away /= np.linalg.norm(away, axis=1, keepdims=True)
    distance, face = search.cast(3 * away, -away)
    assert np.all(face >= 0)
    assert distance == pytest.approx(np.full(3000, 2.0), abs=0.01)
    # From inside too, where the faces are seen from behind.
    distance, face = search.cast(np.zeros((3000, 3)), away)
    assert np.all(face >= 0)
    _, distance, _ = search.nearest(0.25 * away)
    assert distance == pytest.approx(np.full(3000, 0.75), abs=0.01)


def test_limits_end_the_search():
    points, triangles = np.eye(3), np.array([[0, 1, 2]])
    search = search_of(points, triangles)
    _, distance, face = search.nearest(np.array([[9.0, 9.0, 9.0], [0.4, 0.4, 0.4]]), limit=1.0)
    assert face.tolist() == [-1, 0]
    assert distance[0] == 1.0
    far, face = search.cast(np.zeros((1, 3)), np.full((1, 3), 3**-0.5), limit=0.5)
    assert (far[0], face[0]) == (0.5, -1)


def test_no_triangles_and_many_at_one_place_are_no_problem():
    places = np.zeros((2, 3))
    _, _, face = search_of(np.zeros((0, 3)), np.zeros((0, 3), int)).nearest(places)
    assert face.tolist() == [-1, -1]
    stacked = search_of(np.tile(np.eye(3), (500, 1)), np.arange(1500).reshape(-1, 3))
    _, distance, _ = stacked.nearest(places)
    assert distance == pytest.approx(np.full(2, 3**-0.5))
