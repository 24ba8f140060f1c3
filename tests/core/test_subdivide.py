"""Subdivision: rounded as published, plain in the same shape, and what is known of elements."""

import numpy as np
import pytest
import scipy
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from tests.random_values import small
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK, Mesh, make_mesh, uniform_faces
from zygomorph.core.geometry.subdivision import subdivided
from zygomorph.core.geometry.topology import Topology

CUBE = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}


def subdivide(levels=1, way="smooth", **more):
    return {"step": "subdivide", "values": {"levels": levels, "way": way}, **more}


def made(*steps, frame=0.0) -> Mesh:
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh


def test_a_rounded_cube_has_the_points_of_the_published_rules():
    # Catmull and Clark 1978: of a cube from -1 to 1 the corners go to 5/9, the middles of edges
    # to 3/4, and the middles of faces stay (worked out by hand from the rules).
    mesh = made(CUBE, subdivide())
    assert (len(mesh.points), mesh.topology.face_count) == (26, 24)
    kinds = {
        tuple(float(c) for c in np.sort(np.abs(p)).round(5)) for p in mesh.points.astype(float)
    }
    fifth = round(5 / 9, 5)
    assert kinds == {(fifth, fifth, fifth), (0.0, 0.75, 0.75), (0.0, 0.0, 1.0)}


def test_on_a_grid_it_is_the_refinement_of_bicubic_b_splines():
    # The refinement of uniform cubic B-splines is the mask 1 4 6 4 1 over 8 (C. de Boor,
    # "A Practical Guide to Splines"; from memory), of a surface both ways one after the other.
    count = 9
    heights = np.random.default_rng(3).normal(size=(count, count))
    i, j = np.meshgrid(np.arange(count), np.arange(count), indexing="ij")
    points = np.stack([j, heights, i], axis=2).reshape(-1, 3)
    number = np.arange(count * count).reshape(count, count)
    quads = np.stack([number[:-1, :-1], number[1:, :-1], number[1:, 1:], number[:-1, 1:]], axis=2)
    mesh = make_mesh(points, *uniform_faces(quads.reshape(-1, 4)))
    finer = subdivided(mesh.topology, 1, "smooth").origins["point"].carry(mesh.points)
    stuffed = np.zeros((2 * count - 1, 2 * count - 1))
    stuffed[::2, ::2] = heights
    mask = np.array([1, 4, 6, 4, 1]) / 8
    expected = scipy.ndimage.convolve(stuffed, np.outer(mask, mask), mode="constant")
    for x, y, z in finer:
        a, b = round(2 * z), round(2 * x)
        if 3 < a < 2 * count - 5 and 3 < b < 2 * count - 5:
            assert y == pytest.approx(expected[a, b], abs=1e-5)


def test_rounded_over_and_over_it_nears_a_surface_that_bends_evenly():
    mesh = made(CUBE, subdivide(4))
    radii = np.linalg.norm(mesh.points, axis=1)
    # No ball, but near one, and much smaller than the cube.
    assert radii.max() / radii.min() < 1.25
    assert mesh.topology.closed


@pytest.mark.parametrize("form", ["torus", "box", "icosphere", "sphere", "cylinder", "tiling"])
@pytest.mark.parametrize("levels", [1, 2])
def test_plain_keeps_the_shape(form, levels):
    base = {"step": form, "values": small(form)}
    before, after = made(base), made(base, subdivide(levels, "plain"))
    one, other = (
        trimesh.Trimesh(m.points, m.topology.triangles(m.points), process=False)
        for m in (before, after)
    )
    assert other.area == pytest.approx(one.area, rel=2e-3)
    assert after.topology.closed == before.topology.closed
    triangles = np.diff(before.topology.face_starts) == 3
    sizes = np.diff(before.topology.face_starts)
    expected = 4**levels * triangles.sum() + 4 ** (levels - 1) * sizes[~triangles].sum()
    assert after.topology.face_count == expected


def test_plain_triangles_are_those_of_a_reference_library():
    base = {"step": "icosphere", "values": {"halvings": 1}}
    before, after = made(base), made(base, subdivide(1, "plain"))
    points, faces = trimesh.remesh.subdivide(before.points, before.topology.corners.reshape(-1, 3))
    assert len(points) == len(after.points)
    assert len(faces) == after.topology.face_count
    assert np.allclose(np.sort(points, axis=0), np.sort(after.points, axis=0), atol=1e-6)


