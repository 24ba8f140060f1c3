"""Fracture and boolean against closed forms, nearest sites and an independent Voronoi diagram."""

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import volume
from tests.random_values import made_of
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import MASK, SHARD
from zygomorph.core.geometry.solids.cells import jagged, voronoi_cells
from zygomorph.core.geometry.solids.fracture import broken
from zygomorph.core.geometry.solids.sites import are_inside, sites_inside
from zygomorph.core.geometry.solids.solid import solid_of, volume_of
from zygomorph.core.geometry.surface_search import search_of

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 4}}
BOX = {"step": "box", "values": {"size": [1, 1, 1]}}


def piece(form, **place):
    return {"id": "o", "name": "Other", "place": place, "recipe": [{"id": "f", **form}]}


def made(*steps, other=None):
    study = made_of(*steps, **({"other": other} if other else {}))
    return Evaluator().evaluate(study, Request("p")).mesh


def cut(form, other, keep):
    return made(form, {"step": "boolean", "values": {"piece": "o", "keep": keep}}, other=other)


def test_the_lens_of_two_balls_has_the_volume_of_the_formula():
    # π (4 r + d) (2 r − d)² / 12: E. W. Weisstein, "Sphere-Sphere Intersection", MathWorld.
    radius, distance = 0.5, 0.4
    fine = {"step": "icosphere", "values": {"radius": radius, "halvings": 6}}
    mesh = cut(fine, piece(fine, move=[distance, 0, 0]), "inside")
    expected = np.pi * (4 * radius + distance) * (2 * radius - distance) ** 2 / 12
    assert volume(mesh) == pytest.approx(expected, rel=2e-3)


def test_two_cylinders_across_meet_in_the_solid_of_steinmetz():
    # 16 r³ / 3, known to Archimedes.
    radius = 0.3
    rod = {
        "step": "cylinder",
        "values": {"radius": radius, "height": 2.0, "around": 256, "rows": 8},
    }
    mesh = cut(rod, piece(rod, turn=[90, 0, 0]), "inside")
    assert volume(mesh) == pytest.approx(16 * radius**3 / 3, rel=1e-3)


@settings(max_examples=15)
@given(
    st.sampled_from([BALL, BOX, {"step": "torus", "values": {}}]),
    st.lists(st.floats(-0.6, 0.6), min_size=3, max_size=3),
    st.lists(st.floats(-180, 180), min_size=3, max_size=3),
)
def test_both_are_what_they_share_and_what_they_do_not(form, move, turn):
    other = piece(BOX, move=move, turn=turn)
    first, second = made(form), Evaluator().evaluate(made_of(form, other=other), Request("o")).mesh
    inside, outside, both = (cut(form, other, keep) for keep in ("inside", "outside", "join"))
    for mesh in (inside, outside, both):
        assert mesh.topology.closed or len(mesh.points) == 0
    assert volume(first) + volume(second) == pytest.approx(volume(both) + volume(inside), rel=1e-5)
    assert volume(first) == pytest.approx(volume(inside) + volume(outside), rel=1e-5)


def parts_of(mesh, count=40, way="even", seed=3, move=None):
    solid = solid_of(mesh)
    search = search_of(mesh.points, solid.points)
    sites = sites_inside(mesh.points, solid.points, search, count, way, seed, None)
    low, high = (f(mesh.points, axis=0).astype(float) for f in (np.min, np.max))
    cells = voronoi_cells(sites, low, high)
    if move is not None:
        cells = jagged(cells, move, 0.05, low - 0.1, high + 0.1)
    structure = broken(solid, cells, search, True)
    return sites, structure.carried(mesh, structure.place.carry(mesh.points))


