"""Light, tone and backdrop of small pictures, against the formulas that they follow."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import camera, document, surface
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.shared.drawn_scene import RoundGradient, SkyLamp, SunLamp
from zygomorph.core.values.gradients import parse_hex, to_linear
from zygomorph.render.lighting import backdrop, irradiance, neutral_tone
from zygomorph.render.thumbnail import render_frame

UP = np.array([0.0, 1.0, 0.0])
SUN = SunLamp(UP, "#ffffff", 2.0, False)


@given(st.floats(0, 180))
def test_a_sun_lights_by_the_cosine_of_its_angle(angle):
    """Lambert's law (J. H. Lambert, Photometria, 1760)."""
    normal = np.array([np.sin(np.radians(angle)), np.cos(np.radians(angle)), 0.0])
    wanted = 2 * max(0.0, np.cos(np.radians(angle)))
    assert irradiance(normal, [SUN]) == pytest.approx([wanted] * 3, abs=1e-9)


def test_a_sky_of_two_halves_is_mixed_by_what_a_surface_sees_of_each():
    """A surface that leans by an angle sees (1 + cos) / 2 of the upper half of a sky: the view
    factor of a tilted plane (B. Y. H. Liu and R. C. Jordan, 1963)."""
    sky = SkyLamp(UP, "#ff0000", "#0000ff", 3.0)
    for angle in (0, 40, 90, 180):
        normal = np.array([np.sin(np.radians(angle)), np.cos(np.radians(angle)), 0.0])
        seen = (1 + np.cos(np.radians(angle))) / 2
        assert irradiance(normal, [sky]) == pytest.approx([3 * seen, 0, 3 * (1 - seen)], abs=1e-9)


def test_lamps_add_up_and_without_them_it_is_dark():
    other = SunLamp(np.array([1.0, 0, 0]), "#00ff00", 1.0, False)
    normal = np.array([0.6, 0.8, 0.0])
    both = irradiance(normal, [SUN, other])
    assert both == pytest.approx(irradiance(normal, [SUN]) + irradiance(normal, [other]))
    assert (irradiance(normal, []) == 0).all()


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
    picture = backdrop(RoundGradient((0.5, 0.5), ((0.0, "#ff8000"), (1.0, "#000000"))), (201, 101))
    assert picture[50, 100] == pytest.approx(parse_hex("#ff8000"), abs=0.01)
    assert picture[0, 0] == pytest.approx([0, 0, 0], abs=0.01)
    # Half way to the corner there is half of it, in sRGB, as CSS has its gradients.
    assert picture[25, 50] == pytest.approx(parse_hex("#ff8000") / 2, abs=0.01)
    # Circles, not ellipses: as far to the right as up, it is the same.
    assert picture[10, 100] == pytest.approx(picture[50, 140], abs=0.01)


def lit(lights, **look):
    made = document(
        {"step": "icosphere", "values": {"radius": 0.8}},
        looks=surface(colour_by="fixed", colour="#808080", **look),
    )
    scene = {"lights": lights, "cameras": camera(position=[0.0, 0.0, 3.0], angle=34)}
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
