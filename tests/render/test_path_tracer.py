"""Final pictures hold against what physics says of simple scenes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.render.scenes import (
    UP,
    WHITE_SKY,
    ahead,
    ball,
    looks,
    need_llvm,
    sheet,
    things,
    traced,
)
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.drawn_scene import (
    AreaLamp,
    Backdrop,
    Ground,
    PointLamp,
    SkyLamp,
    SpotLamp,
    SunLamp,
)
from zygomorph.core.shared.lens import circle_of_confusion
from zygomorph.core.shared.lighting import irradiance
from zygomorph.render.final.things import COLOUR, Dots, Floor, Optics

MIDDLE = (slice(20, 28), slice(20, 28))


def _down(strength: float = np.pi, shadow: bool = True) -> SunLamp:
    return SunLamp(UP, "#ffffff", strength, shadow)


def _floor_view(height: float = 5.0) -> View:
    """Straight down on the origin."""
    return View(
        np.array([0.0, height, 0.0]),
        np.zeros(3),
        up=np.array([0.0, 0.0, -1.0]),
        aspect=1.0,
        angle=10.0,
    )


@pytest.mark.parametrize(
    "look",
    [
        {"roughness": 1.0},
        {"roughness": 0.3},
        {"roughness": 1.0, "metal": 1.0},
        {"roughness": 0.2, "metal": 1.0},
    ],
)
def test_a_white_ball_vanishes_in_white_surroundings(look: dict[str, float]) -> None:
    """Furnace test: what sends back all light is as bright as what is around it (E. Heitz,
    "Understanding the Masking-Shadowing Function in Microfacet-Based BRDFs", JCGT 2014)."""
    found = traced(things(ball(**look), lamps=(WHITE_SKY,)), 128, bounces=32)
    inside = found.alpha == 1
    assert inside.sum() > 600
    # The table of what is lost between facets is read between its places.
    assert found.light[inside].mean() == pytest.approx(1, abs=0.01)
    # Also where it turns away from the eye.
    rim = inside & ~np.roll(inside, 2, axis=0)
    assert found.light[rim].mean() == pytest.approx(1, abs=0.03)


@pytest.mark.parametrize("look", [{"coat": 1.0}, {"sheen": 1.0}])
def test_varnish_and_velvet_send_back_no_more_than_arrives(look: dict[str, float]) -> None:
    found = traced(things(ball(roughness=0.6, **look), lamps=(WHITE_SKY,)), 64)
    inside = found.alpha == 1
    mean = found.light[inside].mean()
    assert 0.85 < mean < 1.05


def test_clear_glass_keeps_all_light() -> None:
    """Whatever way it takes, light of the same radiance is at every end of it."""
    white = Backdrop("linear", ((0.0, "#ffffff"), (1.0, "#ffffff")))
    glass = ball(glass=1.0, roughness=0.0)
    found = traced(things(glass, lamps=(WHITE_SKY,), backdrop=white), 128, bounces=64)
    inside = found.alpha == 1
    assert found.light[inside].mean() == pytest.approx(1, abs=0.01)


def test_glass_has_the_tint_after_its_depth() -> None:
    """Beer and Lambert: light is left with exp(-absorption · way); of what falls straight on each of
    two surfaces Fresnel's ((n - 1) / (n + 1))² is thrown back."""
    tint = np.array([0.5, 0.8, 0.2])
    depth = 0.4
    absorption = tuple(-np.log(tint) / depth)
    optics = Optics(refraction=1.5, absorption=absorption)
    front = sheet(2, level=0.2, glass=1.0, roughness=0.0, optics=optics)
    back = sheet(2, level=-0.2, glass=1.0, roughness=0.0, optics=optics)
    back = replace(back, triangles=back.triangles[:, ::-1].copy(), normals=-back.normals)
    white = Backdrop("linear", ((0.0, "#ffffff"), (1.0, "#ffffff")))
    found = traced(things(front, back, backdrop=white, view=ahead(20, angle=4)), 64)
    mean = found.light[MIDDLE].mean(axis=(0, 1))
    lost = 0.04
    # What is thrown to and fro inside goes three times through it.
    expected = tint * (1 - lost) ** 2 / (1 - (lost * tint) ** 2)
    assert mean == pytest.approx(expected, rel=0.02)


