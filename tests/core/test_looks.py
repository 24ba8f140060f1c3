"""Colours: transfer curve, OKLab, and gradients."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zygomorph.core.values.gradients import (
    STOPS,
    TABLE_LENGTH,
    colour_in,
    describe_gradients,
    from_oklab,
    gradient_table,
    parse_hex,
    to_linear,
    to_oklab,
    to_srgb,
)


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
    if first == last:
        return  # It goes round, for what goes round.
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


def own(*stops, **more):
    return {"stops": [{"at": at, "colour": colour} for at, colour in stops], **more}


def test_stops_of_ones_own_are_met_in_whatever_order_they_stand():
    table = gradient_table(own((1.0, "#ffffff"), (0.0, "#000000"), (0.5, "#ff0000")))
    assert [bytes(table[k, :3]).hex() for k in (0, -1)] == ["000000", "ffffff"]
    half = (TABLE_LENGTH - 1) // 2
    assert table[half, 0] > 250 > 10 > table[half, 1]


def test_a_held_colour_goes_on_to_the_next_stop():
    table = gradient_table(own((0.0, "#102030"), (0.5, "#f0e0d0"), join="held"))
    assert {bytes(row[:3]).hex() for row in table} == {"102030", "f0e0d0"}
    assert bytes(table[TABLE_LENGTH // 2 - 2, :3]).hex() == "102030"
    assert bytes(table[TABLE_LENGTH // 2 + 1, :3]).hex() == "f0e0d0"


def test_mixed_as_light_the_middle_is_half_the_light():
    """Half of linear light is 0.735 in sRGB (IEC 61966-2-1, computed); half way in OKLab it is
    darker: the cube root's middle has an eighth of the light."""
    middle = (TABLE_LENGTH - 1) / 2
    light = gradient_table(own((0.0, "#000000"), (1.0, "#ffffff"), mix="linear"))
    eye = gradient_table(own((0.0, "#000000"), (1.0, "#ffffff")))
    for table, wanted in ((light, 0.5), (eye, 0.125)):
        found = to_linear(table[[int(middle), int(middle) + 1], 0] / 255.0).mean()
        assert found == pytest.approx(wanted, abs=0.004)


def test_one_stop_colours_everything():
    table = gradient_table(own((0.3, "#336699")))
    assert {bytes(row[:3]).hex() for row in table} == {"336699"}


def test_a_colour_is_read_out_of_a_gradient():
    assert colour_in("ember", 0.0) == STOPS["ember"][0][1]
    assert colour_in("ember", 7.0) == STOPS["ember"][-1][1]
