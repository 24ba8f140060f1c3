"""Soft balls against their published falloffs, spheres, and another marching cubes."""

import numpy as np
import pytest
import skimage.measure

from tests.conftest import study, volume
from tests.random_values import made_of
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.balls.balls import FALLOFFS, Balls, falloff, share_at
from zygomorph.core.geometry.mesh import make_mesh, uniform_faces

CHANCE = np.random.default_rng(4)


def balls(count=12, kind="soft_objects", threshold=0.4, seed=1):
    chance = np.random.default_rng(seed)
    return Balls(
        chance.uniform(-0.5, 0.5, (count, 3)).astype(np.float32),
        chance.uniform(0.1, 0.25, count).astype(np.float32),
        np.ones(count, np.float32),
        kind,
        threshold,
    )


def mesh_of(skin):
    return make_mesh(skin.points, *uniform_faces(skin.triangles))


def area(mesh):
    a, b, c = np.moveaxis(mesh.points[mesh.topology.corners.reshape(-1, 3)].astype(float), 1, 0)
    return np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2


def brute(found, points):
    away = np.linalg.norm(points[:, None] - found.centres[None], axis=2) / found.reach
    return (falloff(away, found.kind) * found.strength * (away < 1)).sum(1)


def test_the_falloff_of_soft_objects_is_the_published_one():
    # G. Wyvill, C. McPheeters & B. Wyvill 1986: 1 at the middle, ½ at half the reach, 0 with slope
    # 0 at the reach, 0 slope at the middle.
    kind = "soft_objects"
    assert falloff(np.array([0, 0.5, 1.0]), kind) == pytest.approx([1, 0.5, 0], abs=1e-12)
    slopes = np.gradient(falloff(np.linspace(0, 1, 100_001), kind), 1e-5)
    assert abs(slopes[0]) < 1e-3
    assert abs(slopes[-1]) < 1e-3
    assert (slopes[1:-1] < 0).all()


def test_the_falloff_of_metaballs_is_the_published_one():
    # H. Nishimura et al. 1985: two parabolas that meet at a third of the reach with one slope.
    kind = "metaballs"
    assert falloff(np.array([0, 1 / 3, 1.0]), kind) == pytest.approx([1, 2 / 3, 0], abs=1e-12)
    before, after = (
        (falloff(np.array(1 / 3 + s), kind) - falloff(np.array(1 / 3), kind)) / s
        for s in (-1e-6, 1e-6)
    )
    assert before == pytest.approx(after, abs=1e-4)


@pytest.mark.parametrize("kind", FALLOFFS)
@pytest.mark.parametrize("threshold", [0.1, 0.4, 0.8])
def test_a_ball_alone_has_its_radius(kind, threshold):
    one = Balls(
        np.zeros((1, 3), np.float32),
        np.full(1, 0.5, np.float32),
        np.ones(1, np.float32),
        kind,
        threshold,
    )
    assert float(falloff(np.array(share_at(threshold, kind)), kind)) == pytest.approx(threshold)
    away = np.linalg.norm(one.skin(0.02).points, axis=1)
    assert away == pytest.approx(0.5, abs=2e-3)


@pytest.mark.parametrize("kind", FALLOFFS)
def test_area_and_volume_converge_with_the_second_order(kind):
    # 4πr² and 4πr³/3; halving the voxel makes the error a quarter.
    one = Balls(
        np.full((1, 3), 0.013, np.float32),
        np.full(1, 0.5, np.float32),
        np.ones(1, np.float32),
        kind,
    )
    errors = []
    for cell in (0.1, 0.05, 0.025):
        mesh = mesh_of(one.skin(cell))
        errors.append([4 * np.pi * 0.25 - area(mesh), np.pi / 6 - volume(mesh)])
    ratios = np.array(errors[:-1]) / np.array(errors[1:])
    assert ratios == pytest.approx(np.full((2, 2), 4.0), rel=0.35)


@pytest.mark.parametrize("kind", FALLOFFS)
def test_the_field_is_the_sum_over_all_balls(kind):
    found = balls(40, kind)
    points = CHANCE.uniform(-0.9, 0.9, (500, 3)).astype(np.float32)
    expected = brute(found, points)
    assert found.at(points) == pytest.approx(expected, abs=1e-5)
    grid = found.grid(0.07)
    at = grid.places(np.arange(grid.count)).astype(np.float32)
    on_grid = found.threshold - brute(found, at)
    assert found.field(grid).reshape(-1) == pytest.approx(on_grid, abs=1e-5)


@pytest.mark.parametrize("kind", FALLOFFS)
def test_slopes_are_those_of_the_field(kind):
    found, step = balls(20, kind), 1e-3
    points = CHANCE.uniform(-0.5, 0.5, (200, 3))
    _, slopes = found.sloped(points.astype(np.float32))
    for axis in range(3):
        moved = step * np.eye(3)[axis]
        expected = (brute(found, points + moved) - brute(found, points - moved)) / (2 * step)
        assert slopes[:, axis] == pytest.approx(expected, abs=0.02 * float(np.abs(slopes).max()))


