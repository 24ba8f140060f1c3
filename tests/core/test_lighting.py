"""Light, tone and backdrop of small pictures, against the formulas that they follow."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import camera, document, surface
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.affine import unit
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.core.shared.drawn_scene import (
    AreaLamp,
    Backdrop,
    PointLamp,
    SkyLamp,
    SpotLamp,
    SunLamp,
)
from zygomorph.core.shared.lighting import irradiance, neutral_tone
from zygomorph.core.values.gradients import parse_hex, to_linear
from zygomorph.render.thumbnail import render_frame

UP = np.array([0.0, 1.0, 0.0])
HERE = np.zeros(3)
SUN = SunLamp(UP, "#ffffff", 2.0, False)


@given(st.floats(0, 180))
def test_a_sun_lights_by_the_cosine_of_its_angle(angle):
    """Lambert's law (J. H. Lambert, Photometria, 1760)."""
    normal = np.array([np.sin(np.radians(angle)), np.cos(np.radians(angle)), 0.0])
    wanted = 2 * max(0.0, np.cos(np.radians(angle)))
    assert irradiance(normal, HERE, [SUN]) == pytest.approx([wanted] * 3, abs=1e-9)


def test_a_sky_of_two_halves_is_mixed_by_what_a_surface_sees_of_each():
    """A surface that leans by an angle sees (1 + cos) / 2 of the upper half of a sky: the view
    factor of a tilted plane (B. Y. H. Liu and R. C. Jordan, 1963)."""
    sky = SkyLamp(UP, "#ff0000", "#0000ff", 3.0)
    for angle in (0, 40, 90, 180):
        normal = np.array([np.sin(np.radians(angle)), np.cos(np.radians(angle)), 0.0])
        seen = (1 + np.cos(np.radians(angle))) / 2
        assert irradiance(normal, HERE, [sky]) == pytest.approx(
            [3 * seen, 0, 3 * (1 - seen)], abs=1e-9
        )


def test_lamps_add_up_and_without_them_it_is_dark():
    other = SunLamp(np.array([1.0, 0, 0]), "#00ff00", 1.0, False)
    normal = np.array([0.6, 0.8, 0.0])
    both = irradiance(normal, HERE, [SUN, other])
    assert both == pytest.approx(
        irradiance(normal, HERE, [SUN]) + irradiance(normal, HERE, [other])
    )
    assert (irradiance(normal, HERE, []) == 0).all()


def test_the_tone_curve_keeps_mid_greys_and_never_leaves_its_range():
    grey = np.linspace(0, 50, 5001)[:, None] * np.ones(3)
    shown = neutral_tone(grey)
    assert shown.min() >= 0
    assert shown.max() < 1
    assert (np.diff(shown[:, 0]) > 0).all()
    # Up to where it presses together it is the colour, less the 0.04 that glass reflects.
    kept = (grey[:, 0] > 0.08) & (grey[:, 0] < 0.8)
    assert np.allclose(shown[kept], grey[kept] - 0.04)


def test_what_is_very_bright_loses_its_colour_and_keeps_its_hue():
    dim, bright = neutral_tone(np.array([[0.5, 0.1, 0.1], [50.0, 10.0, 10.0]]))
    assert dim[0] / dim[1] > 4
    assert bright[0] > bright[1] == pytest.approx(bright[2])
    assert bright[1] > 0.8


def test_the_backdrop_is_its_first_colour_in_the_middle_and_its_last_in_the_corner():
    picture = backdrop(Backdrop("round", ((0.0, "#ff8000"), (1.0, "#000000"))), (201, 101))
    assert picture[50, 100] == pytest.approx(parse_hex("#ff8000"), abs=0.01)
    assert picture[0, 0] == pytest.approx([0, 0, 0], abs=0.01)
    # Half way to the corner there is half of it, in sRGB, as CSS has its gradients.
    assert picture[25, 50] == pytest.approx(parse_hex("#ff8000") / 2, abs=0.01)
    # Circles, not ellipses: as far to the right as up, it is the same.
    assert picture[10, 100] == pytest.approx(picture[50, 140], abs=0.01)


def lit(lights, finish=None, **look):
    made = document(
        {"step": "icosphere", "values": {"radius": 0.8}},
        looks=surface(colour="#808080", **look),
    )
    scene = {"finish": finish or {"values": {"exposure": 0.0}}}
    scene |= {"lights": lights, "cameras": camera(position=[0.0, 0.0, 3.0], angle=34)}
    study = check_document(made | scene)
    return np.asarray(render_frame(study, Evaluator(), 0.0, (120, 75)))[37, 60]


