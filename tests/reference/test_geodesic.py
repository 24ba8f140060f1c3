"""Distances along a surface, against exact ones."""

import numpy as np
import pygeodesic.geodesic
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import study
from tests.reference.test_deformers import form
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.geodesic import distance_from, march
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology


def exact(mesh, seeds):
    """Exact polyhedral distances: J. Mitchell, D. Mount & C. Papadimitriou 1987, by pygeodesic."""
    triangles = mesh.topology.triangles(mesh.points)
    algorithm = pygeodesic.geodesic.PyGeodesicAlgorithmExact(mesh.points.astype(float), triangles)
    return algorithm.geodesicDistances(np.array(seeds), None)[0]


@pytest.mark.parametrize(
    ("key", "values", "error"),
    [
        ("icosphere", {"halvings": 4}, 0.02),
        ("torus", {"around": 60, "section": 24}, 0.03),
        ("box", {"segments_x": 8, "segments_y": 8, "segments_z": 8}, 0.03),
        ("sheet", {"columns": 30, "rows": 30}, 0.02),
    ],
)
def test_it_agrees_with_the_exact_distance(key, values, error):
    known = {k: v for k, v in values.items() if k in form_values(key)}
    mesh = form(key, **known)
    seeds = [0, len(mesh.points) // 2]
    found, right = distance_from(mesh.topology, mesh.points, np.array(seeds)), exact(mesh, seeds)
    assert np.abs(found - right).max() < error * right.max()


def form_values(key):
    from zygomorph.core.values.entries import definitions

    return definitions("form")[key].values


def test_on_a_ball_it_is_the_arc():
    ball = form("icosphere", halvings=5, radius=1.0)
    found = distance_from(ball.topology, ball.points, np.array([0]))
    arc = np.arccos(np.clip(ball.points.astype(float) @ ball.points[0], -1, 1))
    assert np.abs(found - arc).max() < 0.02


def test_from_a_whole_rim_it_is_straight():
    sheet = form("sheet", width=2.0, depth=2.0, columns=40, rows=40)
    rim = np.flatnonzero(sheet.points[:, 0] < -0.999)
    found = distance_from(sheet.topology, sheet.points, rim, lines=True)
    assert np.abs(found - (sheet.points[:, 0] + 1)).max() < 0.01


def test_it_follows_curves():
    ring = form("circle", radius=1.0, count=200)
    found = distance_from(ring.topology, ring.points, np.array([0]))
    assert found.max() == pytest.approx(np.pi, rel=1e-3)


def test_what_is_not_joined_is_never_reached():
    tiles = form("tiling")
    found = distance_from(tiles.topology, tiles.points, np.array([0]))
    assert np.isinf(found).any()
    assert np.isfinite(found).any()


def test_later_seeds_improve_and_never_worsen():
    ball = form("icosphere", halvings=4)
    one = distance_from(ball.topology, ball.points, np.array([0]))
    start = one.copy()
    start[100] = 0.05
    both = march(ball.topology, ball.points, np.array([100]), start)
    assert (both <= one + 1e-12).all()
    alone = np.full(len(one), np.inf)
    alone[100] = 0.05
    alone = march(ball.topology, ball.points, np.array([100]), alone)
    assert np.abs(both - np.minimum(one, alone)).max() < 0.01


def test_a_spreading_mask_arrives_when_the_exact_distance_says():
    seed = {
        "id": "b",
        "layer": "picked",
        "profile": "hard",
        "values": {"of": "points", "picked": [[0, 1]]},
        "memory": "spreads",
        "speed": 0.5,
        "rim": 1e-4,
    }
    ball = {"step": "icosphere", "values": {"halvings": 4, "radius": 0.5}}
    made = study(ball, {"step": "displace", "where": {"layers": [seed]}})
    evaluator = Evaluator()
    mesh = evaluator.evaluate(made, Request("p", until="s0")).mesh
    right = exact(mesh, [0])
    reached = evaluator.evaluate(made, Request("p", 24.0, mask_of="s1")).weights > 0.5
    # 24 frames at 24 a second and half a metre a second.
    assert right[reached].max() == pytest.approx(0.5, abs=0.02)
    assert right[~reached].min() == pytest.approx(0.5, abs=0.02)


def _border_of(sheet):
    return np.flatnonzero(np.abs(sheet.points[:, [0, 2]]).max(axis=1) > 0.999)


def test_in_the_corner_of_a_sheet_the_border_is_as_near_as_its_sides():
    # Two arrivals from two sides have no common source: min(1 - |x|, 1 - |z|), derived.
    sheet = form("sheet", width=2.0, depth=2.0, columns=40, rows=40)
    found = distance_from(sheet.topology, sheet.points, _border_of(sheet), lines=True)
    right = 1 - np.abs(sheet.points[:, [0, 2]]).max(axis=1)
    # Where the fronts of two sides meet, a direction is a mean of both for one triangle.
    assert np.abs(found - right).max() < 0.003


@pytest.mark.parametrize("count", [2, 10, 60, 200])
@pytest.mark.parametrize("key", ["sheet", "ball"])
def test_many_seeds_agree_with_the_exact_distance(key, count):
    mesh = (
        form("sheet", width=2.0, depth=2.0, columns=40, rows=40)
        if key == "sheet"
        else form("icosphere", halvings=4, radius=1.0)
    )
    seeds = np.random.default_rng(count).choice(len(mesh.points), count, replace=False)
    found, right = distance_from(mesh.topology, mesh.points, seeds), exact(mesh, seeds)
    spacing = np.median(np.linalg.norm(np.diff(mesh.points[mesh.topology.edges], axis=1), axis=2))
    # Too short nowhere; too long by less than a third of an edge, where edges must be followed.
    assert (found - right).min() > -0.01 * right.max() - 1e-6
    assert (found - right).max() < 0.35 * spacing


def test_sixty_seeds_on_a_real_mesh_agree_with_the_exact_distance(bunny):
    # The npm package `bunny`, as test data.
    points, triangles = bunny
    mesh = Mesh(
        points.astype(np.float32),
        Topology(
            len(points),
            triangles.astype(np.int32).ravel(),
            np.arange(0, 3 * len(triangles) + 1, 3, dtype=np.int32),
        ),
    )
    seeds = np.random.default_rng(60).choice(len(points), 60, replace=False)
    found, right = distance_from(mesh.topology, mesh.points, seeds), exact(mesh, seeds)
    off = (found - right) / np.maximum(right, right.max() * 0.05)
    assert off.min() > -0.05
    assert np.abs(off).mean() < 0.02


@given(st.lists(st.integers(0, 440), min_size=1, max_size=30, unique=True), st.integers(0, 99))
def test_it_is_never_shorter_than_a_straight_line(seeds, bumps):
    sheet = form("sheet", width=2.0, depth=2.0, columns=20, rows=20)
    points = sheet.points.copy()
    points[:, 1] += np.random.default_rng(bumps).uniform(-0.05, 0.05, len(points))
    found = distance_from(sheet.topology, points, np.array(seeds))
    straight = np.linalg.norm(points[:, None] - points[seeds][None], axis=2).min(axis=1)
    assert (found >= straight - 1e-5).all()
