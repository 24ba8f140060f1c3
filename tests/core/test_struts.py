"""Struts and knobs: sizes by textbook formulas, and that they follow the points."""

import numpy as np
import pytest

from tests.conftest import study, volume
from tests.random_values import small
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.topology import Topology

CUBE = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}


P = Request("p", 0.0)


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def struts(**values):
    return {"step": "struts", "values": values}


@pytest.mark.parametrize("sides", [3, 6, 12])
def test_rods_are_prisms_along_every_edge(sides):
    mesh = made(CUBE, struts(parts="rods", rod=0.1, sides=sides))
    # A regular polygon of n corners on a circle of radius r has the area n/2 r² sin(2π/n).
    area = sides / 2 * 0.01 * np.sin(2 * np.pi / sides)
    assert volume(mesh) == pytest.approx(12 * 2 * area, rel=1e-5)
    assert mesh.topology.closed
    assert mesh.count("shard") == 12


def test_knobs_are_balls_at_every_point():
    mesh = made(CUBE, struts(parts="knobs", knob=0.2, halvings=3))
    assert volume(mesh) == pytest.approx(8 * 4 / 3 * np.pi * 0.008, rel=0.02)
    assert len(mesh.points) == 8 * 642


def test_both_know_what_they_are():
    mesh = made(CUBE, struts(rod=0.05, knob=0.1, sides=4, halvings=1))
    assert mesh.count("shard") == 12 + 8
    assert mesh.get("point", MASK + "rods").sum() == 12 * 8
    assert mesh.get("point", MASK + "knobs").sum() == 8 * 42
    assert mesh.topology.closed


def test_they_follow_the_points_and_keep_their_radius():
    turn = {"step": "twist", "values": {"angle": 70.0}}
    mesh = made(CUBE, turn, struts(parts="rods", rod=0.1, sides=5))
    ends = made(CUBE, turn)
    rods = mesh.points.reshape(12, 2, 5, 3)
    middles = rods.mean(axis=2)
    assert np.linalg.norm(rods - middles[:, :, None], axis=3) == pytest.approx(0.1, abs=1e-5)
    assert middles == pytest.approx(ends.points[ends.topology.edges], abs=1e-5)


def test_each_point_has_a_radius_of_its_own_where_the_mask_says():
    layer = {
        "id": "l",
        "layer": "linear",
        "profile": "hard",
        "values": {"direction": [0, 1, 0], "position": [0, 0, 0], "width": 0.001},
    }
    step = struts(parts="knobs", knob=0.2, halvings=1) | {"where": {"layers": [layer]}}
    mesh = made(CUBE, step)
    balls = mesh.points.reshape(8, -1, 3)
    sizes = np.linalg.norm(balls - balls.mean(axis=1, keepdims=True), axis=2).max(axis=1)
    upper = balls.mean(axis=1)[:, 1] > 0
    assert sizes[upper] == pytest.approx(0.2, abs=1e-5)
    assert sizes[~upper].max() == pytest.approx(0.0, abs=1e-6)


@pytest.mark.parametrize("form", ["strands", "circle", "helix", "torus", "tiling"])
def test_curves_and_surfaces_have_struts(form):
    mesh = made({"step": form, "values": small(form)}, struts(parts="rods"))
    assert mesh.topology.closed
    assert volume(mesh) > 0


def test_loose_points_have_none():
    with pytest.raises(StepError, match="no edges"):
        made({"step": "cloth", "values": small("cloth")}, struts())


def test_a_rod_along_its_own_normal_still_has_a_side():
    from zygomorph.core.geometry.struts import positions, struts_and_knobs

    points = np.array([[0, 0, 0], [0, 1, 0]], np.float32)
    topology = Topology(
        2,
        curve_points=np.array([0, 1], np.int32),
        curve_starts=np.array([0, 2], np.int32),
        curve_closed=np.zeros(1, bool),
    )
    frame = struts_and_knobs(topology, 8, True, None)
    found = positions(
        Mesh(points, topology), frame, np.full(1, 0.3, np.float32), np.ones(1, np.float32)
    )
    assert np.hypot(found[:, 0], found[:, 2]) == pytest.approx(0.3, abs=1e-6)


def test_struts_as_copies_stand_where_merged_ones_do():
    base = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 1}}
    bumps = {"step": "displace", "values": {"amount": 0.1}}
    values = {"rod": 0.02, "knob": 0.05, "sides": 6, "halvings": 1}
    evaluator = Evaluator()
    merged = evaluator.evaluate(study(base, bumps, {"step": "struts", "values": values}), P).mesh
    made = study(base, bumps, {"step": "strut_copies", "values": values})
    geometry = evaluator.evaluate(made, P).geometry
    # 42 points and 120 edges.
    assert np.bincount(geometry.copies.base).tolist() == [120, 42]
    assert geometry.real.points.shape == merged.points.shape
    assert np.allclose(box_of(geometry.real.points)[:2], box_of(merged.points)[:2], atol=2e-3)
    assert geometry.real.topology.closed
    assert volume(geometry.real) == pytest.approx(volume(merged), rel=1e-4)


def test_a_rod_of_copies_goes_from_point_to_point():
    line = {"step": "line", "values": {"count": 2}}
    made = study(line, {"step": "strut_copies", "values": {"parts": "rods", "rod": 0.01}})
    points = Evaluator().evaluate(study(line), P).mesh.points
    real = Evaluator().evaluate(made, P).mesh.points
    assert np.ptp(real, axis=0).max() == pytest.approx(np.ptp(points, axis=0).max(), abs=1e-6)
