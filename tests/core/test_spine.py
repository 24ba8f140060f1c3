"""Values that differ by element, and what every deformer keeps, over random settings."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import resolved, volume
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.transforms.axis_frame import axis_frame
from zygomorph.core.values.entries import definitions

DEFORMERS = ("bend", "twist", "taper")
ONE = np.ones(1, np.float32)
unit_numbers = st.floats(-1, 1)


def deform(key: str, mesh: Mesh, weights=ONE, each=None, **values) -> np.ndarray:
    definition = definitions("step")[key]
    found = resolved(definition, **values)
    if each:
        found = Resolved({**found.numbers, **each}, found.discrete_values)
    return definition.apply(mesh, found, weights, Context()).points


@pytest.mark.parametrize(
    ("key", "value"),
    [(k, v) for k, own in (("bend", "angle"), ("twist", "angle"), ("taper", "ratio"))
     for v in (own, "low", "high")],
)  # fmt: skip
def test_each_element_is_deformed_as_if_alone(key, value):
    definition = definitions("step")[key]
    mesh = form("icosphere", halvings=2)
    random = np.random.default_rng(2)
    low, high = definition.values[value].soft
    different = random.uniform(low, high, len(mesh.points))
    together = deform(key, mesh, each={value: different})
    for index in (0, 7, 100, len(mesh.points) - 1):
        alone = deform(key, mesh, **{value: float(different[index])})
        assert np.allclose(together[index], alone[index], atol=2e-5)


@pytest.mark.parametrize("key", DEFORMERS)
def test_a_block_boundary_leaves_no_trace(key):
    # Kernels work on blocks of 1024 points, whose last few are not done by SIMD; the same points
    # in another order differ by rounding at most.
    mesh = form("icosphere", halvings=5)
    order = np.random.default_rng(1).permutation(len(mesh.points))
    shuffled = mesh.moved(np.ascontiguousarray(mesh.points[order]))
    assert np.allclose(deform(key, mesh)[order], deform(key, shuffled), atol=5e-7)


@pytest.mark.parametrize("key", DEFORMERS)
@pytest.mark.parametrize("count", [0, 1, 2, 1023, 1024, 1025, 8 * 1024 + 1])
def test_any_number_of_points_is_deformed(key, count):
    points = np.random.default_rng(3).random((count, 3)).astype(np.float32)
    mesh = Mesh(points, form("icosphere", halvings=0).topology)
    found = deform(key, mesh)
    assert found.shape == (count, 3)
    if count:
        alone = deform(key, mesh.moved(points[-1:].copy()))
        assert np.allclose(found[-1], alone[0], atol=1e-6)


@given(st.lists(unit_numbers, min_size=3, max_size=3), st.floats(-180, 180))
def test_the_axes_of_a_deformer_are_at_right_angles(axis, turn):
    values = resolved(definitions("step")["bend"], axis=axis)
    rows, _ = axis_frame(values, turn)
    assert np.allclose(rows @ rows.T, np.eye(3), atol=1e-5)
    assert np.linalg.det(rows.astype(float)) == pytest.approx(1, abs=1e-5)


@given(
    st.lists(unit_numbers, min_size=3, max_size=3),
    st.floats(-720, 720),
    st.floats(-2, 0),
    st.floats(0.01, 2),
)
def test_a_twist_keeps_heights_and_distances_from_its_axis(axis, angle, low, high):
    mesh = form("icosphere", halvings=2)
    found = deform("twist", mesh, axis=axis, angle=angle, low=low, high=high).astype(float)
    before = mesh.points.astype(float)
    spine = np.array(axis) / np.linalg.norm(axis) if np.linalg.norm(axis) > 1e-12 else [0, 1, 0]
    assert np.allclose(found @ spine, before @ spine, atol=1e-5)
    assert np.allclose(np.linalg.norm(found, axis=1), np.linalg.norm(before, axis=1), atol=1e-5)


@given(st.floats(-170, 170), st.floats(-180, 180))
def test_a_bend_keeps_the_length_of_its_spine(angle, towards):
    heights = np.linspace(-0.5, 0.5, 2001, dtype=np.float32)
    spine = np.zeros((2001, 3), np.float32)
    spine[:, 1] = heights
    mesh = Mesh(spine, form("icosphere", halvings=0).topology)
    bent = deform("bend", mesh, angle=angle, towards=towards).astype(float)
    length = np.linalg.norm(np.diff(bent, axis=0), axis=1).sum()
    assert length == pytest.approx(1.0, abs=2e-4)
    # The tangent has turned by the whole angle from one end to the other.
    first, last = bent[1] - bent[0], bent[-1] - bent[-2]
    cosine = first @ last / np.linalg.norm(first) / np.linalg.norm(last)
    assert np.degrees(np.arccos(np.clip(cosine, -1, 1))) == pytest.approx(abs(angle), abs=0.3)


@given(st.floats(5, 200))
def test_a_full_length_taper_scales_the_volume_by_barrs_integral(ratio):
    # Sections scale linearly from 1 to r, so the volume of a prism scales by (1 + r + r²) / 3.
    mesh = _bar(40)
    tapered = mesh.moved(deform("taper", mesh, ratio=ratio, low=-0.5, high=0.5))
    r = ratio / 100
    assert volume(tapered) / volume(mesh) == pytest.approx((1 + r + r * r) / 3, rel=2e-3)


def _bar(cells: int) -> Mesh:
    """A closed square bar of length 1 along y, with cells along it."""
    from zygomorph.core.geometry.mesh import make_mesh

    ring = np.array([[-0.1, -0.1], [0.1, -0.1], [0.1, 0.1], [-0.1, 0.1]])
    points = [[x, -0.5 + k / cells, z] for k in range(cells + 1) for x, z in ring]
    faces = [[0, 1, 2, 3]]
    for k in range(cells):
        for side in range(4):
            a, b = 4 * k + side, 4 * k + (side + 1) % 4
            faces.append([a, a + 4, b + 4, b])
    top = 4 * cells
    faces.append([top + 3, top + 2, top + 1, top])
    corners = np.array(faces).reshape(-1)
    return make_mesh(np.array(points), corners, np.arange(len(faces) + 1) * 4)


def test_limits_given_the_wrong_way_round_are_put_in_order():
    mesh = form("icosphere", halvings=2)
    assert np.array_equal(
        deform("twist", mesh, low=0.4, high=-0.3), deform("twist", mesh, low=-0.3, high=0.4)
    )


@pytest.mark.parametrize("key", DEFORMERS)
def test_limits_at_one_place_are_a_step_and_stay_finite(key):
    mesh = form("icosphere", halvings=3)
    assert np.isfinite(deform(key, mesh, low=0.1, high=0.1)).all()


@pytest.mark.parametrize("key", DEFORMERS)
def test_half_a_weight_is_half_the_amount(key):
    mesh = form("icosphere", halvings=3)
    half = np.float32([0.5])
    amount = {"bend": ("angle", 80.0, 40.0), "twist": ("angle", 80.0, 40.0)}.get(
        key, ("ratio", 40.0, 70.0)
    )
    name, whole, part = amount
    assert np.allclose(
        deform(key, mesh, weights=half, **{name: whole}),
        deform(key, mesh, **{name: part}),
        atol=1e-5,
    )
