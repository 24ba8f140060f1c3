"""Reduction: as near to the shape as a reference library, down to the last triangle, and what is
known of the points."""

import fast_simplification
import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from tests.conftest import study, volume
from tests.random_values import small
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK

BUMPY = [
    {"step": "icosphere", "values": {"radius": 1.0, "halvings": 4}},
    {"step": "displace", "values": {"amount": 0.25, "size": 0.7}},
    {"step": "remember", "values": {}},
]
SHEET = {"step": "sheet", "values": {"width": 2, "depth": 2, "columns": 20, "rows": 20}}


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def reduce(**values):
    to = "faces" if "faces" in values else "share"
    return {"step": "reduce", "values": {"to": to, **values}}


def triangles(mesh):
    return trimesh.Trimesh(mesh.points, mesh.topology.triangles(mesh.points), process=False)


def far(one, other):
    """Hausdorff distance, by many places on each surface."""
    a, b = (each.sample(20_000, seed=1) for each in (one, other))
    return max(cKDTree(a).query(b)[0].max(), cKDTree(b).query(a)[0].max())


@pytest.mark.parametrize("faces", [2000, 400, 120])
def test_it_stays_as_near_to_the_shape_as_a_reference_library(faces):
    # Garland and Heckbert 1997, as the package fast-simplification does it.
    whole = made(*BUMPY)
    mine = made(*BUMPY, reduce(faces=faces))
    corners = whole.topology.triangles(whole.points)
    points, others = fast_simplification.simplify(whole.points, corners, target_count=faces)
    theirs = trimesh.Trimesh(points, others, process=False)
    assert mine.topology.face_count <= faces
    assert far(triangles(mine), triangles(whole)) < 1.25 * far(theirs, triangles(whole)) + 0.01
    assert mine.topology.closed
    assert volume(mine) == pytest.approx(volume(whole), rel=0.1)


@pytest.mark.parametrize(
    "form", ["icosphere", "torus", "sheet", "tiling", "cylinder", "disc", "text"]
)
def test_at_the_end_one_triangle_is_left(form):
    base = {"step": form, "values": small(form)}
    mesh = made(base, reduce(share=0.0))
    assert (len(mesh.points), mesh.topology.face_count) == (3, 1)


@settings(max_examples=12)
@given(st.integers(1, 5000))
def test_there_are_never_more_triangles_than_asked_for(faces):
    mesh = made(*BUMPY, reduce(faces=faces))
    assert faces - 4 <= mesh.topology.face_count <= faces
    assert np.isfinite(mesh.points).all()


def test_all_of_the_triangles_is_the_mesh_itself():
    whole, same = made(*BUMPY), made(*BUMPY, reduce(share=100.0))
    assert np.array_equal(whole.points, same.points)
    assert np.array_equal(whole.topology.corners, same.topology.corners)


def test_the_rim_of_a_sheet_stays_and_so_do_its_uvs():
    mesh = made(SHEET, reduce(faces=2))
    assert sorted(map(tuple, mesh.points.tolist())) == [
        (-1, 0, -1),
        (-1, 0, 1),
        (1, 0, -1),
        (1, 0, 1),
    ]
    for faces in (300, 50, 8):
        mesh = made(SHEET, reduce(faces=faces))
        uv, at = mesh.get("corner", "uv"), mesh.points[mesh.topology.corners]
        assert uv[:, 0] == pytest.approx(at[:, 0] / 2 + 0.5, abs=1e-4)
        assert np.abs(mesh.points).max() == pytest.approx(1, abs=1e-6)


def test_points_go_where_the_points_they_come_from_go():
    turn = {"step": "place", "values": {"move": [0, 0, 0], "turn": [0, 40, 20]}}
    once = made(*BUMPY, reduce(faces=300), turn).points
    # The order is found at rest, so that what moves before it is followed exactly.
    again = made(*BUMPY, turn, reduce(faces=300)).points
    assert again == pytest.approx(once, abs=1e-5)


def test_only_what_the_mask_means_is_reduced():
    layer = {
        "id": "l",
        "layer": "linear",
        "profile": "hard",
        "values": {"direction": [1, 0, 0], "position": [0, 0, 0], "width": 0.001},
    }
    whole = made(SHEET)
    mesh = made(SHEET, {**reduce(share=0.0), "where": {"layers": [layer]}})
    left = whole.points[whole.points[:, 0] <= 0]
    kept = cKDTree(mesh.points).query(left)[0]
    assert kept.max() < 1e-6
    assert mesh.topology.face_count < 0.62 * whole.topology.face_count * 2


def test_stored_masks_are_mixed_as_the_points_are():
    layer = {
        "id": "l",
        "layer": "linear",
        "profile": "linear",
        "values": {"direction": [1, 0, 0], "position": [0, 0, 0], "width": 2.0},
    }
    store = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {"layers": [layer], "store": "way"},
    }
    mesh = made(SHEET, store, reduce(faces=60))
    assert mesh.get("point", MASK + "way") == pytest.approx((mesh.points[:, 0] + 1) / 2, abs=1e-4)


def test_a_keyed_share_is_replayed_from_one_order():
    evaluator = Evaluator()
    keys = {"signal": "keys", "keys": [{"frame": 0, "value": 100}, {"frame": 24, "value": 0}]}
    document = study(*BUMPY, reduce(share=keys))
    counts = [
        evaluator.evaluate(document, Request("p", float(f))).mesh.topology.face_count
        for f in range(25)
    ]
    assert counts == sorted(counts, reverse=True)
    assert (counts[0], counts[-1]) == (5120, 1)


def test_parts_that_do_not_touch_go_one_after_the_other():
    row = {"step": "row", "values": {"count": 6, "move": [3, 0, 0]}}
    real = {"step": "twist", "values": {"angle": 0.0}, "where": {"moves": "points"}}
    ball = {"step": "icosphere", "values": {"halvings": 2}}
    mesh = made(ball, row, real, reduce(faces=6))
    assert 1 <= mesh.topology.face_count <= 6
