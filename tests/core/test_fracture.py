"""Fracture: what artists mean by shards, gaps, places and chips."""

import numpy as np
import pytest

from tests.conftest import study, volume
from tests.random_values import made_of
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import MASK, SHARD, UV

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 3}}
BOX = {"step": "box", "values": {"size": [1, 1, 1]}}
SHEET = {"step": "sheet", "values": {"columns": 12, "rows": 12}}


def fracture(where=None, **values):
    step = {"step": "fracture", "values": {"gap": 0.0, "count": 12, **values}}
    return step | ({"where": {"layers": [where]}} if where else {})


def made(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def refused(*steps):
    with pytest.raises(StepError) as error:
        made(*steps)
    return error.value


def middles(mesh):
    return elements_of(mesh, "shards").centres


def test_nothing_has_moved_without_a_gap():
    whole, shards = made(BALL), made(BALL, fracture())
    assert shards.count("shard") == 12
    assert volume(shards) == pytest.approx(volume(whole), rel=1e-6)
    assert np.abs(shards.points).max() == pytest.approx(np.abs(whole.points).max(), abs=1e-6)


def test_a_gap_opens_neighbours_by_about_its_width():
    closed, opened = made(BOX, fracture()), made(BOX, fracture(gap=0.05))
    before, after = middles(closed), middles(opened)
    nearest = np.linalg.norm(before[:, None] - before, axis=2) + 9 * np.eye(len(before))
    grown = np.linalg.norm(after[:, None] - after, axis=2) + 9 * np.eye(len(before)) - nearest
    near = nearest.argmin(axis=1)
    assert grown[np.arange(len(near)), near].mean() == pytest.approx(0.05, rel=0.3)
    # Shards move; none changes its shape.
    assert volume(opened) == pytest.approx(volume(closed), rel=1e-5)


def test_the_gap_opens_from_its_centre():
    centre = [0.5, 0.0, 0.0]
    opened = made(BOX, fracture(gap=0.1, centre=centre))
    moved = middles(opened) - middles(made(BOX, fracture()))
    away = middles(made(BOX, fracture())) - centre
    cosine = (moved * away).sum(axis=1) / (
        np.linalg.norm(moved, axis=1) * np.linalg.norm(away, axis=1)
    )
    assert cosine == pytest.approx(np.ones(len(cosine)), abs=0.01)


def test_faces_that_were_inside_are_marked_and_others_are_not():
    shards = made(BALL, fracture())
    inner = shards.get("face", MASK + "inner")
    corner = shards.topology.corners[shards.topology.face_starts[:-1]]
    distance = np.linalg.norm(shards.points[corner], axis=1)
    faces = np.stack(
        [shards.topology.corners[shards.topology.face_starts[:-1] + k] for k in range(3)]
    )
    deepest = np.linalg.norm(shards.points[faces], axis=2).min(axis=0)
    assert set(np.unique(inner)) == {0.0, 1.0}
    # The surface of this ball of flat faces is nowhere below 0.48.
    assert (deepest[inner == 0] > 0.48).all()
    assert distance[inner == 0].min() > 0.48
    assert (deepest[inner == 1] < 0.48).mean() > 0.5


def test_polygons_that_no_cut_meets_stay_polygons_with_their_uvs():
    whole, shards = made(BOX), made(BOX, fracture(count=4))
    quads = np.flatnonzero(np.diff(shards.topology.face_starts) == 4)
    assert len(quads) > 1000
    uv = shards.get("corner", UV)
    starts = shards.topology.face_starts[quads]
    corners = starts[:, None] + np.arange(4)
    own = {
        tuple(np.round(row, 5))
        for row in np.concatenate(
            [whole.points[whole.topology.corners], whole.get("corner", UV)], axis=1
        )
    }
    for corner in corners[::50].reshape(-1):
        place = shards.points[shards.topology.corners[corner]]
        assert tuple(np.round(np.concatenate([place, uv[corner]]), 5)) in own


def test_one_more_place_leaves_shards_far_from_it_as_they_are():
    few, more = (middles(made(BOX, fracture(count=n, way="random"))) for n in (40, 41))
    same = (np.linalg.norm(few[:, None] - more, axis=2) < 1e-6).any(axis=1)
    assert 10 < same.sum() < 40


def test_shards_gather_where_a_mask_is():
    ball = {"id": "l", "layer": "ball", "values": {"centre": [0.5, 0.5, 0.5], "radius": 0.4}}
    gathered = middles(made(BOX, fracture(ball, count=40)))
    even = middles(made(BOX, fracture(count=40)))

    def near(places):
        return (np.linalg.norm(places - 0.5, axis=1) < 0.5).sum()

    assert near(gathered) > 2 * near(even)


def test_chosen_shards_are_broken_again_and_the_others_stay():
    first = made(BOX, fracture(count=8))
    corner = {"id": "l", "layer": "ball", "values": {"centre": [0.3, 0.3, 0.3], "radius": 0.5}}
    chipped = made(BOX, fracture(count=8), fracture(corner, count=6, mask_means="parts"))
    assert chipped.count("shard") > first.count("shard") + 3
    same = (np.linalg.norm(middles(first)[:, None] - middles(chipped), axis=2) < 1e-6).any(axis=1)
    assert 4 <= same.sum() < 8
    assert volume(chipped) == pytest.approx(1.0, rel=1e-6)


def test_shards_break_at_the_points_of_a_piece():
    other = {
        "id": "o",
        "name": "Places",
        "recipe": [
            {
                "id": "f",
                "step": "box",
                "values": {"size": [0.5, 0.5, 0.5], "across": 1, "up": 1, "deep": 1},
            }
        ],
    }
    study = made_of(BOX, fracture(way="piece", piece="o"), other=other)
    shards = Evaluator().evaluate(study, Request("p")).mesh
    # Eight places, one an octant.
    assert shards.count("shard") == 8
    assert np.abs(middles(shards)).min() > 0.15


def test_shards_bend_with_the_surface_or_are_cut_anew():
    twist = {"step": "twist", "values": {"angle": {"signal": "cycle", "low": 0.0, "high": 90.0}}}
    follow, anew = ([BOX, twist, fracture(cut=cut)] for cut in ("rest", "now"))
    assert made(*follow).topology.digest == made(*follow, frame=6.0).topology.digest
    assert made(*anew).topology.digest != made(*anew, frame=6.0).topology.digest
    for steps in (follow, anew):
        mesh = made(*steps, frame=6.0)
        assert mesh.topology.closed
        assert volume(mesh) == pytest.approx(volume(made(BOX, twist, frame=6.0)), rel=2e-3)


def test_what_follows_keeps_its_outside_exactly_on_the_surface():
    twist = {"step": "twist", "values": {"angle": 60.0}}
    twisted, shards = made(BOX, twist), made(BOX, twist, fracture())
    # Old points are where the twist put them.
    kept = shards.get("face", MASK + "inner") == 0
    used = np.unique(shards.topology.corners[kept[shards.topology.corner_face]])
    places = {tuple(p) for p in np.round(twisted.points, 5)}
    on_old = sum(tuple(p) in places for p in np.round(shards.points[used], 5))
    assert on_old > 0.8 * len(twisted.points)


def test_a_jagged_cut_is_rough_and_both_sides_match():
    straight, rough = (
        made(BOX, fracture(count=6)),
        made(BOX, fracture(count=6, jagged=0.03, tooth=0.25)),
    )
    assert len(rough.points) > 1.5 * len(straight.points)
    assert rough.topology.closed
    assert volume(rough) == pytest.approx(1.0, rel=1e-6)
    inner = rough.get("face", MASK + "inner") == 1
    used = np.unique(rough.topology.corners[inner[rough.topology.corner_face]])
    _, times = np.unique(np.round(rough.points[used], 6), axis=0, return_counts=True)
    # Points of cuts are there once for each side.
    assert (times >= 2).mean() > 0.98


def test_what_has_no_inside_is_refused_with_what_helps():
    flipped = {"step": "place", "values": {"scale": [-1, 1, 1]}}
    crossing = {"step": "twist", "values": {"angle": 2000.0}}
    error = refused(SHEET, fracture())
    assert "is open: 48 edges" in error.message
    assert "back" in error.hint
    assert made(SHEET, fracture(wall=0.1)).topology.closed
    shifted = [
        BOX,
        {"step": "row", "values": {"count": 2, "move": [0.37, 0.31, 0.22]}},
        {"step": "real"},
    ]
    assert "goes through itself" in refused(*shifted, fracture()).message
    healed = made(*shifted, {"step": "voxels", "values": {"size": 0.05}}, fracture())
    assert healed.topology.closed
    assert made(BOX, flipped, {"step": "orient"}, fracture()).count("shard") == 12
    assert made(BOX, crossing, fracture()).topology.closed


def test_parts_that_do_not_hang_together_are_shards_of_their_own():
    two = [BOX, {"step": "row", "values": {"count": 2, "move": [3, 0, 0]}}, {"step": "real"}]
    apart = made(*two, fracture(count=6))
    shard = apart.get("face", SHARD)
    for number in range(apart.count("shard")):
        own = apart.topology.corners[(shard == number)[apart.topology.corner_face]]
        assert np.ptp(apart.points[own, 0]) <= 1.0001
    assert volume(apart) == pytest.approx(2.0, rel=1e-6)


@pytest.mark.parametrize("name", ["bunny", "teapot"])
def test_real_meshes_break_or_are_told_why(name, request):
    from zygomorph.core.geometry.mesh import make_mesh, uniform_faces
    from zygomorph.core.geometry.solids.cells import voronoi_cells
    from zygomorph.core.geometry.solids.fracture import broken
    from zygomorph.core.geometry.solids.sites import sites_inside
    from zygomorph.core.geometry.solids.solid import fault_of, solid_of
    from zygomorph.core.geometry.surface_search import search_of

    points, faces = request.getfixturevalue(name)
    mesh = make_mesh(points, *uniform_faces(faces))
    fault = fault_of(mesh)
    if name == "teapot":
        assert fault.kind == "open"
        return
    assert fault is None
    solid = solid_of(mesh)
    search = search_of(mesh.points, solid.points)
    sites = sites_inside(mesh.points, solid.points, search, 30, "even", 0, None)
    low, high = (f(mesh.points, axis=0).astype(float) for f in (np.min, np.max))
    structure = broken(solid, voronoi_cells(sites, low, high), search, True)
    shards = structure.carried(mesh, structure.place.carry(mesh.points))
    assert shards.topology.closed
    assert shards.count("shard") >= 30
    assert volume(shards) == pytest.approx(volume(mesh), rel=1e-5)