def test_a_thin_sheet_of_glass_lets_through_what_both_sides_do() -> None:
    """1 - 2 F / (1 + F), for light that is thrown to and fro between its sides (M. Born, E. Wolf,
    "Principles of Optics", 7.6, without interference)."""
    optics = Optics(refraction=1.5, thin=True)
    white = Backdrop("linear", ((0.0, "#ffffff"), (1.0, "#ffffff")))
    pane = sheet(2, glass=1.0, roughness=0.0, optics=optics)
    found = traced(things(pane, backdrop=white, view=ahead(20, angle=4)), 64)
    assert found.light[MIDDLE].mean() == pytest.approx(1 - 2 * 0.04 / 1.04, abs=0.01)


def test_matt_white_in_the_sun_sends_back_its_share() -> None:
    """A matt surface sends E / π to every side; what shines off it first is 4 % or less."""
    ground = sheet(5, axis=1, roughness=1.0)
    found = traced(things(ground, lamps=(_down(),), view=_floor_view()), 16)
    assert found.light[MIDDLE].mean() == pytest.approx(1, abs=0.03)


def test_lamps_shine_as_the_stage_reckons() -> None:
    """Against the closed forms by which thumbnails are lit, which hold for small lamps."""
    lamps = (
        SkyLamp(UP, "#8090ff", "#402010", 1.5),
        PointLamp(np.array([1.0, 2.0, 0.5]), "#ff8040", 80.0, 0.01, True),
        SpotLamp(np.array([-1.0, 3.0, 0.0]), np.zeros(3), "#ffffff", 90.0, 0.01, 40.0, 0.5, True),
        AreaLamp(np.array([0.0, 4.0, 1.0]), np.zeros(3), 0.05, 0.05, False, "#60ff90", 120.0, True),
    )
    ground = sheet(20, axis=1, roughness=1.0)
    for lamp in lamps:
        found = traced(things(ground, lamps=(lamp,), view=_floor_view()), 32, bounces=1)
        arrives = irradiance(UP, np.zeros(3), [lamp])
        mean = found.light[MIDDLE].mean(axis=(0, 1)) * np.pi
        # Besides the matt part some shines, which is small on a surface as rough as that.
        assert mean == pytest.approx(arrives, rel=0.05), lamp


def test_a_large_disc_of_light_is_as_bright_as_its_cone() -> None:
    """At a distance h before the middle of a disc of radius r and radiance L a surface gets
    π L r² / (r² + h²)."""
    radius, height, radiance = 2.0, 1.5, 0.4
    power = radiance * np.pi * np.pi * radius**2
    disc = AreaLamp(
        np.array([0.0, height, 0.0]),
        np.zeros(3),
        2 * radius,
        2 * radius,
        True,
        "#ffffff",
        power,
        True,
    )
    view = replace(_floor_view(1.0), angle=4.0)
    found = traced(things(sheet(3, axis=1), lamps=(disc,), view=view), 64, bounces=1)
    expected = radiance * radius**2 / (radius**2 + height**2)
    assert found.light[MIDDLE].mean() == pytest.approx(expected, rel=0.04)


def test_glow_lights_what_is_around_it_the_same_found_either_way() -> None:
    """Dots that are looked for as lamps, and the same as a loose point, which are not: the light
    that they throw on the ground has the same mean."""
    ground = sheet(4, axis=1, level=-1.0, roughness=1.0)
    view = View(np.array([0.0, 6.0, 0.01]), np.array([0.0, -1.0, 0.0]), aspect=1.0, angle=50.0)
    shining = {"colour": (0.0, 0.0, 0.0), "glow": (3.0, 2.0, 1.0)}
    mesh = things(ground, ball(0.5, halvings=5, **shining), view=view)
    point = Dots(
        "ball",
        np.zeros((1, 3), np.float32),
        np.full(1, 0.5, np.float32),
        looks(1, **shining),
        Optics(),
    )
    loose = things(ground, dots=(point,), view=view)
    sought, met = traced(mesh, 64), traced(loose, 1024)
    lit = sought.light[..., 2] < 0.9
    for channel in range(3):
        a, b = (each.light[lit][:, channel].mean() for each in (sought, met))
        assert a == pytest.approx(b, rel=0.03)
    # Found as a lamp it has far less noise.
    assert sought.light[lit].std() < 2 * met.light[lit].std()


