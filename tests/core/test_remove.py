"""Removal: whole elements, and exactly along a contour."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK

BALL = {"step": "icosphere", "values": {"radius": 1.0, "halvings": 3}}


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def front(position, width=0.2, profile="linear", direction=(1, 0, 0)):
    values = {
        "direction": list(direction),
        "position": [position * d for d in direction],
        "width": width,
    }
    return {"layers": [{"id": "l", "layer": "linear", "profile": profile, "values": values}]}


def remove(where=None, **values):
    return {"step": "remove", "values": values} | ({"where": where} if where else {})


def area(mesh):
    corners = mesh.points.astype(float)[mesh.topology.triangles(mesh.points)]
    return (
        np.linalg.norm(
            np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1
        ).sum()
        / 2
    )


@pytest.mark.parametrize("way", ["whole", "contour"])
def test_before_a_front_nothing_is_changed_and_behind_it_nothing_is_left(way):
    whole = made(BALL)
    nothing = made(BALL, remove(front(-3), way=way))
    assert len(nothing.points) == 0
    assert nothing.topology.face_count == 0
    same = made(BALL, remove(front(3), way=way))
    assert np.array_equal(same.points, whole.points)
    assert same.topology.digest == whole.topology.digest


@settings(max_examples=25)
@given(st.floats(-0.9, 0.9), st.sampled_from([(1, 0, 0), (0, 1, 0), (0, 0, 1)]))
def test_the_contour_is_where_the_mask_is_half(position, direction):
    mesh = made(BALL, remove(front(position, 1.0, direction=direction), way="contour"))
    along = mesh.points @ np.array(direction, np.float32)
    assert along.max() <= position + 2e-3
    rim = mesh.topology.border
    assert along[rim] == pytest.approx(position, abs=2e-3)
    # A zone of a ball of radius 1 and height h has the area 2πh (Archimedes).
    assert area(mesh) == pytest.approx(2 * np.pi * (position + 1), abs=0.1)


def test_the_rim_is_one_smooth_ring():
    mesh = made(BALL, remove(front(0.2), way="contour"))
    rim = np.flatnonzero(mesh.topology.border)
    uses = np.bincount(mesh.topology.edges.reshape(-1), minlength=len(mesh.points))
    assert len(rim) > 20
    assert uses[rim].min() >= 2
    radii = np.hypot(mesh.points[rim, 1], mesh.points[rim, 2])
    assert radii == pytest.approx(np.sqrt(1 - 0.04), abs=0.01)


def test_whole_faces_go_of_which_the_mask_takes_half():
    mesh, whole = made(BALL, remove(front(0.0, 0.001), way="whole")), made(BALL)
    middle = whole.points[whole.topology.corners.reshape(-1, 3)].mean(axis=1)
    assert (
        mesh.topology.face_count == (middle[:, 0] < 0).sum()
        or mesh.topology.face_count == (middle[:, 0] > 0).sum()
    )


def test_a_polygon_across_the_contour_is_cut_and_others_stay():
    sheet = {"step": "sheet", "values": {"width": 2, "depth": 2, "columns": 4, "rows": 4}}
    mesh = made(sheet, remove(front(0.25, 0.4), way="contour"))
    assert area(mesh) == pytest.approx(2 * 1.25, abs=1e-4)
    assert (np.diff(mesh.topology.face_starts) == 4).sum() >= 8
    uv = mesh.get("corner", "uv")
    at = mesh.points[mesh.topology.corners]
    assert uv[:, 0] == pytest.approx(at[:, 0] / 2 + 0.5, abs=1e-5)
    assert mesh.rest == pytest.approx(mesh.points, abs=1e-6)


def test_a_share_by_chance_grows_with_the_share():
    kept = [set(made(BALL, remove(share=share)).ids("face").tolist()) for share in (0, 30, 60, 100)]
    assert [len(k) for k in kept] == sorted((len(k) for k in kept), reverse=True)
    assert len(kept[0]) == 1280
    assert kept[3] == set()
    assert kept[2] < kept[1] < kept[0]
    assert len(kept[1]) == pytest.approx(0.7 * 1280, abs=60)


def test_shards_points_and_curves_go_as_wholes():
    tiles = {"step": "tiling", "values": {"columns": 10, "rows": 10}}
    some = made(tiles, remove(of="shards", share=50))
    assert 20 < some.topology.face_count < 80
    strands = {"step": "strands"}
    assert (
        made(strands, remove(of="curves", share=50)).topology.curve_count
        < made(strands).topology.curve_count
    )
    cloth = made({"step": "cloth"})
    assert len(made({"step": "cloth"}, remove(of="points", share=25)).points) == pytest.approx(
        0.75 * len(cloth.points), rel=0.02
    )


def test_a_closed_curve_that_loses_points_opens_and_falls_into_parts():
    circle = {"step": "circle", "values": {"count": 12}}
    where = {
        "layers": [
            {
                "id": "l",
                "layer": "picked",
                "profile": "hard",
                "values": {"of": "points", "picked": [[0, 1], [5, 2]]},
            }
        ]
    }
    mesh = made(circle, remove(where, of="points"))
    sizes = np.diff(mesh.topology.curve_starts).tolist()
    assert sorted(sizes) == [4, 5]
    assert not mesh.topology.curve_closed.any()


def test_stored_masks_are_found_along_the_new_rim():
    store = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {**front(0.0, 2.0), "store": "way"},
    }
    mesh = made(BALL, store, remove(front(0.3), way="contour"))
    stored = mesh.get("point", MASK + "way")
    assert stored == pytest.approx(np.clip((1 + mesh.points[:, 0]) / 2, 0, 1), abs=2e-3)


def test_what_is_empty_goes_on_through_later_steps():
    for step in ("dual", "extrude", "split", "shade", "subdivide", "reduce", "inflate", "twist"):
        try:
            mesh = made(BALL, remove(share=100), {"step": step})
        except Exception as error:
            assert type(error).__name__ == "StepError", (step, error)
            continue
        assert len(mesh.points) == 0
