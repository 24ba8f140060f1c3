"""Layers that look at the surface: facing, curvature, borders, distance, height, picks."""

import numpy as np
import pytest

from tests.conftest import document, study
from tests.core.test_masks import cloud, layer, weigh
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context, Other
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.affine import placement
from zygomorph.core.geometry.curvature import mean_curvature
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.runs import flags, runs_of
from zygomorph.core.geometry.view import View

LINEAR = {"profile": "linear"}


def test_a_ball_faces_up_by_the_cosine():
    ball = form("icosphere", halvings=4, radius=1.0)
    found = weigh(ball, layer("facing", LINEAR, direction=[0, 1, 0], angle=90.0))
    assert np.allclose(found, np.clip(ball.points[:, 1], 0, 1), atol=0.01)


def test_facing_on_the_stage_turns_with_the_piece():
    ball = form("icosphere", halvings=3, radius=1.0)
    turned = placement(np.zeros(3), np.array([0.0, 0.0, 90.0]), np.ones(3))
    facing = layer("facing", LINEAR, against="space", direction=[0, 1, 0])
    found = weigh(ball, facing, context=Context(place=turned))
    # The piece's x has become the stage's y.
    assert np.allclose(found, np.clip(ball.points[:, 0], 0, 1), atol=0.02)


def test_facing_the_viewer_sees_the_camera_through_the_place():
    ball = form("icosphere", halvings=3, radius=0.01)
    moved = placement(np.array([0.0, 0.0, 3.0]), np.zeros(3), np.ones(3))
    facing = layer("facing", LINEAR, against="viewer")
    found = weigh(
        ball,
        facing,
        context=Context(place=moved, view=View(np.array([9.0, 0.0, 3.0]), np.zeros(3))),
    )
    assert ball.points[found.argmax(), 0] > 0.0095


def test_a_study_whose_mask_faces_the_viewer_moves_with_its_place():
    slide = {"signal": "cycle", "low": -2, "high": 2}
    facing = {"id": "f", "layer": "facing", "values": {"against": "viewer"}}
    push = {"step": "displace", "where": {"layers": [facing]}}
    made = study({"step": "icosphere"}, push, place={"move": [slide, 0, 0]})
    evaluator = Evaluator()
    one, two = (evaluator.evaluate(made, Request("p", f, mask_of="s1")) for f in (0.0, 12.0))
    assert not np.allclose(one.weights, two.weights)


@pytest.mark.parametrize("radius", [0.5, 2.0])
def test_a_ball_has_the_curvature_of_its_radius(radius):
    # Mean curvature of a sphere is 1/r (any textbook of differential geometry).
    ball = form("icosphere", halvings=4, radius=radius)
    assert np.allclose(mean_curvature(ball), 1 / radius, rtol=0.02)


def test_a_cylinder_has_half_the_curvature_of_its_circle():
    tube = form("cylinder", radius=0.5, height=2.0, around=96, caps=False)
    inner = np.abs(tube.points[:, 1]) < 0.8
    assert np.allclose(mean_curvature(tube)[inner], 1.0, rtol=0.02)


def test_hollows_are_where_a_torus_is_narrow_inside():
    torus = form("torus")
    across = np.hypot(torus.points[:, 0], torus.points[:, 2])
    ridges = weigh(torus, layer("curvature", LINEAR, what="ridges", radius=0.1, soften=0))
    assert np.corrcoef(across, ridges)[0, 1] > 0.9


def test_a_circle_bends_like_its_radius():
    ring = form("circle", radius=0.25, count=64)
    assert np.allclose(mean_curvature(ring), 4.0, rtol=1e-3)


def test_a_border_falls_off_along_the_surface():
    sheet = form("sheet", width=2.0, depth=2.0, columns=40, rows=40)
    found = weigh(sheet, layer("border", LINEAR, width=0.5))
    to_rim = 1 - np.abs(sheet.points[:, [0, 2]]).max(axis=1)
    # Carried on as from one source, fronts from a rim with corners come up to a cell early.
    assert np.allclose(found, np.clip(1 - to_rim / 0.5, 0, 1), atol=0.05 / 0.5)


def test_a_box_has_sharp_edges_and_no_border():
    box = form("box")
    assert weigh(box, layer("border", LINEAR, what="border")).max() == 0
    sharp = weigh(box, layer("border", LINEAR, what="sharp", width=0.1))
    on_edge = (np.abs(np.abs(box.points) - 0.5) < 1e-6).sum(axis=1) >= 2
    assert np.allclose(sharp[on_edge], 1)
    assert sharp[~on_edge].max() < 1