def test_a_picture_is_lit_by_the_lights_of_its_study():
    assert (lit([]) == 0).all()
    front = {"towards": [0, 0, 1], "strength": float(np.pi)}
    white = lit(
        [{"id": "a", "name": "A", "light": "sun", "values": {**front, "colour": "#ffffff"}}]
    )
    # A matt surface in light of π W/m² sends back its own colour, less what the tone curve takes.
    wanted = to_linear(parse_hex("#808080")) - 0.04
    assert to_linear(white / 255) == pytest.approx(wanted, abs=0.01)
    red = lit([{"id": "a", "name": "A", "light": "sun", "values": {**front, "colour": "#ff0000"}}])
    assert red[0] > 100 > 20 > red[1]
    behind = {"towards": [0, 0, -1], "strength": 3.0}
    assert lit([{"id": "a", "name": "A", "light": "sun", "values": behind}]).max() < 5


def test_a_point_lamp_gives_a_surface_what_a_ball_around_it_shares_out():
    """P / (4π d²) on what faces it (inverse square law)."""
    lamp = PointLamp(np.array([0.0, 2.0, 0.0]), "#ffffff", 100.0, 0.1, False)
    assert irradiance(UP, HERE, [lamp]) == pytest.approx(100 / (16 * np.pi))
    assert irradiance(-UP, HERE, [lamp]) == pytest.approx(0)
    tilted = unit(np.array([1.0, 1.0, 0.0]))
    assert irradiance(tilted, HERE, [lamp]) == pytest.approx(100 / (16 * np.pi) * np.cos(np.pi / 4))


def test_a_spot_is_a_point_lamp_within_its_cone_and_nothing_outside():
    def spot(angle, edge):
        here = np.array([0.0, 2.0, 0.0])
        return SpotLamp(here, HERE, "#ffffff", 100.0, 0.1, angle, edge, False)

    assert irradiance(UP, HERE, [spot(40.0, 0.0)]) == pytest.approx(100 / (16 * np.pi))
    beside = np.array([2 * np.tan(np.radians(21)), 0.0, 0.0])
    assert irradiance(UP, beside, [spot(40.0, 0.0)]) == pytest.approx(0)
    within = np.array([2 * np.tan(np.radians(10)), 0.0, 0.0])
    full = irradiance(UP, within, [spot(40.0, 0.0)])[0]
    assert 0 < irradiance(UP, within, [spot(40.0, 1.0)])[0] < full


def test_a_large_area_seen_from_afar_is_a_point_with_lamberts_cosine():
    """Radiance L = P / (π A), so that E = L A cos cos / d² = P / (π d²) straight ahead."""
    lamp = AreaLamp(np.array([0.0, 2.0, 0.0]), HERE, 0.5, 0.4, False, "#ffffff", 60.0, False)
    assert lamp.radiance == pytest.approx(60 / (np.pi * 0.2))
    assert irradiance(UP, HERE, [lamp]) == pytest.approx(60 / (4 * np.pi))
    # Behind it there is no light.
    above = np.array([0.0, 4.0, 0.0])
    assert irradiance(-UP, above, [lamp]) == pytest.approx(0)
    disc = AreaLamp(np.zeros(3), UP, 2.0, 2.0, True, "#ffffff", 1.0, False)
    assert disc.area == pytest.approx(np.pi)


def test_a_linear_backdrop_goes_from_side_to_side_by_its_angle():
    stops = ((0.0, "#000000"), (1.0, "#ffffff"))
    right, upwards = (backdrop(Backdrop("linear", stops, angle=a), (101, 51)) for a in (0.0, 90.0))
    assert right[25, 50] == pytest.approx([0.5] * 3, abs=0.01)
    assert right[25, 100, 0] > 0.98
    assert right[25, 0, 0] < 0.02
    assert upwards[0, 50, 0] > 0.98
    assert upwards[50, 50, 0] < 0.02


def test_light_twice_as_strong_and_exposure_of_one_more_are_the_same():
    sun = {
        "id": "a",
        "name": "A",
        "light": "sun",
        "values": {"towards": [0, 0, 1], "strength": 0.6},
    }
    strong = {**sun, "values": {**sun["values"], "strength": 1.2}}
    plain = lit([strong], finish={"values": {"exposure": 0.0}})
    assert lit([sun], finish={"values": {"exposure": 1.0}}) == pytest.approx(plain, abs=1)