def test_an_area_seen_in_rough_metal_is_the_same_found_either_way() -> None:
    """The light that metal throws back of an area, by the sum over directions in which it is met
    against the closed form of a mirror: a smooth one shows the area's radiance itself."""
    mirror = sheet(5, axis=1, roughness=0.0, metal=1.0)
    lamp = AreaLamp(np.array([0.0, 3.0, 0.0]), np.zeros(3), 4.0, 4.0, False, "#ffffff", 100.0, True)
    found = traced(things(mirror, lamps=(lamp,), view=_floor_view()), 32)
    assert found.light[MIDDLE].mean() == pytest.approx(lamp.radiance, rel=0.01)


def test_lamps_without_a_shadow_throw_none() -> None:
    ground = sheet(5, axis=1, level=-1.0, roughness=1.0)
    cover = ball(0.5, (0.0, 2.0, 0.0))
    # Under the ball, whose shadow is half a metre about the middle.
    view = View(np.array([0.0, 0.5, 3.0]), np.array([0.0, -1.0, 0.0]), aspect=1.0, angle=10.0)
    dark, lit = (
        traced(things(ground, cover, lamps=(_down(shadow=s),), view=view), 16, bounces=1)
        for s in (True, False)
    )
    assert dark.light[MIDDLE].max() == 0
    assert lit.light[MIDDLE].mean() == pytest.approx(1, abs=0.1)


def test_what_is_out_of_focus_is_as_wide_as_a_thin_lens_makes_it() -> None:
    """The circle of confusion, c = A · |d - f| / d on the plane in focus (J. E. Greivenkamp, "Field
    Guide to Geometrical Optics", 2004)."""
    focus, distance, radius = 4.0, 6.0, 0.12
    view = ahead(distance, angle=20, lens_radius=radius, focus=focus)
    dot = ball(0.01, glow=(1.0, 1.0, 1.0), colour=(0.0, 0.0, 0.0))
    side = 96
    found = traced(things(dot, view=view), 512, side=side)
    weight = found.alpha / found.alpha.sum()
    y, x = np.mgrid[:side, :side] + 0.5
    spread = np.hypot(x - side / 2, y - side / 2)
    # Over an even disc the mean distance from its middle is two thirds of its radius.
    pixels = 2 * 1.5 * float((spread * weight).sum())
    metres = pixels * 2 * focus * np.tan(np.radians(20) / 2) / side
    assert metres == pytest.approx(circle_of_confusion(radius, focus, distance), rel=0.04)


def test_blades_give_a_blur_their_corners() -> None:
    """A triangle of blades, whose corners lie on the circle that a round opening fills: its points
    are 3 √3 / 4 π times as far from the middle, in the mean of squares, as is its area (derived)."""
    side, far = 96, []
    y, x = np.mgrid[:side, :side] + 0.5 - side / 2
    for blades in (0, 3):
        view = ahead(6, angle=20, lens_radius=0.3, focus=4, blades=blades)
        dot = ball(0.01, glow=(1.0, 1.0, 1.0))
        found = traced(things(dot, view=view), 512, side=side)
        far.append(float(((x**2 + y**2) * found.alpha).sum() / found.alpha.sum()))
    assert far[1] / far[0] == pytest.approx(3 * np.sqrt(3) / (4 * np.pi), rel=0.05)


