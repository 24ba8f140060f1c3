"""Marching cubes and rebuilding through voxels against scikit-image, closed forms and convergence."""

import numpy as np
import pytest
import scipy
import skimage.measure
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import volume
from tests.random_values import made_of
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK, UV, Mesh
from zygomorph.core.geometry.surface_search import search_of
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.geometry.voxels.cube_cases import cube_cases
from zygomorph.core.geometry.voxels.field import field_of, windings
from zygomorph.core.geometry.voxels.skin import Grid, skin_of

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 5}}
BOX = {"step": "box", "values": {"size": [1, 1, 1]}}


def made(*steps, other=None, frame=0.0):
    study = made_of(*steps, **({"other": other} if other else {}))
    return Evaluator().evaluate(study, Request("p", frame)).mesh


def voxels(**values):
    return {"step": "voxels", "values": {"size": 0.05, **values}}


def piece(form, **place):
    return {"id": "o", "name": "Other", "place": place, "recipe": [{"id": "f", **form}]}


def mesh_of(skin):
    starts = np.arange(0, 3 * len(skin.triangles) + 1, 3, dtype=np.int32)
    return Mesh(skin.points, Topology(len(skin.points), skin.triangles.reshape(-1), starts))


def area(mesh):
    corners = mesh.points.astype(float)[mesh.topology.drawn_triangles]
    sides = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.linalg.norm(sides, axis=1).sum() / 2


def sphere_field(cell, radius=0.5):
    grid = Grid.around([-radius] * 3, [radius] * 3, cell, 2.5 * cell)
    axes = [grid.origin[k] + cell * np.arange(grid.shape[k]) for k in range(3)]
    x, y, z = np.meshgrid(*axes, indexing="ij")
    return (np.sqrt(x * x + y * y + z * z) - radius).astype(np.float32), grid


def test_there_are_as_many_triangles_as_in_the_classical_table():
    # 820: counted in the table of P. Bourke, "Polygonising a scalar field", 1994 (from memory).
    starts, edges = cube_cases()
    assert len(edges) == starts[-1] == 820
    assert np.diff(starts).max() == 5
    # A case and its opposite have their surface on the same edges.
    for case in range(256):
        one, other = (edges[starts[c] : starts[c + 1]] for c in (case, 255 - case))
        assert set(one.reshape(-1)) == set(other.reshape(-1))


@settings(max_examples=25)
@given(st.integers(0, 2**32 - 1), st.floats(-0.3, 0.3))
def test_the_surface_of_any_field_is_closed_and_looks_outward(seed, level):
    field = np.random.default_rng(seed).random((9, 10, 11)).astype(np.float32) - 0.5
    for rim in (field, field.transpose(1, 0, 2), field.transpose(2, 1, 0)):
        rim[[0, -1]] = 1
    mesh = mesh_of(skin_of(field, Grid(np.zeros(3), 1.0, field.shape), level))
    assert mesh.topology.closed
    assert volume(mesh) > 0


def test_points_are_those_of_scikit_image():
    # skimage.measure.marching_cubes (Lewiner): a point on each edge of the grid that is crossed.
    rng = np.random.default_rng(2)
    field = scipy.ndimage.gaussian_filter(rng.random((24, 30, 28)), 2.0).astype(np.float32) - 0.5
    skin = skin_of(field, Grid(np.zeros(3), 1.0, field.shape))
    points, *_ = skimage.measure.marching_cubes(field, 0.0)
    for one, other in ((skin.points, points), (points, skin.points)):
        away, _ = scipy.spatial.cKDTree(one).query(other)
        assert np.quantile(away, 0.98) < 1e-4


def test_area_and_volume_of_a_ball_converge_with_order_2():
    errors = []
    for cell in (0.1, 0.05, 0.025):
        mesh = mesh_of(skin_of(*sphere_field(cell)))
        errors.append((abs(volume(mesh) - np.pi / 6), abs(area(mesh) - np.pi)))
    coarse, middle, fine = np.array(errors)
    assert coarse / middle == pytest.approx([4, 4], rel=0.25)
    assert middle / fine == pytest.approx([4, 4], rel=0.25)


