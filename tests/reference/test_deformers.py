"""Bend, twist and taper against A. Barr, "Global and Local Deformations of Solid Primitives",
SIGGRAPH 1984, and against theorems of geometry."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import resolved, volume
from zygomorph.core.animation.context import Context
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.values.entries import definitions

ONE = np.ones(1, np.float32)


def deform(step: str, mesh: Mesh, weights=ONE, **values) -> Mesh:
    definition = definitions("step")[step]
    return definition.apply(mesh, resolved(definition, **values), weights, Context())


def form(key: str, **values) -> Mesh:
    definition = definitions("form")[key]
    return definition.apply(resolved(definition, **values), Context())


@pytest.fixture(scope="module")
def ball() -> Mesh:
    return form("icosphere", radius=0.5, halvings=5)


@given(st.floats(-400, 400), st.floats(-2, 2), st.floats(0.1, 3))
def test_twist_follows_barrs_closed_form(angle, low, length):
    points = np.random.default_rng(0).uniform(-1, 1, (200, 3)).astype(np.float32)
    mesh = Mesh(points, form("sheet", columns=1, rows=1).topology)
    out = deform("twist", mesh, angle=angle, low=low, high=low + length).points
    # Barr 1984, section 3.2: each section turns by an angle that grows along the axis.
    theta = np.radians(angle) * np.clip((points[:, 1] - low) / length, 0, 1)
    c, s = np.cos(theta), np.sin(theta)
    x, z = points[:, 0], points[:, 2]
    turned = np.stack([c * x + s * z, points[:, 1], c * z - s * x], axis=1)
    assert np.allclose(out, turned, atol=3e-5)


def test_twist_keeps_volume(ball):
    # Barr 1984: the determinant of the twist's Jacobian is 1.
    fine = form("icosphere", radius=0.5, halvings=6)
    assert volume(deform("twist", fine, angle=120)) == pytest.approx(volume(fine), rel=2e-3)


def test_twist_turns_normals_by_the_inverse_transpose_jacobian(ball):
    # Barr 1984: normals are carried by the inverse transpose of the Jacobian.
    angle, length = np.radians(60), 1.0
    out = deform("twist", ball, angle=60, low=-0.5, high=0.5)
    p, n = ball.points.astype(float), point_normals(ball).astype(float)
    theta = angle * (p[:, 1] + 0.5) / length
    rate = angle / length
    c, s = np.cos(theta), np.sin(theta)
    x, z = p[:, 0], p[:, 2]
    jacobian = np.zeros((len(p), 3, 3))
    jacobian[:, 0] = np.stack([c, rate * (-s * x + c * z), s], axis=1)
    jacobian[:, 1, 1] = 1
    jacobian[:, 2] = np.stack([-s, rate * (-s * z - c * x), c], axis=1)
    assert np.allclose(np.linalg.det(jacobian), 1.0)
    expected = np.einsum("nij,nj->ni", np.linalg.inv(jacobian).transpose(0, 2, 1), n)
    expected /= np.linalg.norm(expected, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", expected, point_normals(out)).min() > 0.999


@given(st.floats(-300, 300), st.floats(0.2, 2))
def test_bend_follows_barrs_closed_form(angle, half):
    if abs(angle) < 1:
        return
    points = np.random.default_rng(1).uniform(-0.4, 0.4, (200, 3)).astype(np.float32)
    points[:, 1] *= 6
    mesh = Mesh(points, form("sheet", columns=1, rows=1).topology)
    out = deform("bend", mesh, angle=angle, low=-half, high=half).points
    # Barr 1984, section 3.3, with the spine along y, bending towards +x, rate k.
    k = np.radians(angle) / (2 * half)
    x, y = points[:, 0].astype(float), points[:, 1].astype(float)
    inside = np.clip(y, -half, half)
    theta = k * inside
    c, s = np.cos(theta), np.sin(theta)
    beyond = y - inside
    bent_x = c * (x - 1 / k) + 1 / k + s * beyond
    bent_y = -s * (x - 1 / k) + c * beyond
    assert np.allclose(out[:, 0], bent_x, atol=2e-4)
    assert np.allclose(out[:, 1], bent_y, atol=2e-4)
    assert np.array_equal(out[:, 2], points[:, 2])


def test_no_bend_leaves_everything_where_it_is(ball):
    assert np.allclose(deform("bend", ball, angle=0).points, ball.points, atol=1e-6)
    tiny = deform("bend", ball, angle=1e-4).points
    assert np.allclose(tiny, ball.points, atol=1e-5)


def test_a_bent_bar_keeps_its_volume():
    # Pappus's second theorem: area of the section times the path of its centre, which keeps its
    # length because the spine does.
    bar = form("torus", ring_radius=1.0, tube_radius=0.2, around=6, section=96)
    ring = form("icosphere", radius=0.1, halvings=5)
    stretched = ring.moved((ring.points * [1, 8, 1]).astype(np.float32))
    assert volume(bar) > 0
    bent = deform("bend", stretched, angle=150, low=-0.8, high=0.8)
    assert volume(bent) == pytest.approx(volume(stretched), rel=4e-3)


def test_taper_scales_sections_linearly(ball):
    out = deform("taper", ball, ratio=25, low=-0.5, high=0.5).points
    share = np.clip(ball.points[:, 1] + 0.5, 0, 1)
    expected = ball.points * np.stack([1 - 0.75 * share, np.ones_like(share), 1 - 0.75 * share], 1)
    assert np.allclose(out, expected, atol=1e-6)


@pytest.mark.parametrize("step", ["bend", "twist", "taper"])
def test_values_for_each_point_agree_with_one_value(ball, step):
    weights = np.full(len(ball.points), 0.6, np.float32)
    one = deform(step, ball, np.array([0.6], np.float32)).points
    assert np.array_equal(one, deform(step, ball, weights).points)


@pytest.mark.parametrize("step", ["bend", "twist", "taper", "place", "displace"])
def test_where_the_mask_is_zero_nothing_moves(ball, step):
    weights = (ball.points[:, 0] > 0).astype(np.float32)
    out = deform(step, ball, weights).points
    still = weights == 0
    assert np.allclose(out[still], ball.points[still], atol=1e-6)
    assert not np.allclose(out[~still], ball.points[~still], atol=1e-3)


def test_displacing_on_the_rest_shape_then_turning_equals_turning_then_displacing(ball):
    turn = {"turn": [20, 50, -30], "centre": [0, 0, 0]}
    push = {"sampled": "rest", "along": "normal", "amount": 0.1}
    one = deform("place", deform("displace", ball, **push), **turn).points
    other = deform("displace", deform("place", ball, **turn), **push).points
    assert np.allclose(one, other, atol=2e-5)


def test_sampled_in_the_piece_the_order_matters(ball):
    turn = {"turn": [20, 50, -30], "centre": [0, 0, 0]}
    push = {"sampled": "piece", "along": "normal", "amount": 0.1}
    one = deform("place", deform("displace", ball, **push), **turn).points
    other = deform("displace", deform("place", ball, **turn), **push).points
    assert np.abs(one - other).max() > 0.01


def test_the_axis_of_a_deformer_can_point_anywhere(ball):
    # Turning the form and the axis together turns the result.
    upright = deform("twist", ball, angle=90).points
    lying = ball.moved(np.ascontiguousarray(ball.points[:, [1, 2, 0]]))  # y becomes x
    twisted = deform("twist", lying, angle=90, axis=[1, 0, 0]).points
    assert np.allclose(twisted, upright[:, [1, 2, 0]], atol=1e-5)
