"""Parts of final pictures: lines and points as geometry, surroundings, the way to the screen."""

from __future__ import annotations

import json
import subprocess
import sys

import numpy as np
import pytest

from tests.conftest import study, surface
from tests.render.scenes import looks
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.domes import directions, solid_angles
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.drawn_scene import DomeLamp, Finish, SkyLamp
from zygomorph.core.shared.lighting import irradiance, neutral_tone
from zygomorph.core.values.gradients import to_srgb
from zygomorph.render.final.collect import collect
from zygomorph.render.final.dot_meshes import dot_mesh
from zygomorph.render.final.environment import radiance_around
from zygomorph.render.final.eye import share_of_height
from zygomorph.render.final.finish import bloom_of, on_screen
from zygomorph.render.final.picture import seed_of
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.strokes import DISC_OF_SQUARE
from zygomorph.render.final.things import COLOUR, METAL, OWN, Dots, Optics
from zygomorph.render.final.tubes import along_curves, along_segments

PLAIN = Finish(1.0, 0.0, 0.0, 1.0, 0.5, 0.0, 0.1, 0.0)


def _volume(points: np.ndarray, triangles: np.ndarray) -> float:
    corners = points.astype(np.float64)[triangles]
    return float(
        np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6
    )


def test_a_closed_tube_has_the_volume_that_pappus_gives_it():
    """Area of the section times the way of its middle (Pappus), of a ring whose section is a
    polygon of as many sides: n/2 · sin(2π/n) · r²."""
    count, sides, ring, radius = 400, 24, 1.0, 0.1
    angle = np.arange(count) * 2 * np.pi / count
    points = np.stack([np.cos(angle), np.sin(angle), np.zeros(count)], 1).astype(np.float32) * ring
    topology = Topology(
        count,
        curve_points=np.arange(count, dtype=np.int32),
        curve_starts=np.array([0, count], np.int32),
        curve_closed=np.array([True]),
    )
    made, normals, triangles, source = along_curves(topology, points, np.full(count, radius), sides)
    section = sides / 2 * np.sin(2 * np.pi / sides) * radius**2
    assert _volume(made, triangles) == pytest.approx(section * 2 * np.pi * ring, rel=1e-3)
    away = np.linalg.norm(made - points[source], axis=1)
    assert away == pytest.approx(radius, abs=1e-5)
    # Normals look away from the middle.
    assert ((made - points[source]) * normals).sum(axis=1) == pytest.approx(radius, abs=1e-5)


def test_an_open_tube_ends_where_its_curve_does():
    topology = Topology(
        3,
        curve_points=np.arange(3, dtype=np.int32),
        curve_starts=np.array([0, 3], np.int32),
        curve_closed=np.array([False]),
    )
    points = np.array([[0, 0, 0], [1, 0, 0], [2, 0, 0]], np.float32)
    made, _, triangles, source = along_curves(topology, points, np.array([0.1, 0.2, 0.1]), 8)
    assert len(triangles) == 2 * 8 * 2
    assert made[:, 0].min() == pytest.approx(0)
    assert made[:, 0].max() == pytest.approx(2)
    assert np.linalg.norm(made[source == 1][:, 1:], axis=1) == pytest.approx(0.2, abs=1e-6)


def test_edges_are_tubes_that_stand_alone():
    points = np.array([[0, 0, 0], [0, 1, 0], [0, 0, 0]], np.float32)
    # One of them has no length, and does no harm.
    made, normals, triangles, _ = along_segments(
        points, np.array([[0, 1], [0, 2]]), np.full(3, 0.1), 6
    )
    assert np.isfinite(made).all()
    assert np.isfinite(normals).all()
    assert len(triangles) == 2 * 6 * 2
    assert np.linalg.norm(made[:12][:, [0, 2]], axis=1) == pytest.approx(0.1, abs=1e-6)


def test_squares_face_the_viewer_and_are_as_wide_as_points():
    radius = np.full(1, 0.5 * DISC_OF_SQUARE, np.float32)
    dots = Dots("p", np.zeros((1, 3), np.float32), radius, looks(1), Optics(), 4, np.eye(3))
    points, normals, triangles, source = dot_mesh(dots)
    corners = [(-0.5, -0.5, 0), (-0.5, 0.5, 0), (0.5, -0.5, 0), (0.5, 0.5, 0)]
    assert sorted(map(tuple, points.round(6).tolist())) == corners
    assert (normals == [0, 0, 1]).all()
    a, b, c = points[triangles[0]]
    assert np.cross(b - a, c - a)[2] > 0
    assert source.tolist() == [0, 0]


@pytest.mark.parametrize("sides", [6, 16, 32])
@pytest.mark.parametrize("axes", [None, np.eye(3)])
def test_dots_have_the_area_of_their_outlines(sides, axes):
    """π r² of a disc; of a ball four times as much (A. Cauchy, 1832)."""
    radii = np.array([0.5, 2.0], np.float32)
    dots = Dots("p", np.zeros((2, 3), np.float32), radii, looks(2), Optics(), sides, axes)
    points, normals, triangles, source = dot_mesh(dots)
    a, b, c = np.moveaxis(points.astype(np.float64)[triangles], 1, 0)
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
    found = np.bincount(source, weights=area)
    assert found == pytest.approx((1 if axes is not None else 4) * np.pi * radii**2, rel=1e-5)
    assert np.linalg.norm(normals, axis=1) == pytest.approx(1, abs=1e-6)
    assert (points.reshape(2, -1, 3)[1] == 4 * points.reshape(2, -1, 3)[0]).all()