def test_a_sheet_keeps_its_corners_and_its_straight_rim():
    mesh = made(
        {"step": "sheet", "values": {"width": 2, "depth": 2, "columns": 3, "rows": 3}}, subdivide(2)
    )
    for x in (-1, 1):
        for z in (-1, 1):
            assert np.abs(mesh.points - [x, 0, z]).max(axis=1).min() < 1e-6
    assert np.abs(mesh.points).max() == pytest.approx(1)


HALF = {
    "id": "l",
    "layer": "linear",
    "profile": "hard",
    "values": {"direction": [1, 0, 0], "position": [0, 0, 0], "width": 0.001},
}


@pytest.mark.parametrize("way", ["smooth", "plain"])
def test_where_the_mask_ends_nothing_tears(way):
    base = {"step": "box", "values": {"size": [2, 2, 2], "across": 4, "up": 4, "deep": 4}}
    whole = made(base)
    mesh = made(base, subdivide(2, way, where={"layers": [HALF]}))
    assert mesh.topology.closed
    assert whole.topology.face_count < mesh.topology.face_count
    assert mesh.topology.face_count < whole.topology.face_count * 16
    # On the far side the corners of the box are where they were.
    far = mesh.points[mesh.points[:, 0] < -0.99] if way == "smooth" else mesh.points
    assert np.abs(far[:, 1]).max() == pytest.approx(1, abs=1e-6)


@settings(max_examples=25)
@given(st.integers(0, 99), st.integers(0, 2), st.sampled_from(["smooth", "loop", "plain"]))
def test_shares_sum_to_one_and_the_surface_stays_whole(seed, levels, way):
    random = np.random.default_rng(seed)
    topology = made({"step": "icosphere", "values": {"halvings": 1}}).topology
    chosen = random.random(topology.face_count) < 0.5
    structure = subdivided(topology, levels, way, chosen)
    for origin in structure.origins.values():
        if origin.weights is not None:
            sums = np.add.reduceat(origin.weights, origin.starts[:-1])
            assert np.allclose(sums, 1, atol=1e-5)
            assert origin.weights.min() > -1e-6
    assert structure.topology.closed
    assert len(structure.origins["point"]) == structure.topology.point_count


def test_stored_masks_uvs_and_the_rest_shape_come_along():
    stored = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {"layers": [HALF], "store": "half"},
    }
    push = {"step": "inflate", "values": {"amount": 0.3}}
    base = {"step": "sheet", "values": {"width": 2, "depth": 2, "columns": 4, "rows": 4}}
    mesh = made(base, stored, push, subdivide(1, "plain"))
    stays = mesh.get("point", MASK + "half")
    assert len(stays) == len(mesh.points)
    assert set(np.unique(stays)) == {0.0, 0.5, 1.0}
    assert np.allclose(mesh.rest[:, 1], 0)
    assert np.allclose(mesh.points[:, 1], 0.3, atol=1e-6)
    uv = mesh.get("corner", "uv")
    at = mesh.rest[mesh.topology.corners]
    slope = np.polyfit(at[:, 0], uv[:, 0], 1)
    assert np.allclose(np.polyval(slope, at[:, 0]), uv[:, 0], atol=1e-5)


def test_ids_of_points_that_go_on_are_kept_and_new_ones_follow():
    base = made(CUBE)
    mesh = made(CUBE, subdivide(1))
    ids = mesh.ids("point")
    assert ids[: len(base.points)].tolist() == list(range(8))
    assert sorted(ids[8:]) == list(range(8, 26))
    assert len(np.unique(mesh.ids("face"))) == 24


def test_chance_is_the_same_for_a_point_before_and_after():
    layer = {"id": "l", "layer": "random", "values": {"way": "each", "seed": 4}}
    push = {"step": "inflate", "where": {"layers": [layer]}}
    evaluator = Evaluator()
    before = evaluator.evaluate(study(CUBE, push), Request("p", mask_of="s1")).weights
    after = evaluator.evaluate(study(CUBE, subdivide(), push), Request("p", mask_of="s2")).weights
    assert np.array_equal(after[:8], before)


def test_a_tube_goes_by_the_ids_of_its_curves():
    helix = {"step": "helix", "values": {"count": 10}}
    mesh = made(helix, {"step": "tube", "values": {"sides": 5}})
    assert mesh.ids("point").tolist() == np.repeat(np.arange(10), 5).tolist()