def test_opacities_cover_one_another() -> None:
    """The over operator: a = a₁ + a₂ (1 - a₁), and so for the light (T. Porter, T. Duff,
    "Compositing Digital Images", SIGGRAPH 1984)."""
    near = sheet(5, level=1, opacity=0.6, colour=(0.0, 0.0, 0.0), glow=(0.9, 0.1, 0.2))
    far = sheet(5, level=-1, opacity=0.3, colour=(0.0, 0.0, 0.0), glow=(0.1, 0.8, 0.4))
    found = traced(things(near, far), 512)
    alpha = 0.6 + 0.3 * 0.4
    light = 0.6 * np.array([0.9, 0.1, 0.2]) + 0.3 * 0.4 * np.array([0.1, 0.8, 0.4])
    assert found.alpha.mean() == pytest.approx(alpha, abs=0.01)
    assert found.light.mean(axis=(0, 1)) == pytest.approx(light, abs=0.01)


def test_a_ball_covers_what_its_outline_does() -> None:
    """From a distance d a ball of radius r is seen within sin φ = r / d."""
    side, distance = 96, 5.0
    found = traced(things(ball(1.0, halvings=6)), 16, side=side)
    half = np.tan(np.arcsin(1 / distance)) / np.tan(np.radians(15))
    area = np.pi * (half * side / 2) ** 2
    assert found.alpha.sum() == pytest.approx(area, rel=0.005)


def test_what_holds_out_hides_and_is_nothing() -> None:
    front = sheet(0.5, level=1, optics=Optics(held_out=True))
    behind = sheet(3, level=-1, glow=(1.0, 1.0, 1.0))
    found = traced(things(front, behind), 16)
    assert found.alpha[MIDDLE].max() == 0
    assert found.light[MIDDLE].max() == 0
    assert found.alpha[2, 2] == 1


def test_ground_for_shadows_is_seen_by_its_shadow_only() -> None:
    ground = Ground("shadow", -1.0, 0.7, "#ffffff", 1.0, 0.0)
    floor = Floor(ground, (0.0, -1.0, 0.0), 20.0)
    view = View(np.array([0.0, 4.0, 5.0]), np.array([0.0, -1.0, 0.0]), aspect=1.0, angle=60.0)
    found = traced(
        things(ball(0.8, glow=(1.0, 1.0, 1.0)), lamps=(_down(),), view=view, floor=floor), 64
    )
    shadow = (found.alpha > 0.01) & (found.light.max(axis=-1) < 1e-6)
    assert shadow.sum() > 10
    assert found.alpha[shadow].max() == pytest.approx(0.7, abs=1e-5)
    assert found.alpha[-2, 2] == 0


def test_a_mirror_plane_shows_what_stands_on_it() -> None:
    ground = Ground("mirror", -1.0, 0.0, "#000000", 0.0, 1.0)
    floor = Floor(ground, (0.0, -1.0, 0.0), 64.0)
    view = View(np.array([0.0, 0.2, 6.0]), np.array([0.0, -0.8, 0.0]), aspect=1.0, angle=40.0)
    found = traced(things(ball(0.8, glow=(1.0, 0.2, 0.1), roughness=1.0), view=view, floor=floor))
    # Below the line where it stands, the same colour again, weaker: from 35 % straight down to
    # all of it along the ground, as the stage has it.
    below = found.light[30:44, 22:26]
    assert 0.35 < below[..., 0].max() <= 1.0
    assert below[..., 0].max() == pytest.approx(5 * below[..., 1].max(), rel=0.05)


def test_copies_look_as_if_each_were_written_out() -> None:
    one = ball(0.5, halvings=4, roughness=0.6)
    places = np.tile(np.eye(4, dtype=np.float32)[:3], (2, 1, 1))
    places[:, 0, 3] = [-0.7, 0.7]
    places[1, :, :3] *= 0.5
    colours = looks(2, roughness=0.6)
    colours[:, COLOUR] = [[1, 0.2, 0.1], [0.1, 0.3, 1]]
    copies = replace(one, placements=places, of_copies=colours)
    written = [
        replace(
            one,
            points=one.points @ place[:, :3].T + place[:, 3],
            looks=np.tile(own, (len(one.points), 1)),
        )
        for place, own in zip(places, colours, strict=True)
    ]
    lamps = (WHITE_SKY, _down())
    found, expected = traced(things(copies, lamps=lamps)), traced(things(*written, lamps=lamps))
    assert np.abs(found.alpha - expected.alpha).max() < 0.1
    assert np.abs(found.light - expected.light).mean() < 0.01 * expected.light.mean()
    # Each as it looks: the left one red, the right one blue.
    assert found.light[24, 15, 0] > 2 * found.light[24, 15, 2]
    assert found.light[24, 33, 2] > 2 * found.light[24, 33, 0]


