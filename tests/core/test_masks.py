"""Layers, profiles and blends: what a mask weighs, and what it leaves alone."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import resolved, study
from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import make_mesh
from zygomorph.core.kernels.masks.blend import BLENDS, PROFILES
from zygomorph.core.masking.blending import ONE, ResolvedLayer, blend, weights
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.layer_values import LAYER_VALUES

COURSE = np.linspace(-0.5, 1.5, 401, dtype=np.float32)
INSIDE = np.clip(COURSE, 0, 1).astype(np.float64)


def cloud(points):
    """Loose points at chosen places."""
    return make_mesh(np.array(points, np.float32), np.zeros(0), np.zeros(1))


def along_x(*places):
    return cloud([[x, 0, 0] for x in places])


def layer(key, common=None, **values) -> ResolvedLayer:
    definition = definitions("layer")[key]
    from zygomorph.core.animation.resolve import resolve
    from zygomorph.core.document.loop import Loop

    return ResolvedLayer(
        definition,
        resolved(definition, **values),
        resolve(LAYER_VALUES, common or {}, np.zeros(1), Loop()),
    )


def weigh(mesh, *layers, context=None):
    return weights(mesh, layers, context or Context())


@pytest.mark.parametrize(
    ("profile", "formula"),
    [
        ("linear", lambda t: t),
        # Hermite's cubic and Perlin's quintic (K. Perlin, "Improving Noise", SIGGRAPH 2002).
        ("smooth", lambda t: 3 * t**2 - 2 * t**3),
        ("smoother", lambda t: 6 * t**5 - 15 * t**4 + 10 * t**3),
        ("power", lambda t: t**2),
        ("hard", lambda t: (t >= 0.5).astype(float)),
    ],
)
def test_profiles_follow_their_formulas(profile, formula):
    assert np.allclose(blend(ONE, COURSE, profile=profile), formula(INSIDE), atol=2e-6)


@pytest.mark.parametrize("profile", ["smooth", "smoother"])
def test_smooth_profiles_arrive_level(profile):
    near = np.array([0, 1e-3, 1 - 1e-3, 1], np.float32)
    found = blend(ONE, near, profile=profile).astype(float)
    assert abs(found[1] - found[0]) < 1e-5
    assert abs(found[3] - found[2]) < 1e-5


@pytest.mark.parametrize("profile", PROFILES)
def test_every_profile_goes_from_nothing_to_all_and_never_back(profile):
    found = blend(ONE, COURSE, profile=profile)
    assert found[0] == 0
    assert found[-1] == 1
    assert (np.diff(found) >= -1e-6).all()


def test_a_power_may_differ_by_element():
    course = np.full(3, 0.5, np.float32)
    found = blend(ONE, course, profile="power", power=np.array([1, 2, 3], np.float32))
    assert np.allclose(found, [0.5, 0.25, 0.125], atol=1e-6)


def test_inverting_turns_the_weight_over():
    plain = blend(ONE, COURSE, profile="smooth")
    assert np.allclose(blend(ONE, COURSE, profile="smooth", invert=True), 1 - plain, atol=1e-6)


@pytest.mark.parametrize(
    ("mode", "expected"),
    [
        ("replace", 0.6),
        ("multiply", 0.3 * 0.6),
        ("add", 0.9),
        ("subtract", 0.0),
        ("lighten", 0.6),
        ("darken", 0.3),
    ],
)
def test_blends_are_what_they_say(mode, expected):
    below, above = np.full(5, 0.3, np.float32), np.full(5, 0.6, np.float32)
    assert np.allclose(blend(below, above, mode=mode), expected, atol=1e-6)


@given(
    st.sampled_from(BLENDS),
    st.sampled_from(PROFILES),
    st.booleans(),
    st.floats(0, 1, width=32),
    st.floats(-2, 3, width=32),
    st.floats(0, 1, width=32),
)
def test_a_weight_stays_between_0_and_1(mode, profile, invert, below, course, strength):
    found = blend(
        np.array([below], np.float32),
        np.array([course], np.float32),
        profile=profile,
        invert=invert,
        mode=mode,
        strength=np.array([strength], np.float32),
    )
    assert 0 <= found[0] <= 1


@given(st.sampled_from(BLENDS), st.floats(0, 1, width=32), st.floats(0, 1, width=32))
def test_without_strength_a_layer_changes_nothing(mode, below, course):
    found = blend(
        np.array([below], np.float32),
        np.array([course], np.float32),
        mode=mode,
        strength=np.zeros(1, np.float32),
    )
    assert found[0] == pytest.approx(below, abs=1e-7)


@given(st.sampled_from(BLENDS), st.floats(0, 1, width=32))
def test_strength_mixes_evenly_between_below_and_blended(mode, strength):
    below, above = np.float32([0.2, 0.9]), np.float32([0.7, 0.4])
    whole = blend(below, above, mode=mode)
    part = blend(below, above, mode=mode, strength=np.array([strength], np.float32))
    assert np.allclose(part, below + strength * (whole - below), atol=1e-6)


def test_one_value_and_the_same_value_at_each_element_agree():
    course = np.random.default_rng(1).random(5000).astype(np.float32)
    one = blend(np.float32([0.4]), course, mode="multiply", strength=np.float32([0.5]))
    each = blend(
        np.full(5000, 0.4, np.float32),
        course,
        mode="multiply",
        strength=np.full(5000, 0.5, np.float32),
    )
    assert np.array_equal(one, each)


def test_no_layer_lets_everything_through():
    assert weigh(along_x(0, 1)).tolist() == [1.0]


def test_a_front_is_half_at_its_position_and_as_wide_as_it_says():
    mesh = along_x(-1.0, 0.1, 0.35, 0.6, 3.0)
    front = layer(
        "linear", {"profile": "linear"}, position=[0.35, 5, 5], direction=[2, 0, 0], width=0.5
    )
    assert np.allclose(weigh(mesh, front), [0, 0, 0.5, 1, 1], atol=1e-6)


def test_a_front_of_no_width_is_a_step():
    mesh = along_x(-0.001, 0.001)
    front = layer("linear", {"profile": "linear"}, direction=[1, 0, 0], width=0.0)
    assert weigh(mesh, front).tolist() == [0.0, 1.0]


def test_a_front_without_direction_looks_up():
    mesh = cloud([[0, -1, 0], [0, 1, 0]])
    assert weigh(mesh, layer("linear", direction=[0, 0, 0], width=0.1)).tolist() == [0.0, 1.0]


def test_a_ball_is_1_inside_its_shell_and_0_beyond_its_radius():
    mesh = along_x(0.0, 0.5, 0.75, 1.0, 1.5)
    ball = layer("ball", {"profile": "linear"}, radius=1.0, softness=50.0)
    assert np.allclose(weigh(mesh, ball), [1, 1, 0.5, 0, 0], atol=1e-6)


def test_a_ball_is_round():
    random = np.random.default_rng(3).normal(size=(500, 3))
    on_shell = random / np.linalg.norm(random, axis=1, keepdims=True) * 0.8
    ball = layer("ball", {"profile": "linear"}, radius=1.0, softness=100.0)
    assert np.allclose(weigh(cloud(on_shell), ball), 0.2, atol=1e-5)


def test_a_balls_radius_may_differ_by_element():
    definition = definitions("layer")["ball"]
    values = resolved(definition, softness=100.0)
    values = Resolved({**values.numbers, "radius": np.array([1.0, 2.0])}, values.discrete_values)
    found = definition.apply(along_x(0.5, 0.5), values, Context())
    assert np.allclose(found, [0.5, 0.75], atol=1e-6)


def test_a_layer_in_space_sees_the_place_of_the_piece():
    moved = np.eye(4)
    moved[0, 3] = 10.0
    mesh = along_x(0.0)
    values = {"position": [10.0, 0, 0], "direction": [1.0, 0, 0], "width": 1.0}
    in_space = layer("linear", {"profile": "linear"}, measured="space", **values)
    in_piece = layer("linear", {"profile": "linear"}, measured="piece", **values)
    assert weigh(mesh, in_space, context=Context(place=moved)) == pytest.approx(0.5)
    assert weigh(mesh, in_piece, context=Context(place=moved)) == pytest.approx(0.0)


def test_a_layer_on_the_rest_shape_does_not_see_what_has_moved():
    mesh = along_x(0.0, 1.0).moved(np.array([[9, 0, 0], [9, 0, 0]], np.float32))
    front = layer("linear", measured="rest", position=[0.5, 0, 0], direction=[1, 0, 0], width=0.1)
    assert weigh(mesh, front).tolist() == [0.0, 1.0]


def test_noise_patches_use_their_whole_range_and_are_even_between():
    points = np.random.default_rng(5).random((20_000, 3)) * 20
    patches = weigh(cloud(points), layer("noise", {"profile": "linear"}, size=0.5))
    assert patches.min() < 0.05
    assert patches.max() > 0.95
    assert patches.mean() == pytest.approx(0.5, abs=0.02)


def test_layers_blend_in_their_order():
    mesh = along_x(0.0)
    half = layer("linear", {"profile": "linear", "strength": 100.0}, direction=[1, 0, 0])
    doubled = layer("linear", {"profile": "linear", "blend": "add"}, direction=[1, 0, 0])
    removed = layer("linear", {"profile": "linear", "blend": "subtract"}, direction=[1, 0, 0])
    assert weigh(mesh, half, doubled) == pytest.approx(1.0)
    assert weigh(mesh, half, doubled, removed) == pytest.approx(0.5)
    assert weigh(mesh, half, removed, doubled) == pytest.approx(0.5)


def test_the_first_layer_replaces_whatever_its_blend():
    mesh = along_x(0.0)
    for mode in BLENDS:
        only = layer("linear", {"profile": "linear", "blend": mode}, direction=[1, 0, 0])
        assert weigh(mesh, only) == pytest.approx(0.5)


PUSH = {"step": "displace", "values": {"amount": 0.5, "along": "axis", "brightness": 1.0}}
BALL = {"step": "icosphere", "values": {"halvings": 4, "radius": 1.0}}


def pushed(*layers, frame=0.0, **where):
    step = {**PUSH, "where": {"layers": list(layers), **where}}
    return Evaluator().evaluate(study(BALL, step), Request("p", frame, mask_of="s1"))


def test_where_a_front_has_not_come_nothing_is_changed():
    # Derived: outside a mask the displacement is exactly zero.
    front = {"id": "f", "layer": "linear", "values": {"position": [0, 0.2, 0], "width": 0.2}}
    base = Evaluator().evaluate(study(BALL), Request("p")).mesh.points
    found = pushed(front)
    before = base[:, 1] < 0.1 - 1e-6
    assert np.array_equal(found.mesh.points[before], base[before])
    assert not np.allclose(found.mesh.points[~before], base[~before])


def test_the_mask_of_a_step_is_told_with_its_frame():
    front = {"id": "f", "layer": "linear", "profile": "hard", "values": {"position": [0, 0, 0]}}
    found = pushed(front)
    assert found.weights is not None
    assert set(np.unique(found.weights)) == {0.0, 1.0}
    assert pushed().weights.tolist() == [1.0]


def test_a_layer_that_is_off_takes_no_part():
    front = {"id": "f", "layer": "linear", "on": False, "values": {"position": [0, 9, 0]}}
    assert pushed(front).weights.tolist() == [1.0]


def test_a_front_that_moves_sweeps_over_the_piece():
    height = {"signal": "keys", "keys": [{"frame": 0, "value": -2}, {"frame": 10, "value": 2}]}
    front = {
        "id": "f",
        "layer": "linear",
        "values": {"position": [0, height, 0], "width": 0.1},
    }
    shares = [float(np.mean(pushed(front, frame=f).weights)) for f in (0, 4, 5, 6, 10)]
    assert shares[0] == 1.0
    assert shares[-1] == 0.0
    assert shares == sorted(shares, reverse=True)
    assert shares[2] == pytest.approx(0.5, abs=0.05)