def test_the_structure_is_made_once_while_points_move():
    wave = {"step": "wave", "values": {"phase": {"signal": "cycle", "shape": "saw"}}}
    document = study({"step": "torus", "values": small("torus")}, wave, subdivide(2), frames=8)
    evaluator = Evaluator()
    meshes = [evaluator.evaluate(document, Request("p", f)).mesh for f in (0.0, 1.0, 2.0)]
    assert meshes[0].topology is meshes[1].topology is meshes[2].topology
    assert np.abs(meshes[0].points - meshes[1].points).max() > 1e-3
    assert meshes[1].rest is meshes[2].rest


def test_levels_that_move_change_the_topology_from_frame_to_frame():
    keys = [{"frame": 0, "value": 0, "ease": "held"}, {"frame": 4, "value": 2}]
    document = study(CUBE, subdivide({"signal": "keys", "keys": keys}), frames=8)
    evaluator = Evaluator()
    counts = [len(evaluator.evaluate(document, Request("p", f)).mesh.points) for f in (0.0, 5.0)]
    assert counts == [8, 98]


def test_too_many_levels_are_refused_before_memory_is_taken():
    with pytest.raises(StepError, match=r"points, about"):
        made({"step": "icosphere", "values": {"halvings": 5}}, subdivide(8))


def test_what_has_no_faces_says_so():
    with pytest.raises(StepError, match="no faces"):
        made({"step": "line"}, subdivide())


def test_curves_go_on_through_the_points_that_stay():
    mesh = made(CUBE)
    curved = Topology(
        8,
        mesh.topology.corners,
        mesh.topology.face_starts,
        np.array([0, 1, 2], np.int32),
        np.array([0, 3], np.int32),
        np.array([False]),
    )
    structure = subdivided(curved, 2, "smooth")
    assert structure.topology.curve_points.tolist() == [0, 1, 2]


def test_a_document_with_it_is_valid():
    document = study(CUBE, subdivide()).document
    check_document(document)


@pytest.mark.parametrize("halvings", [0, 1, 2])
@pytest.mark.parametrize("levels", [1, 2])
def test_loops_scheme_is_that_of_a_reference_library(halvings, levels):
    # Loop 1987, as trimesh.remesh.subdivide_loop does it.
    base = {"step": "icosphere", "values": {"halvings": halvings}}
    bumpy = {"step": "displace", "values": {"amount": 0.3, "size": 0.4}}
    before, after = made(base, bumpy), made(base, bumpy, subdivide(levels, "loop"))
    points, faces = trimesh.remesh.subdivide_loop(
        before.points.astype(float), before.topology.corners.reshape(-1, 3), levels
    )
    assert (len(points), len(faces)) == (len(after.points), after.topology.face_count)
    away = scipy.spatial.cKDTree(points).query(after.points)[0]
    assert away.max() < 1e-6
    assert after.topology.closed


def test_loops_scheme_cuts_polygons_into_triangles_first():
    mesh = made(CUBE, subdivide(1, "loop"))
    assert mesh.topology.face_count == 12 * 4
    assert mesh.topology.closed
    assert len(mesh.points) - len(mesh.topology.edges) + mesh.topology.face_count == 2


@pytest.mark.parametrize("way", ["smooth", "loop"])
def test_with_all_edges_as_creases_a_cube_stays_a_cube(way):
    step = subdivide(3, way)
    step["values"]["crease"] = 60.0
    mesh = made(CUBE, step)
    assert np.abs(mesh.points).max(axis=1) == pytest.approx(1, abs=1e-6)
    assert trimesh.Trimesh(
        mesh.points, mesh.topology.triangles(mesh.points), process=False
    ).volume == pytest.approx(8, rel=1e-5)


def test_the_creases_of_a_cylinder_are_the_b_spline_curves_of_its_rims():
    base = {"step": "cylinder", "values": {"around": 12, "rows": 2, "cap_rings": 1}}
    step = subdivide(1, "smooth")
    step["values"]["crease"] = 60.0
    before, after = made(base), made(base, step)
    height = before.points[:, 1].max()
    rim = before.points[np.isclose(before.points[:, 1], height)]
    rim = rim[np.hypot(rim[:, 0], rim[:, 2]) > 1e-6]
    order = np.argsort(np.arctan2(rim[:, 2], rim[:, 0]))
    ring = rim[order].astype(float)
    # 1/8, 3/4, 1/8 at the points and the middles between (textbook).
    moved = (np.roll(ring, 1, 0) + 6 * ring + np.roll(ring, -1, 0)) / 8
    middles = (ring + np.roll(ring, -1, 0)) / 2
    away = scipy.spatial.cKDTree(after.points).query(np.concatenate([moved, middles]))[0]
    assert away.max() < 1e-5
