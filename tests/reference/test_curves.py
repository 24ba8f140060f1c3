"""Lines, circles, helices, strands, tilings and tubes against textbook lengths, areas, volumes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import resolved, volume
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.rebuild import rebuilt
from zygomorph.core.geometry.curve_frames import curve_frames
from zygomorph.core.geometry.mesh import Mesh, loose_points, make_curves
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.values.entries import definitions

ONE = np.ones(1, np.float32)


def tube(mesh: Mesh, weights=ONE, **values) -> Mesh:
    definition = definitions("step")["tube"]
    return rebuilt(definition, mesh, resolved(definition, **values), weights, Context())[0]


def length(mesh: Mesh) -> float:
    ends = mesh.points[mesh.topology.curve_segments].astype(float)
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def test_curves_have_their_textbook_lengths():
    assert length(form("line", begin=[0, 0, 0], end=[3, 4, 0])) == pytest.approx(5)
    assert length(form("circle", radius=0.7, count=2000)) == pytest.approx(2 * np.pi * 0.7, 1e-5)
    # A helix unrolls to the diagonal of a rectangle (textbook).
    found = length(form("helix", radius=0.5, end_radius=0.5, height=2.0, turns=3.0, count=4000))
    assert found == pytest.approx(np.hypot(2.0, 3 * 2 * np.pi * 0.5), rel=1e-5)


def test_a_circle_is_closed_and_a_line_is_not():
    circle, line = form("circle", count=5), form("line", count=5)
    assert len(circle.topology.curve_segments) == 5
    assert len(line.topology.curve_segments) == 4
    assert not circle.topology.border.any()
    assert line.topology.border.tolist() == [True, False, False, False, True]


def test_n_strands_are_n_curves():
    # Common practice.
    mesh = form("strands", strands=37, count=11, height=2.0, vary=25.0, radius=0.5)
    assert mesh.topology.curve_count == 37
    assert len(mesh.points) == 37 * 11
    assert len(mesh.topology.curve_segments) == 37 * 10
    tips = mesh.points.reshape(37, 11, 3)[:, -1, 1]
    assert 1.5 <= tips.min() < tips.max() <= 2.0
    feet = mesh.points.reshape(37, 11, 3)[:, 0]
    assert np.all(feet[:, 1] == 0)
    # Evenly over the patch: half of them in half of its area.
    inside = np.hypot(feet[:, 0], feet[:, 2]) < 0.5 * np.sqrt(0.5)
    assert inside.sum() in (18, 19)


def test_a_cloth_of_a_million_points_has_no_gaps():
    mesh = form("cloth", columns=1280, rows=1280, width=2.0, depth=2.0)
    assert len(mesh.points) == 1280 * 1280
    assert mesh.topology.face_count == mesh.topology.curve_count == 0
    # A cloth of m × m points drawn 1/m of its width wide has no gaps (common practice).
    steps = np.diff(np.unique(mesh.points[:, 0]))
    assert steps.max() == pytest.approx(2.0 / 1280, rel=1e-3)


@pytest.mark.parametrize(
    ("kind", "sides", "area"),
    [
        ("hexagon", 6, np.sqrt(3) / 2),
        ("square", 4, 1),
        ("triangle", 3, np.sqrt(3) / 4),
        ("brick", 4, 0.5),
    ],
)
def test_tiles_have_the_area_of_their_polygon_and_leave_no_hole(kind, sides, area):
    shift = 0.0 if kind == "triangle" else 50.0
    mesh = form("tiling", kind=kind, size=0.5, columns=7, rows=6, gap=0.0, shift=shift)
    assert mesh.topology.face_count == 42
    assert mesh.topology.sides == sides
    assert mesh.count("shard") == 42
    rings = mesh.points.reshape(42, sides, 3)[..., [0, 2]].astype(float)
    x, z = rings[..., 0], rings[..., 1]
    # Shoelace formula; below 0, since z points towards the eye: counter-clockwise from above.
    areas = 0.5 * (x * np.roll(z, -1, 1) - np.roll(x, -1, 1) * z).sum(1)
    assert np.allclose(areas, -area * 0.25, rtol=1e-5)
    assert np.allclose(point_normals(mesh), [0, 1, 0], atol=1e-6)
    # Random places in the middle of the sheet lie in exactly one tile.
    low, high = rings.min((0, 1)), rings.max((0, 1))
    middle, span = (low + high) / 2, high - low
    places = middle + (np.random.default_rng(0).random((500, 2)) - 0.5) * span * 0.6
    edge = np.roll(rings, -1, 1) - rings
    to = places[:, None, None] - rings
    inside = np.all(edge[..., 0] * to[..., 1] - edge[..., 1] * to[..., 0] <= 0, axis=2)
    assert np.all(inside.sum(1) == 1)


def test_a_gap_shrinks_tiles_and_keeps_their_centres():
    whole, apart = (form("tiling", kind="square", shift=0.0, gap=g).points for g in (0.0, 20.0))
    centres = [p.reshape(-1, 4, 3).mean(axis=1) for p in (whole, apart)]
    assert np.allclose(*centres, atol=1e-6)
    assert np.ptp(apart.reshape(-1, 4, 3)[0, :, 0]) == pytest.approx(0.2 * 0.8, rel=1e-5)


def test_a_tube_round_a_line_is_a_prism():
    line = form("line", begin=[0, 0, 0], end=[0, 2, 0], count=9)
    for sides in (3, 8, 64):
        skin = tube(line, radius=0.3, sides=sides)
        assert skin.topology.closed
        # Area of a regular polygon of circumradius r: n r² sin(2π/n) / 2 (textbook).
        area = sides / 2 * 0.09 * np.sin(2 * np.pi / sides)
        assert volume(skin) == pytest.approx(2 * area, rel=1e-4)


def test_a_tube_round_a_circle_is_a_torus():
    # Volume 2π² R r² (textbook), Euler characteristic 0.
    skin = tube(form("circle", radius=1.0, count=600), radius=0.2, sides=128)
    topology = skin.topology
    assert topology.closed
    assert len(skin.points) - len(topology.edges) + topology.face_count == 0
    assert volume(skin) == pytest.approx(2 * np.pi**2 * 0.04, rel=1e-3)


def test_a_tapered_tube_is_a_frustum_and_a_mask_makes_it_thinner():
    line = form("line", begin=[0, 0, 0], end=[0, 3, 0], count=200)
    skin = tube(line, radius=0.5, sides=256, taper=60.0)
    # πh/3 (R² + Rr + r²) (textbook).
    assert volume(skin) == pytest.approx(np.pi * (0.25 + 0.1 + 0.04), rel=1e-3)
    half = tube(line, np.full(1, 0.5, np.float32), radius=0.5, sides=64)
    across = np.linalg.norm(half.points[:, [0, 2]], axis=1)
    assert np.allclose(across, 0.25, atol=1e-5)


@given(st.integers(0, 10_000), st.booleans())
def test_frames_are_square_to_the_curve_and_hardly_turn(seed, closed):
    # W. Wang et al. 2008: no turn about the tangent from frame to frame.
    rng = np.random.default_rng(seed)
    phase, waves = rng.uniform(0, 6, 3), rng.integers(1, 4, 3)
    t = np.arange(300) / 300 * 2 * np.pi
    points = np.stack([np.sin(w * t + p) for w, p in zip(waves, phase, strict=True)], axis=1)
    points += 0.3 * np.stack([np.cos(t), np.sin(t), np.cos(2 * t)], axis=1)
    mesh = make_curves([points], [closed])
    along, side = curve_frames(mesh.topology, mesh.points)
    assert np.allclose(np.linalg.norm(along, axis=1), 1)
    assert np.allclose(np.linalg.norm(side, axis=1), 1, atol=1e-6)
    assert np.abs(np.einsum("ij,ij->i", along, side)).max() < 1e-5
    # The turn about the tangent that is left is what closing deals out: the same everywhere.
    turn = np.diff(side, axis=0)
    across = np.cross(along[:-1], side[:-1])
    spin = np.einsum("ij,ij->i", turn, across)
    bending = np.linalg.norm(np.diff(along, axis=0), axis=1)
    gentle = bending < 0.1
    if gentle.sum() > 20:
        assert np.ptp(spin[gentle]) < 0.02


def test_points_that_lie_on_each_other_and_single_points_have_frames_too():
    stuck = make_curves([np.zeros((5, 3)), np.ones((1, 3)), np.eye(3)], [False, False, True])
    skin = tube(stuck, radius=0.1, sides=6)
    assert np.isfinite(skin.points).all()


def test_a_tube_sticks_to_the_rest_shape_of_its_curve():
    line = form("line", count=20)
    moved = line.moved(line.points + np.float32(2))
    skin = tube(moved, radius=0.1, sides=6)
    still = tube(line, radius=0.1, sides=6)
    assert np.allclose(skin.rest, still.points, atol=1e-6)
    assert np.allclose(skin.points, still.points + 2, atol=1e-6)


def test_a_tube_without_curves_says_what_helps():
    for mesh in (form("icosphere"), loose_points(np.zeros((3, 3)))):
        with pytest.raises(ZygomorphError, match="lines, circles"):
            tube(mesh)