@pytest.mark.parametrize("form", [BALL, BOX, {"step": "torus", "values": {}}])
@pytest.mark.parametrize("rough", [0.0, 0.01])
def test_shards_are_closed_and_sum_to_the_whole(form, rough):
    mesh = made(form)
    _, shards = parts_of(mesh, move=lambda p: p + rough * np.sin(20 * p)[:, [1, 2, 0]])
    assert shards.topology.closed
    assert shards.count("shard") >= 40
    whole = volume_of(mesh.points, mesh.topology.drawn_triangles)
    parts = []
    faces, triangles = shards.get("face", SHARD), shards.topology.drawn_triangles
    of = faces[shards.topology.corner_face[shards.topology.drawn_corners[:, 0]]]
    for shard in range(shards.count("shard")):
        own = triangles[of == shard]
        ends = np.sort(own[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
        assert (np.unique(ends, axis=0, return_counts=True)[1] == 2).all()
        parts.append(volume_of(shards.points, own))
    assert min(parts) > 0
    assert sum(parts) == pytest.approx(whole, rel=1e-9, abs=2e-9)


def test_every_place_in_a_shard_is_nearest_to_its_own_site():
    mesh = made(BOX)
    sites, shards = parts_of(mesh, 30)
    tree = scipy.spatial.cKDTree(sites)
    face = shards.get("face", SHARD)
    shard = np.zeros(len(shards.points), int)
    shard[shards.topology.corners] = face[shards.topology.corner_face]
    own = {}
    for number in range(30):
        points = shards.points[shard == number].astype(float)
        middle = points.mean(axis=0)
        own[number] = int(tree.query(middle)[1])
        # Of points of the walls two or more sites are as near.
        distance = np.linalg.norm(points - sites[own[number]], axis=1)
        assert distance == pytest.approx(tree.query(points)[0], abs=1e-5)
    assert sorted(own.values()) == list(range(30))


def test_cells_have_the_corners_of_an_independent_diagram():
    # scipy.spatial.Voronoi (Qhull), of the same sites alone.
    sites = np.random.default_rng(5).random((40, 3))
    cells = voronoi_cells(sites, np.zeros(3), np.ones(3))
    found = scipy.spatial.Voronoi(sites)
    inner = found.vertices[(np.abs(found.vertices - 0.5) < 0.5).all(axis=1)]
    away, _ = scipy.spatial.cKDTree(cells.points).query(inner)
    assert len(inner) > 50
    assert away.max() < 1e-9


def test_walls_of_cells_close_around_each():
    sites = np.random.default_rng(6).random((60, 3))
    cells = voronoi_cells(sites, np.zeros(3), np.ones(3))
    order, starts = cells.by_cell()
    total = 0.0
    for cell in range(60):
        points, triangles = cells.surface(cell, order, starts)
        ends = np.sort(triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
        assert (np.unique(ends, axis=0, return_counts=True)[1] == 2).all()
        total += volume_of(points, triangles)
        assert volume_of(points, triangles) > 0
    # They fill at least the box.
    assert total > 1


def test_places_are_inside_as_an_independent_winding_says():
    torus = made({"step": "torus", "values": {}})
    triangles = torus.topology.drawn_triangles
    corners = torus.points.astype(float)[triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    places = np.random.default_rng(1).uniform(-1.5, 1.5, (2000, 3))
    found = are_inside(places, search_of(torus.points, triangles), normals)
    values = {k: v.default for k, v in _torus().values.items()}
    ring, tube = values["ring_radius"], values["tube_radius"]
    # Of a torus in closed form, but close to its surface, which is made of flat faces here.
    distance = np.hypot(np.hypot(places[:, 0], places[:, 2]) - ring, places[:, 1]) - tube
    clear = np.abs(distance) > 0.03
    assert (found == (distance < 0))[clear].all()


def _torus():
    from zygomorph.core.values.entries import definitions

    return definitions("form")["torus"]


@settings(max_examples=10)
@given(st.lists(st.floats(-2, 2), min_size=12, max_size=12))
def test_what_is_moved_turned_and_sheared_as_a_whole_takes_its_inside_along(numbers):
    matrix = np.eye(4)
    matrix[:3] = np.reshape(numbers, (3, 4))
    mesh = made(BOX)
    _, shards = parts_of(mesh, 20)
    solid = solid_of(mesh)
    search = search_of(mesh.points, solid.points)
    sites = sites_inside(mesh.points, solid.points, search, 20, "even", 3, None)
    structure = broken(solid, voronoi_cells(sites, -np.ones(3) / 2, np.ones(3) / 2), search, True)
    followed = structure.place.carry(transformed(mesh.points, matrix))
    assert followed == pytest.approx(transformed(shards.points, matrix), abs=2e-5)


def test_a_ball_that_is_cut_keeps_the_marks_of_its_surface():
    store = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {
            "layers": [{"id": "l", "layer": "linear", "values": {"direction": [0, 1, 0]}}],
            "store": "up",
        },
    }
    cutter = piece(BOX, move=[0.5, 0.5, 0.5])
    plain = made(BALL, store)
    mesh = made(BALL, store, {"step": "boolean", "values": {"piece": "o"}}, other=cutter)
    of_ball = mesh.get("face", MASK + "cut") == 0
    used = np.unique(mesh.topology.corners[of_ball[mesh.topology.corner_face]])
    search = search_of(plain.points, plain.topology.drawn_triangles)
    _, _, face = search.nearest(mesh.points[used])
    near = plain.get("point", MASK + "up")[plain.topology.drawn_triangles[face]]
    own = mesh.get("point", MASK + "up")[used]
    assert (own >= near.min(axis=1) - 1e-4).all()
    assert (own <= near.max(axis=1) + 1e-4).all()