def test_rows_are_those_of_the_whole() -> None:
    need_llvm()
    from zygomorph.render.final.path_tracer import PathTracer
    from zygomorph.render.final.settings import FinalSettings

    scene = things(ball(roughness=0.4), lamps=(WHITE_SKY, _down()))
    tracer = PathTracer(scene, FinalSettings((40, 30), 8))
    whole = tracer.trace(0, 8, seed=5)
    part = tracer.trace(0, 8, range(10, 17), seed=5)
    assert np.array_equal(part.light, whole.light[10:17])
    assert np.array_equal(part.normal, whole.normal[10:17])
    other = tracer.trace(0, 8, seed=6)
    assert not np.array_equal(other.light, whole.light)


def test_the_same_bytes_on_one_core_and_on_all() -> None:
    need_llvm()
    from zygomorph.render.final.engine import use_threads

    scene = things(ball(roughness=0.4, glass=0.5), lamps=(WHITE_SKY, _down()))
    use_threads(1)
    one = traced(scene, 8)
    use_threads(2)
    assert np.array_equal(traced(scene, 8).light, one.light)


def test_a_clamp_holds_what_comes_by_way_of_others() -> None:
    ground = sheet(4, axis=1, level=-1.0, roughness=1.0)
    lamp = ball(0.02, glow=(1e6, 1e6, 1e6))
    view = View(np.array([0.0, 3.0, 4.0]), np.array([0.0, -1.0, 0.0]), aspect=1.0, angle=60.0)
    free = traced(things(ground, lamp, view=view), 8, bounces=4)
    held = traced(things(ground, lamp, view=view), 8, bounces=4, clamp=2.0)
    assert held.light[-8:].max() <= free.light[-8:].max()
    # What is seen itself is as bright as it is.
    assert held.light.max() > 1e4


def test_noise_removal_changes_less_than_the_noise() -> None:
    from zygomorph.render.final.noise_removal import without_noise

    scene = things(ball(roughness=0.5, colour=(0.8, 0.3, 0.2)), lamps=(WHITE_SKY, _down()))
    scene = replace(scene, surfaces=(*scene.surfaces, sheet(3, axis=1, level=-1.0)))
    noisy, clean = traced(scene, 4, side=96), traced(scene, 512, side=96)
    removed = without_noise(noisy)

    def off(one: np.ndarray) -> float:
        return float(np.sqrt(((one - clean.light) ** 2).mean()))

    def off_alpha(one: np.ndarray, other: np.ndarray) -> float:
        return float(np.abs(one - other).mean())

    assert off(removed.light) < 0.5 * off(noisy.light)
    assert np.abs(removed.light.mean() - clean.light.mean()) < 0.02
    # A rim is as sharp as it was, and nearer to what it is.
    assert off_alpha(removed.alpha, clean.alpha) <= off_alpha(noisy.alpha, clean.alpha)


def test_nothing_at_all_is_drawn_as_nothing() -> None:
    found = traced(things())
    assert found.alpha.max() == 0
    assert found.light.max() == 0


def test_an_orthographic_view_has_no_perspective() -> None:
    view = ahead(5, height=4.0)
    near, far = ball(0.5, (-1.0, 0.0, 2.0)), ball(0.5, (1.0, 0.0, -20.0))
    found = traced(things(near, far, view=view), 16, side=96)
    left, right = found.alpha[:, :48].sum(), found.alpha[:, 48:].sum()
    assert left == pytest.approx(right, rel=0.01)
    assert left == pytest.approx(np.pi * (0.5 * 96 / 4) ** 2, rel=0.01)
