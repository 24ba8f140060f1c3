"""Forms over random counts: closed where they should be, facing outwards, within memory."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import resolved, study, volume
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.formats.soup import open_edges
from zygomorph.core.geometry.affine import placement, transformed
from zygomorph.core.geometry.mesh import make_mesh
from zygomorph.core.geometry.normals import face_vector_areas, point_normals
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.kinds import describe_value
from zygomorph.core.values.value import number


def characteristic(mesh) -> int:
    topology = mesh.topology
    return topology.point_count - len(topology.edges) + topology.face_count


@given(
    # Enough sections that a turn of nine sides does not fold the surface over.
    st.integers(40, 60), st.integers(3, 7), st.integers(1, 4), st.integers(-9, 9),
    st.floats(-180, 180),
)  # fmt: skip
def test_a_torus_is_closed_whatever_its_section_does(around, section, cells, winding, turn):
    mesh = form(
        "torus",
        around=around, section=section, cells=cells, winding=winding, turn=turn,
        ring_radius=1.0, tube_radius=0.3,
    )  # fmt: skip
    assert len(mesh.points) == around * section * cells
    assert open_edges(mesh) == 0
    assert characteristic(mesh) == 0
    assert volume(mesh) > 0


def test_cells_lie_on_the_straight_sides_of_the_section():
    plain = form("torus", around=4, section=3, cells=1)
    split = form("torus", around=4, section=3, cells=5)
    assert volume(split) == pytest.approx(volume(plain), rel=1e-5)
    ring = split.points[:15]
    corners = ring[::5]
    assert np.allclose(corners, plain.points[:3], atol=1e-6)
    assert np.allclose(ring[1], corners[0] + 0.2 * (corners[1] - corners[0]), atol=1e-6)


def test_a_wound_section_meets_itself_a_whole_number_of_sides_further_on():
    # Round the ring, no face is longer than its neighbours: there is no torn joint.
    mesh = form("torus", around=60, section=4, winding=3)
    quads = mesh.points[mesh.topology.corners.reshape(-1, 4)]
    along = np.linalg.norm(quads[:, 0] - quads[:, 1], axis=1).reshape(60, 4)
    assert along[-1].max() < 1.5 * along[:-1].max()


@given(st.integers(1, 9), st.integers(1, 9), st.floats(0.1, 5), st.floats(0.1, 5))
def test_a_sheet_has_its_cells_and_its_size(columns, rows, width, depth):
    mesh = form("sheet", columns=columns, rows=rows, width=width, depth=depth)
    assert mesh.topology.face_count == columns * rows
    assert characteristic(mesh) == 1
    areas = np.linalg.norm(face_vector_areas(mesh), axis=1)
    assert areas.sum() / 2 == pytest.approx(width * depth, rel=1e-4)
    assert point_normals(mesh)[:, 1].min() > 0.999


@given(st.integers(0, 4), st.floats(0.1, 3))
def test_an_icosphere_lies_on_its_ball(halvings, radius):
    mesh = form("icosphere", halvings=halvings, radius=radius)
    assert np.allclose(np.linalg.norm(mesh.points, axis=1), radius, rtol=1e-5)
    assert characteristic(mesh) == 2
    assert (np.einsum("ij,ij->i", point_normals(mesh), mesh.points) > 0.9 * radius).all()


def test_triangles_and_polygons_have_the_same_areas():
    ball = form("icosphere", halvings=3)
    # The same faces, with one corner of the first given twice, so that they are not all triangles.
    corners = np.concatenate([ball.topology.corners[:3], ball.topology.corners[2:]])
    starts = ball.topology.face_starts.copy()
    starts[1:] += 1
    other = make_mesh(ball.points, corners, starts)
    assert ball.topology.sides == 3
    assert other.topology.sides == 0
    assert np.allclose(face_vector_areas(ball), face_vector_areas(other), atol=1e-7)
    # At the doubled corner the face counts twice.
    others = np.arange(len(ball.points)) != corners[2]
    assert np.allclose(point_normals(ball)[others], point_normals(other)[others], atol=1e-6)


def test_a_point_without_a_face_looks_up():
    mesh = make_mesh(np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [5, 5, 5]]), [0, 1, 2], [0, 3])
    assert point_normals(mesh).tolist()[3] == [0, 1, 0]
    assert np.allclose(point_normals(mesh)[:3], [0, 0, 1])


def test_a_face_without_area_does_not_spoil_its_points():
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0.5, 0, 0]])
    mesh = make_mesh(points, [0, 1, 2, 0, 3, 1], [0, 3, 6])
    assert np.allclose(point_normals(mesh)[:3], [0, 0, 1])
    assert np.isfinite(point_normals(mesh)).all()


def test_more_points_than_memory_can_hold_are_refused_with_a_way_out():
    within_budget(8_000_000)
    with pytest.raises(ZygomorphError, match="8,000,001") as caught:
        within_budget(8_000_001)
    assert caught.value.hint
    with pytest.raises(ZygomorphError):
        definitions("form")["torus"].apply(
            resolved(definitions("form")["torus"], around=4000, section=4000, cells=200), Context()
        )


angles = st.lists(st.floats(-360, 360), min_size=3, max_size=3)


@given(angles)
def test_a_turn_keeps_lengths_and_handedness(turn):
    matrix = rotation(np.array(turn))
    assert np.allclose(matrix @ matrix.T, np.eye(3), atol=1e-9)
    assert np.linalg.det(matrix) == pytest.approx(1)


@pytest.mark.parametrize(
    ("turn", "of", "becomes"),
    # Right-handed quarter turns: x takes y to z, y takes z to x, z takes x to y.
    [([90, 0, 0], [0, 1, 0], [0, 0, 1]), ([0, 90, 0], [0, 0, 1], [1, 0, 0]),
     ([0, 0, 90], [1, 0, 0], [0, 1, 0]), ([90, 90, 0], [0, 1, 0], [1, 0, 0])],
)  # fmt: skip
def test_turns_are_right_handed_and_go_x_y_z(turn, of, becomes):
    assert np.allclose(rotation(np.array(turn)) @ of, becomes, atol=1e-12)


def test_a_place_scales_then_turns_then_moves():
    matrix = placement(np.array([10, 0, 0]), np.array([0, 0, 90]), np.array([2, 1, 1]))
    assert np.allclose(transformed(np.array([[1, 0, 0]], np.float32), matrix), [[10, 2, 0]])
    values = {"move": [10, 0, 0], "turn": [0, 0, 90], "scale": [2, 1, 1]}
    placed = plan_piece(study({"step": "box"}, place=values), "p").place_at(np.zeros(1))
    assert np.allclose(placed, matrix)


def test_many_places_are_each_by_itself():
    random = np.random.default_rng(2)
    moves, turns, scales = random.uniform(-90, 90, (3, 5, 3))
    found = placement(moves, turns, scales)
    one_by_one = [placement(*three) for three in zip(moves, turns, scales, strict=True)]
    assert np.allclose(found, one_by_one)


def test_a_value_describes_itself_for_the_interface():
    described = describe_value(number(0.5, "Amount", "How much.", "m", (0.0, 2.0), scale="log"))
    assert described["moves"] is True
    assert (described["unit"], described["soft"], described["scale"]) == ("m", (0.0, 2.0), "log")
