"""Distances along a surface, against exact ones."""

import numpy as np
import pygeodesic.geodesic
import pytest

from tests.conftest import study
from tests.reference.test_deformers import form
from zygomorph.core.evaluate import Evaluator, Request
from zygomorph.core.geodesic import distance_from, march


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
    from zygomorph.core.catalogue import definitions

    return definitions("form")[key].values


def test_on_a_ball_it_is_the_arc():
    ball = form("icosphere", halvings=5, radius=1.0)
    found = distance_from(ball.topology, ball.points, np.array([0]))
    arc = np.arccos(np.clip(ball.points.astype(float) @ ball.points[0], -1, 1))
    assert np.abs(found - arc).max() < 0.02


def test_from_a_whole_rim_it_is_straight():
    sheet = form("sheet", width=2.0, depth=2.0, columns=40, rows=40)
    rim = np.flatnonzero(sheet.points[:, 0] < -0.999)
    found = distance_from(sheet.topology, sheet.points, rim)
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