def test_normals_come_from_the_field():
    field, grid = sphere_field(0.05)
    skin = skin_of(field, grid)
    away = skin.points / np.linalg.norm(skin.points, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", skin.normals, away).min() > 0.999


def test_distances_are_those_to_the_surface_with_the_sign_of_the_inside():
    torus = made({"step": "torus", "values": {}})
    triangles = torus.topology.drawn_triangles
    grid = Grid.around(torus.points.min(axis=0), torus.points.max(axis=0), 0.06, 0.4)
    search = search_of(torus.points, triangles)
    every = np.arange(grid.count)
    _, away, _ = search.nearest(grid.places(every))
    band = field_of(torus.points, triangles, grid, 0.15, True).distance.reshape(-1)
    near = away < 0.149
    assert np.abs(band[near]) == pytest.approx(away[near], abs=1e-5)
    assert np.abs(band[~near]) == pytest.approx(np.full((~near).sum(), 0.15), abs=1.1e-3)
    far = np.abs(field_of(torus.points, triangles, grid, 0.15, True, far=True).distance)
    # Half a grid cell at the most, where several parts of the surface are as near.
    assert np.abs(far.reshape(-1) - away).max() < 0.03
    assert np.quantile(np.abs(far.reshape(-1) - away), 0.95) < 0.01
    inside = windings(torus.points, triangles, grid).reshape(-1)
    assert set(np.unique(inside)) == {0, 1}
    assert ((band < 0) == (inside == 1)).all()


@settings(max_examples=20)
@given(st.floats(0.02, 0.2), st.lists(st.floats(-0.5, 0.5), min_size=3, max_size=3))
def test_what_is_inside_is_told_wherever_the_grid_lies(cell, shift):
    # Points and edges of this box lie on lines of the grid.
    box = made(BOX)
    triangles = box.topology.drawn_triangles
    grid = Grid(np.array([-1.0, -1.0, -1.0]) + np.array(shift), cell, (int(2.5 / cell) + 1,) * 3)
    found = windings(box.points, triangles, grid).reshape(-1)
    places = np.abs(grid.places(np.arange(grid.count))).max(axis=1)
    clear = np.abs(places - 0.5) > 1e-3 * cell + 1e-6
    assert (found[clear] == (places[clear] < 0.5)).all()


def test_a_ball_is_rebuilt_with_its_volume():
    skin = made(BALL, voxels(size=0.02))
    assert skin.topology.closed
    assert volume(skin) == pytest.approx(volume(made(BALL)), rel=2e-3)


def test_the_coarsest_voxel_that_shows_a_ball_is_half_its_radius():
    # A voxel of half the smallest radius is the coarsest that still shows a ball; a sixth is
    # comfortable (derived).
    small = {"step": "icosphere", "values": {"radius": 0.1, "halvings": 4}}
    whole = volume(made(small))
    for shift in np.linspace(0, 0.05, 4):
        moved = {"step": "place", "values": {"move": [shift, shift / 2, 0]}}
        comfortable = made(small, moved, voxels(size=0.1 / 6))
        assert volume(comfortable) == pytest.approx(whole, rel=0.05)
        coarsest = made(small, moved, voxels(size=0.05))
        assert volume(coarsest) == pytest.approx(whole, rel=0.2)
        lost = made(small, moved, voxels(size=0.15))
        assert abs(volume(lost) / whole - 1) > 0.3


def test_pieces_that_overlap_are_one_skin_without_walls_inside():
    two = [BOX, {"step": "row", "values": {"count": 2, "move": [1.0, 0, 0]}}, {"step": "real"}]
    skin = made(*two, voxels(grow=-0.1))
    assert skin.topology.closed
    # A bar of 2 m, shrunk by 0.1 m on every side, not two cubes.
    assert volume(skin) == pytest.approx(1.8 * 0.8 * 0.8, rel=0.03)
    melted = made(BALL, voxels(piece="o"), other=piece(BALL, move=[0.6, 0, 0]))
    part, count = scipy.sparse.csgraph.connected_components, len(melted.points)
    edges = melted.topology.edges
    links = scipy.sparse.coo_array((np.ones(len(edges)), edges.T), (count, count))
    assert part(links, directed=False)[0] == 1


def test_growing_moves_the_skin_out_by_so_much():
    grown = made(BALL, voxels(grow=0.1))
    assert np.linalg.norm(grown.points, axis=1) == pytest.approx(
        np.full(len(grown.points), 0.6), abs=3e-3
    )
    up = {
        "layers": [
            {
                "id": "l",
                "layer": "linear",
                "profile": "hard",
                "values": {"direction": [0, -1, 0], "width": 0.001},
            }
        ]
    }
    half = made(BALL, voxels(grow=0.1) | {"where": up})
    radius = np.linalg.norm(half.points, axis=1)
    assert {round(float(r), 2) for r in (radius.min(), radius.max())} == {0.5, 0.6}


def test_a_hollow_skin_is_a_wall_of_its_thickness():
    hollow = made(BALL, voxels(size=0.02, inside="hollow", wall=0.1))
    expected = 4 / 3 * np.pi * (0.5**3 - 0.4**3)
    assert hollow.topology.closed
    assert volume(hollow) == pytest.approx(expected, rel=0.01)


def test_an_open_sheet_becomes_a_wall():
    sheet = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0}}
    wall = made(sheet, voxels(wall=0.2))
    assert wall.topology.closed
    assert np.ptp(wall.points[:, 1]) == pytest.approx(0.2, abs=0.01)
    assert volume(wall) == pytest.approx(0.2 * 4, rel=0.2)