@pytest.mark.parametrize("up", [[0.0, 1.0, 0.0], [0.6, 0.8, 0.0]])
def test_surroundings_light_surfaces_as_the_sky_does(up):
    """The light that arrives is the integral of the radiance times the cosine."""
    sky = SkyLamp(np.array(up), "#8899ff", "#331100", 1.3)
    around = radiance_around([sky], Images())
    assert around is not None
    rows, columns = around.shape[:2]
    way, weight = directions(rows, columns), solid_angles(rows, columns)[..., None]
    for normal in ([0, 1, 0], [0, -1, 0], [0.8, 0.6, 0], [0, 0, 1]):
        n = np.array(normal, float)
        arrives = (around * weight * np.clip(way @ n, 0, None)[..., None]).sum(axis=(0, 1))
        assert arrives == pytest.approx(irradiance(n, np.zeros(3), [sky]), rel=0.02, abs=1e-5)


def test_a_dome_gives_its_strength_on_the_mean():
    dome = DomeLamp("studio", 2.5, np.eye(3))
    around = radiance_around([dome], Images())
    assert around is not None
    weight = solid_angles(*around.shape[:2])
    mean = ((around @ [0.2126, 0.7152, 0.0722]) * weight).sum() / (4 * np.pi)
    assert np.pi * mean == pytest.approx(2.5, rel=1e-3)


def test_without_skies_nothing_comes_from_around():
    assert radiance_around([], Images()) is None


def test_the_screen_shows_tone_and_opacity_as_the_stage_does():
    light = np.full((2, 3, 3), 0.25, np.float32)
    alpha = np.full((2, 3), 0.5, np.float32)
    shown = on_screen(light, alpha, PLAIN)
    expected = to_srgb(neutral_tone(np.full(3, 0.5))) * 0.5
    assert shown[0, 0, :3] == pytest.approx(expected, abs=1e-6)
    assert shown[..., 3] == pytest.approx(0.5)


def test_a_vignette_darkens_corners_and_not_the_middle():
    light, alpha = np.full((80, 80, 3), 0.3, np.float32), np.ones((80, 80), np.float32)
    shown = on_screen(light, alpha, Finish(1.0, 0.0, 0.0, 1.0, 0.5, 0.0, 0.1, 0.8))
    assert shown[40, 40, 0] == pytest.approx(on_screen(light, alpha, PLAIN)[40, 40, 0], abs=1e-4)
    assert shown[0, 0, 0] < 0.5 * shown[40, 40, 0]


def test_bloom_spreads_what_is_bright_and_nothing_else():
    light = np.zeros((64, 64, 3), np.float32)
    light[30:34, 30:34] = 4.0
    finish = Finish(1.0, 0.0, 0.4, 1.0, 0.5, 0.0, 0.1, 0.0)
    spread = bloom_of(light, finish)
    assert spread[32, 20].min() > 0
    assert spread[32, 32, 0] > spread[32, 20, 0] > spread[32, 4, 0]
    assert bloom_of(light * 0.1, finish).max() == 0


def test_all_of_a_camera_s_frame_is_seen():
    assert share_of_height((1600, 900), 16 / 9) == pytest.approx(1)
    assert share_of_height((900, 900), 16 / 9) == pytest.approx(9 / 16)
    assert share_of_height((1600, 900), 1.0) == 1


def test_frames_have_noise_of_their_own():
    seeds = {seed_of(k / 4) for k in range(4000)}
    assert len(seeds) == 4000
    assert seed_of(30.0) == seed_of(30)


@pytest.mark.parametrize(
    "wrong", [{"samples": 0}, {"bounces": 65}, {"moments": 0}, {"clamp": -1.0}]
)
def test_settings_that_cannot_be_drawn_are_told(wrong):
    with pytest.raises(ZygomorphError):
        FinalSettings(**wrong).check()


def test_a_study_is_collected_with_its_looks_and_places():
    made = study(
        {"step": "box", "values": {"size": [1.0, 1.0, 1.0]}},
        looks=surface(colour="#ff0000", metal=100.0, glow=50.0),
        place={"move": [1.0, 2.0, 3.0]},
    )
    found = collect(made, Evaluator(), 0.0, 90)
    (box,) = found.surfaces
    assert box.points.mean(axis=0) == pytest.approx([1, 2, 3], abs=1e-5)
    assert (box.looks[:, COLOUR] == [1, 0, 0]).all()
    assert (box.looks[:, METAL] == 1).all()
    assert box.looks[:, OWN][:, 0] == pytest.approx(0.5)
    corners = box.points[box.triangles]
    out = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    # Faces and normals look outwards.
    assert ((corners.mean(axis=1) - [1, 2, 3]) * out).sum(axis=1).min() > 0
    assert ((box.points - [1, 2, 3]) * box.normals).sum(axis=1).min() > 0