def test_a_border_on_the_rest_shape_stays_where_it_was():
    sheet = form("sheet", columns=10, rows=10)
    stretched = sheet.moved(sheet.points * np.float32(3))
    border = layer("border", LINEAR, width=0.5)
    assert np.array_equal(weigh(sheet, border), weigh(stretched, border))


def test_distance_to_a_ball_is_the_distance_to_its_surface():
    ball = form("icosphere", halvings=5, radius=0.5)
    other = Other(
        "Ball", Geometry.of(ball), placement(np.array([1.0, 0, 0]), np.zeros(3), np.ones(3)), "b"
    )
    places = cloud([[1.6, 0, 0], [1.75, 0, 0], [3.0, 0, 0]])
    near = layer("distance", LINEAR, near=0.0, far=0.5)
    found = weigh(places, near, context=Context(other=lambda _: other))
    assert np.allclose(found, [0.8, 0.5, 0], atol=0.01)


def test_height_spans_the_piece_however_large_it_is():
    for size in (0.01, 50.0):
        mesh = cloud([[0, -size, 0], [0, 0, 0], [0, size, 0]])
        assert np.allclose(weigh(mesh, layer("height", LINEAR)), [0, 0.5, 1], atol=1e-5)


def test_picked_elements_are_in_and_the_rim_falls_off_beyond_them():
    sheet = form("sheet", width=1.0, depth=1.0, columns=10, rows=10)
    hard = weigh(sheet, layer("picked", LINEAR, of="points", picked=[[0, 1], [120, 1]]))
    assert np.flatnonzero(hard).tolist() == [0, 120]
    soft = weigh(sheet, layer("picked", LINEAR, of="points", picked=[[0, 1]], soft=0.4))
    away = np.linalg.norm(sheet.points - sheet.points[0], axis=1)
    assert np.allclose(soft, np.clip(1 - away / 0.4, 0, 1), atol=0.01)


def test_runs_and_flags_are_each_others_inverse():
    chosen = np.random.default_rng(1).random(500) < 0.5
    assert np.array_equal(flags(runs_of(chosen), 500), chosen)


def test_picks_beyond_the_last_element_are_left_out():
    assert flags([[3, 10**9]], 5).tolist() == [False, False, False, True, True]


@pytest.mark.parametrize("read", ["faces", "shards"])
def test_a_shard_or_face_read_as_a_whole_has_one_weight(read):
    tiles = form("tiling")
    front = layer("linear", {"profile": "linear", "read": read}, direction=[1, 0, 0], width=3.0)
    found = weigh(tiles, front)
    shard = tiles.get("face", "shard")[tiles.topology.corner_face]
    for one in np.unique(shard):
        own = found[tiles.topology.corners[shard == one]]
        assert np.ptp(own) < 1e-6
    assert np.ptp(found) > 0.3


def test_a_curve_read_as_a_whole_has_one_weight():
    strands = form("strands", strands=7, count=5)
    found = weigh(strands, layer("random", {"profile": "linear", "read": "curves"}, way="each"))
    by_curve = found.reshape(7, 5)
    assert np.ptp(by_curve, axis=1).max() < 1e-6
    assert np.ptp(by_curve[:, 0]) > 0.2


def test_order_passes_over_the_curves_one_after_the_other():
    strands = form("strands", strands=5, count=4)
    order = layer("order", {"profile": "linear", "read": "curves"}, reached=50.0, edge=1.0)
    found = weigh(strands, order).reshape(5, 4)
    assert np.allclose(found, found[:, :1])
    assert np.allclose(found[:, 0], [1, 1, 0.5, 0, 0], atol=1e-4)


@pytest.mark.parametrize("key", ["random", "order"])
@pytest.mark.parametrize(("value", "weight"), [(0.0, 0.0), (100.0, 1.0)])
def test_none_and_all_are_really_none_and_all(key, value, weight):
    name = {"random": "share", "order": "reached"}[key]
    mesh = form("icosphere", halvings=3)
    found = weigh(mesh, layer(key, LINEAR, edge=30.0, **{name: value}))
    assert np.allclose(found, weight, atol=1e-6)


def test_a_share_by_chance_is_about_that_share():
    mesh = form("icosphere", halvings=5)
    found = weigh(mesh, layer("random", LINEAR, share=30.0, edge=0.0))
    assert found.mean() == pytest.approx(0.3, abs=0.015)