def test_smoothing_takes_volume_and_gives_it_back():
    whole = volume(made(BALL))
    thinner = volume(made(BALL, voxels(smooth=0.1)))
    assert thinner < 0.95 * whole
    kept = volume(made(BALL, voxels(smooth=0.1, volume=True)))
    assert kept == pytest.approx(whole, rel=1e-2)


def test_marks_and_uvs_come_from_the_nearest_place_of_the_surface():
    store = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {
            "layers": [{"id": "l", "layer": "height", "values": {}}],
            "store": "up",
        },
    }
    source, skin = made(BOX, store), made(BOX, store, voxels())
    triangles = source.topology.drawn_triangles
    _, _, face = search_of(source.points, triangles).nearest(skin.points)
    near = source.get("point", MASK + "up")[triangles[face]]
    own = skin.get("point", MASK + "up")
    assert np.abs(own - near.mean(axis=1)).max() < 0.1
    assert len(skin.get("corner", UV)) == len(skin.topology.corners)


def test_a_skin_that_is_made_at_rest_bends_with_the_surface():
    twist = {"step": "twist", "values": {"angle": {"signal": "cycle", "low": 0.0, "high": 90.0}}}
    steps = [BOX, twist, voxels(cut="rest")]
    one, other = made(*steps), made(*steps, frame=6.0)
    assert one.topology.digest == other.topology.digest
    assert np.abs(one.points - other.points).max() > 0.2
    assert volume(other) == pytest.approx(volume(made(BOX, twist, frame=6.0)), rel=0.03)


def blend(amount, **values):
    return {"step": "melt", "values": {"piece": "o", "amount": amount, "size": 0.04, **values}}


def test_shapes_of_any_topology_blend_from_one_to_the_other():
    ring = {"step": "torus", "values": {"ring_radius": 0.5, "tube_radius": 0.2}}
    first, last = (made(ring, blend(a), other=piece(BOX)) for a in (0.0, 100.0))
    assert volume(first) == pytest.approx(volume(made(ring)), rel=0.02)
    assert volume(last) == pytest.approx(1.0, rel=0.02)
    for amount in (20.0, 50.0, 80.0):
        mesh = made(ring, blend(amount), other=piece(BOX))
        assert mesh.topology.closed
        assert volume(mesh) > 0

    def characteristic(mesh):
        topology = mesh.topology
        return len(mesh.points) - len(topology.edges) + topology.face_count

    # A ring has a hole, a box none.
    assert characteristic(first) == 0
    assert characteristic(last) == 2


def test_two_balls_of_one_middle_blend_through_the_balls_between():
    small = {"step": "icosphere", "values": {"radius": 0.3, "halvings": 5}}
    mesh = made(BALL, blend(25.0), other=piece(small))
    assert np.linalg.norm(mesh.points, axis=1) == pytest.approx(
        np.full(len(mesh.points), 0.45), abs=5e-3
    )


def test_a_blend_follows_a_front():
    front = {
        "layers": [
            {
                "id": "l",
                "layer": "linear",
                "profile": "hard",
                "values": {"direction": [1, 0, 0], "position": [0, 0, 0], "width": 0.001},
            }
        ]
    }
    small = {"step": "icosphere", "values": {"radius": 0.3, "halvings": 5}}
    mesh = made(BALL, blend(100.0) | {"where": front}, other=piece(small))
    radius = np.linalg.norm(mesh.points, axis=1)
    sides = [radius[s * mesh.points[:, 0] > 0.1] for s in (1, -1)]
    found = sorted(float(np.median(side)) for side in sides)
    assert found == pytest.approx([0.3, 0.5], abs=0.01)


def test_the_share_of_volume_that_smoothing_takes_is_told():
    slab = {"step": "box", "values": {"size": [1, 1, 0.4]}}
    voxels = {"step": "voxels", "values": {"size": 0.05, "smooth": 0.1}}
    found = Evaluator().evaluate(made_of(slab, voxels), Request("p", 0.0))
    solid = trimesh.Trimesh(found.mesh.points, found.mesh.topology.corners.reshape(-1, 3))
    assert found.steps[1].volume_change == pytest.approx(solid.volume / 0.4 - 1, abs=1e-5)
    assert found.steps[0].volume_change is None
    kept = {**voxels, "values": {**voxels["values"], "volume": True}}
    found = Evaluator().evaluate(made_of(slab, kept), Request("p", 0.0))
    assert abs(found.steps[1].volume_change) < 0.01