def test_lines_are_never_thinner_than_can_be_seen():
    made = study({"step": "line"}, looks=surface(size=0.0))
    found = collect(made, Evaluator(), 0.0, 90)
    (tube,) = found.surfaces
    view = found.view
    pixel = 2 * np.tan(np.radians(view.angle) / 2) / 90
    away = (tube.points - view.position) @ -view.axes[:, 2]
    assert len(tube.points) > 0
    spread = np.ptp(tube.points @ view.axes[:, 1])
    assert spread >= pixel * away.min()


PLAIN_PICTURE = """
import json, sys
import numpy as np
from tests.render.scenes import ball, ahead, sheet, things, UP
from zygomorph.core.shared.drawn_scene import SunLamp
from zygomorph.render.final.engine import start
assert start() == "scalar_rgb"
from zygomorph.render.final.plain_tracer import PlainTracer
from zygomorph.render.final.settings import FinalSettings
sun = SunLamp(np.array([0.0, 0.0, 1.0]), "#ffffff", np.pi, True)
scene = things(ball(0.5, (-0.8, 0.4, 0.0), colour=(0.8, 0.2, 0.1)), lamps=(sun,), view=ahead())
found = PlainTracer(scene, FinalSettings((48, 48), 16)).trace(0, 16)
weight = found.alpha / found.alpha.sum()
y, x = np.mgrid[:48, :48] + 0.5
middle = found.light[tuple(int(round(float((a * weight).sum()))) for a in (y, x))]
print(json.dumps([float((x * weight).sum()), float((y * weight).sum()), float(found.alpha.sum()),
                  middle.tolist()]))
"""


def test_without_llvm_the_plain_tracer_draws_the_same_picture_nearly():
    """Where it is, how large it is and how bright it is in the middle, by the view's own geometry."""
    import os

    found = subprocess.run(
        [sys.executable, "-c", PLAIN_PICTURE],
        capture_output=True,
        text=True,
        env={**os.environ, "DRJIT_LIBLLVM_PATH": ""},
        timeout=120,
    )
    assert found.returncode == 0, found.stderr
    x, y, area, middle = json.loads(found.stdout)
    scale = 24 / (5 * np.tan(np.radians(15)))
    assert x == pytest.approx(24 - 0.8 * scale, abs=0.6)
    assert y == pytest.approx(24 - 0.4 * scale, abs=0.6)
    assert area == pytest.approx(np.pi * (0.5 * scale) ** 2, rel=0.06)
    # A white sun of π W/m² straight on: the colour itself, and a little shine.
    assert middle == pytest.approx([0.8, 0.2, 0.1], abs=0.08)


OWN_LIGHT = """
import json
import numpy as np
from tests.render.scenes import ball, looks, sheet, things
from zygomorph.render.final.engine import start
assert start() == "scalar_rgb"
from zygomorph.render.final.plain_tracer import PlainTracer
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.things import Dots, Optics

def middle(*surfaces, dots=()):
    scene = things(*surfaces, dots=dots)
    found = PlainTracer(scene, FinalSettings((32, 32), 64)).trace(0, 64)
    return found.light[14:18, 14:18].mean(axis=(0, 1)).tolist()

glowing = ball(glow=(0.9, 0.5, 0.1))
dot = looks(1, (0.5, 0.3, 0.2))
zero = np.zeros((1, 3), np.float32)
one = np.ones(1, np.float32)
print(json.dumps([
    middle(glowing),
    middle(glowing, sheet(1, level=1.5, opacity=0.5, roughness=1.0)),
    middle(glowing, sheet(1, level=1.5, glass=1.0)),
    middle(dots=(Dots("d", zero, one, dot, Optics(shaded="even"), axes=np.eye(3)),)),
    middle(dots=(Dots("d", zero, one, dot, Optics(shaded="round")),)),
]))
"""


def test_without_llvm_what_shines_and_strokes_have_the_same_light_as_with_it():
    import os

    found = subprocess.run(
        [sys.executable, "-c", OWN_LIGHT],
        capture_output=True,
        text=True,
        env={**os.environ, "DRJIT_LIBLLVM_PATH": ""},
        timeout=120,
    )
    assert found.returncode == 0, found.stderr
    alone, veiled, behind_glass, disc, ball = map(np.array, json.loads(found.stdout))
    glow, colour = np.array([0.9, 0.5, 0.1]), np.array([0.5, 0.3, 0.2])
    assert alone == pytest.approx(glow, rel=1e-3)
    assert veiled == pytest.approx(glow / 2, rel=0.1)
    assert behind_glass == pytest.approx(glow, rel=1e-3)
    assert disc == pytest.approx(colour * (0.42 + 0.72 * 0.905), rel=1e-3)
    # Its middle faces the viewer: see tests/render/test_strokes_of_final.py.
    towards = 0.6 / np.linalg.norm([0.4, 0.7, 0.6])
    assert ball == pytest.approx(colour * (0.42 + 0.72 * towards), rel=0.03)
