"""Colours: transfer curve, OKLab, gradients, and the value that a look colours."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import resolved, study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.library.looks.surface import DEFINITION, suggest
from zygomorph.core.values.gradients import (
    STOPS,
    TABLE_LENGTH,
    describe_gradients,
    from_oklab,
    gradient_table,
    parse_hex,
    to_linear,
    to_oklab,
    to_srgb,
)

BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 0.5}}


@pytest.mark.parametrize(
    ("srgb", "linear"),
    # IEC 61966-2-1: linear below 0.04045, a power of 2.4 above (computed from its formula).
    [(0.0, 0.0), (0.04045, 0.0031308), (0.5, 0.2140411), (1.0, 1.0)],
)
def test_srgb_has_the_transfer_curve_of_its_standard(srgb, linear):
    assert to_linear(np.array(srgb)) == pytest.approx(linear, abs=1e-6)
    assert to_srgb(np.array(linear)) == pytest.approx(srgb, abs=1e-4)


@given(st.floats(0, 1))
def test_the_transfer_curve_is_undone_by_its_inverse(value):
    assert to_srgb(to_linear(np.array(value))) == pytest.approx(value, abs=1e-6)


@pytest.mark.parametrize(
    ("colour", "lab"),
    # B. Ottosson's article gives white as (1, 0, 0); red from the same matrices (from memory).
    [("#ffffff", (1.0, 0.0, 0.0)), ("#000000", (0, 0, 0)), ("#ff0000", (0.628, 0.2249, 0.1258))],
)
def test_oklab_of_known_colours(colour, lab):
    assert np.allclose(to_oklab(parse_hex(colour)), lab, atol=2e-3)


@given(st.lists(st.floats(0, 1), min_size=3, max_size=3))
def test_oklab_is_undone_by_its_inverse(colour):
    assert np.allclose(from_oklab(to_oklab(np.array(colour))), colour, atol=2e-4)


@pytest.mark.parametrize("name", sorted(STOPS))
def test_a_gradient_meets_its_stops_and_becomes_lighter(name):
    table = gradient_table(name)
    assert table.shape == (TABLE_LENGTH, 4)
    assert (table[:, 3] == 255).all()
    first, last = STOPS[name][0][1], STOPS[name][-1][1]
    assert bytes(table[0, :3]).hex() == first[1:]
    assert bytes(table[-1, :3]).hex() == last[1:]
    lightness = to_oklab(table[:, :3] / 255.0)[:, 0]
    # Bundled gradients read from dark to light, so that form stays visible without hue.
    assert (np.diff(lightness) > -0.004).all()
    assert lightness[-1] - lightness[0] > 0.5


def test_neighbouring_colours_of_a_gradient_cannot_be_told_apart():
    for name in STOPS:
        lab = to_oklab(gradient_table(name)[:, :3] / 255.0)
        assert np.linalg.norm(np.diff(lab, axis=0), axis=1).max() < 0.03, name


def test_the_catalogue_shows_each_gradient_from_end_to_end():
    for entry in describe_gradients():
        assert entry["colours"][0] == STOPS[entry["key"]][0][1]
        assert entry["colours"][-1] == STOPS[entry["key"]][-1][1]


def mesh_of(*steps):
    return Evaluator().evaluate(study(*steps), Request("p")).mesh


def colours(mesh, **values):
    return DEFINITION.apply(mesh, resolved(DEFINITION, **values)).colouring


def test_height_is_the_points_y():
    mesh = mesh_of(BALL)
    found = colours(mesh, colour_by="height", low=-1.0, high=1.0)
    assert np.array_equal(found.values, mesh.points[:, 1])
    assert (found.low, found.high) == (-1.0, 1.0)


def test_displacement_is_the_distance_from_the_rest_shape():
    up = {"step": "place", "values": {"move": [0, 0.3, 0.4], "turn": [0, 0, 0]}}
    found = colours(mesh_of(BALL, up), colour_by="displacement")
    assert np.allclose(found.values, 0.5, atol=1e-6)


def test_one_colour_has_no_values():
    assert colours(mesh_of(BALL), colour_by="fixed").values is None


def test_the_suggested_range_holds_the_shape():
    assert suggest(mesh_of(BALL)) == {"low": -0.5, "high": 0.5}
    level = mesh_of({"step": "sheet", "values": {"columns": 2, "rows": 2}})
    assert suggest(level) == {"low": -0.25, "high": 0.25}
