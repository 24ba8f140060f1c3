"""Lines and loose points in final pictures: as large, as opaque and as bright as on the stage.

The numbers of their light are those of the stage's shader, which a test of the interface compares
with what it draws (tests/web/test_final_and_stage.py).
"""

from __future__ import annotations

import numpy as np
import pytest

from tests.render.scenes import ahead, looks, things, traced
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.drawn_scene import SunLamp
from zygomorph.render.final.strokes import Shaded
from zygomorph.render.final.things import Dots, Optics, Surface
from zygomorph.render.final.tubes import along_curves

COLOUR = (0.5, 0.3, 0.2)
SIDE, DISTANCE, ANGLE = 96, 5.0, 30.0


def dots(centres: np.ndarray, radius: float, shaded: Shaded = "even", **look: float) -> Dots:
    count = len(centres)
    radii = np.full(count, radius, np.float32)
    own = looks(count, COLOUR, **look)
    axes = np.eye(3) if shaded == "even" else None
    return Dots("dots", centres.astype(np.float32), radii, own, Optics(shaded=shaded), axes=axes)


def pixel() -> float:
    """Metres that a pixel is wide at the distance."""
    return DISTANCE * 2 * np.tan(np.radians(ANGLE / 2)) / SIDE


@pytest.mark.parametrize("shaded", ["even", "round"])
@pytest.mark.parametrize("radius", [0.3, 0.7, 2.0])
def test_dots_of_any_size_cover_the_area_of_their_outlines(radius, shaded):
    """Radii in pixels: what measures a thousandth of its distance must not be missed."""
    steps = (np.arange(12) - 5.5) * 6 * pixel()
    x, y = np.meshgrid(steps, steps)
    centres = np.stack([x.ravel(), y.ravel(), np.zeros(144)], axis=1)
    found = traced(
        things(dots=(dots(centres, radius * pixel(), shaded),), view=ahead()), 64, side=SIDE
    )
    assert found.alpha.sum() == pytest.approx(144 * np.pi * radius**2, rel=0.03)


@pytest.mark.parametrize("shaded", ["even", "round"])
def test_a_dot_is_one_layer(shaded):
    """Not two, for its near and its far side."""
    found = traced(things(dots=(dots(np.zeros((1, 3)), 1.0, shaded, opacity=0.4),)), 256)
    assert found.alpha[22:26, 22:26].mean() == pytest.approx(0.4, abs=0.02)


def test_a_line_is_one_layer():
    topology = Topology(
        2,
        curve_points=np.array([0, 1], np.int32),
        curve_starts=np.array([0, 2], np.int32),
        curve_closed=np.array([False]),
    )
    ends = np.array([[-3, 0, 0], [3, 0, 0]], np.float32)
    points, normals, triangles, source = along_curves(topology, ends, np.full(2, 0.5), 12)
    look = looks(2, COLOUR, opacity=0.4)[source]
    line = Surface("line", points, normals, triangles, look, Optics(shaded="round"))
    found = traced(things(line), 256)
    assert found.alpha[23:25].mean() == pytest.approx(0.4, abs=0.02)


@pytest.mark.parametrize("lamps", [(), (SunLamp(np.array([0, 1.0, 0]), "#ffffff", 9.0, True),)])
def test_strokes_have_the_light_beside_the_viewer_whatever_the_lamps(lamps):
    even = traced(things(dots=(dots(np.zeros((1, 3)), 1.0),), lamps=lamps), 16)
    lit = 0.42 + 0.72 * 0.905
    assert even.light[10:38, 20:28].mean(axis=(0, 1)) == pytest.approx(
        np.array(COLOUR) * lit, rel=1e-3
    )
    round_ = traced(things(dots=(dots(np.zeros((1, 3)), 1.0, "round"),), lamps=lamps), 64)
    # In its middle a ball faces the viewer, 0.6 of whose way the light comes from.
    ahead_ = 0.42 + 0.72 * 0.6 / np.linalg.norm([0.4, 0.7, 0.6])
    middle = round_.light[23:25, 23:25].mean(axis=(0, 1))
    assert middle == pytest.approx(np.array(COLOUR) * ahead_, rel=0.01)
    # It is brightest to the upper right, and below on the left it is in shade.
    brightest = np.unravel_index(round_.light[..., 0].argmax(), (48, 48))
    assert brightest[0] < 20
    assert brightest[1] > 25
    shade = round_.light[..., 0][round_.alpha > 0.99].min()
    assert shade == pytest.approx(COLOUR[0] * 0.42, rel=0.01)