def test_a_formula_counts_what_it_is_read_on():
    strands = form("strands", strands=4, count=3)
    weight = layer("formula", {"profile": "linear", "read": "curves"}, weight="i / (n - 1)")
    assert np.allclose(weigh(strands, weight).reshape(4, 3)[:, 0], [0, 1 / 3, 2 / 3, 1], atol=1e-6)


def test_a_formula_in_a_mask_moves_with_time():
    weigh_by = {"id": "f", "layer": "formula", "values": {"weight": "p"}}
    made = study({"step": "icosphere"}, {"step": "displace", "where": {"layers": [weigh_by]}})
    evaluator = Evaluator()
    found = [evaluator.evaluate(made, Request("p", f, mask_of="s1")).weights.max() for f in (0, 12)]
    assert found[0] == 0
    assert found[1] == pytest.approx(0.5, abs=1e-6)


def test_a_drawn_profile_goes_through_its_knots():
    course = cloud([[x, 0, 0] for x in (-0.5, -0.25, 0.0, 0.25, 0.5)])
    curve = {"profile": "curve", "curve": [[0, 0], [0.25, 1], [0.5, 0.2], [0.75, 0.6], [1, 0]]}
    front = layer("linear", curve, direction=[1, 0, 0], width=1.0)
    assert np.allclose(weigh(course, front), [0, 1, 0.2, 0.6, 0], atol=0.01)


def carried_study(carried, move=0.0, width=0.2):
    front = {
        "id": "f",
        "layer": "linear",
        "carried": carried,
        "values": {"direction": [1, 0, 0], "width": width},
    }
    made = document({"step": "icosphere"}, {"step": "displace", "where": {"layers": [front]}})
    lamp = {"id": "q", "name": "Lamp", "recipe": [{"id": "a", "step": "box"}]}
    lamp["place"] = {"move": [move, 0, 0]}
    return check_document(made | {"pieces": [*made["pieces"], lamp]})


def share_of(made, frame=0.0):
    found = Evaluator().evaluate(made, Request("p", frame, mask_of="s1"))
    return found.mesh, found.weights


def test_a_mask_carried_by_a_piece_goes_where_it_goes():
    slide = {"signal": "keys", "keys": [{"frame": 0, "value": 0}, {"frame": 10, "value": 0.3}]}
    made = carried_study({"by": "piece", "id": "q"}, slide)
    for frame, place in ((0.0, 0.0), (10.0, 0.3)):
        mesh, weights = share_of(made, frame)
        assert mesh.rest[weights > 0.5][:, 0].min() == pytest.approx(place, abs=0.02)


def test_a_mask_keeps_its_place_when_it_is_attached():
    start = placement(np.array([5.0, 0, 0]), np.zeros(3), np.ones(3)).reshape(-1).tolist()
    mesh, weights = share_of(carried_study({"by": "piece", "id": "q", "start": start}, 5.0))
    assert mesh.rest[weights > 0.5][:, 0].min() == pytest.approx(0.0, abs=0.02)


def test_a_mask_whose_carrier_is_gone_stays():
    mesh, weights = share_of(carried_study({"by": "piece", "id": "gone"}))
    assert mesh.rest[weights > 0.5][:, 0].min() == pytest.approx(0.0, abs=0.02)


def test_a_layer_carried_by_a_layer_travels_with_it():
    rise = {"signal": "keys", "keys": [{"frame": 0, "value": 0}, {"frame": 10, "value": 0.4}]}
    ball = {"id": "b", "layer": "ball", "values": {"centre": [0, rise, 0], "radius": 9.0}}
    front = {
        "id": "f",
        "layer": "linear",
        "carried": {"by": "layer", "id": "b"},
        "values": {"width": 0.1},
    }
    push = {"step": "displace", "where": {"layers": [ball, front]}}
    made = study({"step": "icosphere", "values": {"radius": 0.6}}, push)
    mesh, weights = share_of(made, 10.0)
    assert mesh.rest[weights > 0.5][:, 1].min() == pytest.approx(0.4, abs=0.03)


def test_layers_that_carry_each_other_are_refused():
    layers = [
        {"id": one, "layer": "ball", "carried": {"by": "layer", "id": other}}
        for one, other in (("a", "b"), ("b", "a"))
    ]
    with pytest.raises(Exception, match="carry each other"):
        study({"step": "icosphere"}, {"step": "displace", "where": {"layers": layers}})


def test_a_layer_carried_by_one_that_is_not_there_is_refused():
    lost = {"id": "a", "layer": "ball", "carried": {"by": "layer", "id": "z"}}
    with pytest.raises(Exception, match="no layer 'z'"):
        study({"step": "icosphere"}, {"step": "displace", "where": {"layers": [lost]}})