def test_the_skin_is_that_of_another_marching_cubes():
    # scikit-image, T. Lewiner's variant: the same surface, cut into other triangles here and there.
    found = balls()
    grid = found.grid(0.03)
    field = found.field(grid)
    points, faces, _, _ = skimage.measure.marching_cubes(field, 0.0, spacing=(0.03,) * 3)
    ours = mesh_of(found.skin(0.03))
    theirs = make_mesh(points, *uniform_faces(faces))
    assert area(ours) == pytest.approx(area(theirs), rel=2e-3)
    assert abs(volume(ours)) == pytest.approx(abs(volume(theirs)), rel=2e-3)
    assert ours.topology.closed


def test_normals_are_those_of_the_field():
    found = balls()
    skin = found.skin(0.02)
    _, slopes = found.sloped(skin.points)
    exact = -slopes / np.linalg.norm(slopes, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", exact, skin.normals).mean() > 0.999


@pytest.mark.parametrize(("cell", "seen"), [(0.5, True), (2.5, False)])
def test_a_voxel_of_half_the_radius_still_shows_a_ball(cell, seen):
    # Derived: among grid points half a radius apart, one is always within the ball.
    for shift in np.linspace(0, cell * 0.1, 5):
        one = Balls(
            np.full((1, 3), shift, np.float32), np.full(1, 0.1, np.float32), np.ones(1, np.float32)
        )
        shown = len(one.skin(cell * 0.1).points) > 0
        assert shown or not seen
    if not seen:
        assert not shown


def test_near_balls_melt_and_far_ones_do_not():
    def parts(apart):
        two = Balls(
            np.array([[0, 0, 0], [apart, 0, 0]], np.float32),
            np.full(2, 0.3, np.float32),
            np.ones(2, np.float32),
        )
        mesh = mesh_of(two.skin(0.03))
        # Two closed surfaces have twice the Euler characteristic of one.
        edges = len(mesh.topology.edges)
        return (len(mesh.points) - edges + mesh.topology.face_count) // 2

    assert parts(0.68) == 1
    assert parts(1.2) == 2


def test_a_negative_ball_eats_into_the_others():
    centres = np.array([[0, 0, 0], [0.4, 0, 0]], np.float32)
    radius = np.full(2, 0.4, np.float32)
    whole = mesh_of(Balls(centres[:1], radius[:1], np.ones(1, np.float32)).skin(0.03))
    bitten = mesh_of(Balls(centres, radius, np.array([1, -1], np.float32)).skin(0.03))
    assert 0.2 * abs(volume(whole)) < abs(volume(bitten)) < 0.9 * abs(volume(whole))


def pressed(height):
    """A sheet over one ball, as another piece."""
    ball = {
        "id": "o",
        "name": "Ball",
        "recipe": [
            {
                "id": "f",
                "step": "soft_balls",
                "values": {
                    "count": "1",
                    "centre_1": [0.1, height, 0.0],
                    "radius_1": 0.5,
                    "shown": "points",
                },
            }
        ],
    }
    sheet = {"width": 2.0, "depth": 2.0, "columns": 80, "rows": 80}
    made = made_of(
        {"step": "sheet", "values": sheet}, {"step": "press", "values": {"piece": "o"}}, other=ball
    )
    return Evaluator().evaluate(made, Request("p")).mesh


def test_a_sheet_pressed_over_a_ball_is_half_a_ball_and_flat():
    # The upper half of x² + y² + z² = r² (a ball alone has its radius).
    mesh = pressed(0.0)
    x, y, z = mesh.points.astype(float).T
    away = (x - 0.1) ** 2 + z**2
    inside, outside = away < 0.48**2, away > 0.5**2 + 1e-3
    assert y[inside] == pytest.approx(np.sqrt(0.25 - away[inside]), abs=2e-3)
    assert (y[outside] == 0).all()
    hit, height = (mesh.get("point", f"mask:{name}") for name in ("hit", "height"))
    assert (hit[inside] == 1).all()
    assert (hit[outside] == 0).all()
    assert height.max() == 1


def test_what_lies_behind_the_sheet_does_not_show():
    assert (pressed(-0.6).points[:, 1] == 0).all()


def test_copies_are_balls_of_their_size():
    steps = [
        {"step": "icosphere", "values": {"radius": 0.1, "halvings": 1}},
        {"step": "row", "values": {"count": 2}},
        {"step": "melt_balls", "values": {"radius": 0.3, "voxel": 0.05}},
    ]
    mesh = Evaluator().evaluate(study(*steps), Request("p")).mesh
    assert mesh.topology.closed
    assert len(mesh.points) > 200


def test_two_threads_and_one_give_the_same_bytes():
    steps = [
        {"step": "icosphere", "values": {"radius": 0.5, "halvings": 3}},
        {"step": "melt_balls", "values": {"radius": 0.1, "voxel": 0.03}},
    ]
    wide, narrow = (
        Evaluator().evaluate(study(*steps), Request("p", shared=s)).mesh for s in (False, True)
    )
    assert np.array_equal(wide.points, narrow.points)
    assert np.array_equal(wide.topology.corners, narrow.topology.corners)
