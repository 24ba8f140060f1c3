"""Solid layers, bands and angles: where they are full, half and nothing."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_masks import cloud, layer, weigh
from zygomorph.core.kernels.rotation import rotation

LINEAR = {"profile": "linear"}
CLOUD = np.random.default_rng(4).uniform(-2, 2, (400, 3))


def at(key, places, **values):
    return weigh(cloud(places), layer(key, LINEAR, **values))


def test_a_box_falls_off_from_its_sides_inwards():
    places = [[0, 0, 0], [0.75, 0, 0], [0, 0.99, 0], [0, 0, 1.1], [0.75, 0.9, 0]]
    found = at("box", places, size=[2, 2, 2], softness=50.0)
    assert np.allclose(found, [1, 0.5, 0.02, 0, 0.2], atol=1e-5)


@given(st.tuples(*[st.floats(-180, 180)] * 3))
def test_a_turned_box_is_the_box_turned(turn):
    inside = at("box", CLOUD, size=[1.0, 2.0, 3.0])
    turned = at("box", CLOUD @ rotation(np.array(turn)).T, size=[1.0, 2.0, 3.0], turn=list(turn))
    assert np.allclose(inside, turned, atol=2e-4)


def test_a_cylinder_has_a_radius_and_ends():
    places = [[0, 0, 0], [0, 0, 0.9], [0, 1.9, 0], [0, 2.1, 0], [1.1, 0, 0]]
    found = at("cylinder", places, radius=1.0, height=4.0, softness=20.0)
    assert np.allclose(found, [1, 0.5, 0.25, 0, 0], atol=1e-5)


def test_a_ring_is_full_on_its_circle():
    places = [[1, 0, 0], [0, 0, -1], [0, 0, 0], [1.1, 0, 0], [1, 0.05, 0], [1.3, 0, 0]]
    found = at("ring", places, radius=1.0, thickness=0.4, softness=100.0)
    assert np.allclose(found, [1, 1, 0, 0.5, 0.75, 0], atol=1e-5)


@pytest.mark.parametrize("key", ["cylinder", "ring"])
def test_about_its_axis_nothing_changes(key):
    turned = CLOUD @ rotation(np.array([0.0, 77.0, 0.0])).T
    assert np.allclose(at(key, CLOUD), at(key, turned), atol=1e-4)


@pytest.mark.parametrize("lies", ["along", "from_centre", "from_axis"])
def test_bands_repeat_after_their_spacing(lies):
    way = np.array([0.0, 1.0, 0.0]) if lies == "along" else np.array([1.0, 0.0, 0.0])
    steps = np.linspace(0.3, 0.5, 40)[:, None] * way
    values = {"lies": lies, "spacing": 0.2, "axis": [0, 1, 0]}
    found = at("bands", steps, **values)
    assert np.allclose(found, at("bands", steps + 0.2 * way, **values), atol=1e-4)
    assert found.max() - found.min() > 0.9


def test_spokes_stand_evenly_about_the_axis():
    turns = np.radians(np.arange(360))
    circle = np.stack([np.cos(turns), 0 * turns, np.sin(turns)], axis=1)
    found = at("bands", circle, lies="turn", spokes=5)
    strongest = np.abs(np.fft.rfft(found - found.mean()))
    assert int(strongest.argmax()) == 5


@given(st.floats(5, 95))
def test_a_share_of_the_way_lies_in_hard_bands(share):
    places = np.linspace(0, 10, 20_000)[:, None] * [0, 1, 0]
    found = at("bands", places, spacing=0.5, share=share, hardness=100.0)
    assert (found >= 0.5).mean() == pytest.approx(share / 100, abs=0.01)


@given(st.floats(0, 1), st.floats(0, 1))
def test_one_cycle_of_travel_closes(travel, distortion):
    values = {"spacing": 0.3, "distortion": 100 * distortion}
    here = at("bands", CLOUD, travel=travel, **values)
    assert np.allclose(here, at("bands", CLOUD, travel=travel + 1, **values), atol=2e-4)


def test_bands_that_travel_go_along_their_axis():
    # After half a cycle each band stands where the gap was.
    places = [[0, 0.1, 0], [0, 0.2, 0]]
    values = {"spacing": 0.2, "hardness": 50.0}
    assert at("bands", places, **values)[0] > 0.99 > 0.01 > at("bands", places, **values)[1]
    assert np.allclose(at("bands", places, travel=0.5, **values), [0, 1], atol=1e-5)


def round_about(degrees):
    """On a circle about y, counted as deformers count."""
    a = np.radians(degrees)
    return np.stack([np.cos(a), np.zeros_like(a), -np.sin(a)], axis=1)


def test_a_sector_is_as_wide_as_it_says():
    found = at("angle", round_about(np.array([0.0, 29, 45, 59, 61, 90])), open=120.0, edge=0.5)
    assert np.allclose(found, [1, 1, 1, 1, 0, 0], atol=1e-5)


@pytest.mark.parametrize(("opened", "weight"), [(0.0, 0.0), (360.0, 1.0)])
def test_a_sector_is_nothing_when_shut_and_all_when_open(opened, weight):
    found = at("angle", round_about(np.arange(0.0, 360, 7)), open=opened, edge=40.0)
    assert np.allclose(found, weight, atol=1e-5)


def test_a_sector_turns_with_where_it_begins():
    here = at("angle", round_about(np.arange(0.0, 360)), **{"from": 0.0})
    there = at("angle", round_about(np.arange(0.0, 360)), **{"from": 90.0})
    assert np.allclose(np.roll(here, 90), there, atol=1e-4)


def test_once_round_rises_evenly():
    found = at("angle", round_about(np.array([1.0, 90, 180, 270, 359])), way="once")
    assert np.allclose(found, np.array([1, 90, 180, 270, 359]) / 360, atol=1e-5)
