"""What can be had of a picture besides its light: each layer against what geometry says."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import document
from tests.render.scenes import WHITE_SKY, ball, looks, need_llvm, sheet, things
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.exr import read_exr
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.drawn_scene import AreaLamp, Ground, SunLamp
from zygomorph.render.final.layers import exr_of
from zygomorph.render.final.settings import LAYERS, FinalSettings
from zygomorph.render.final.things import OPACITY, Dots, Floor, Optics, Things

SIDE = 48
# Pixels from the middle of the picture to its rim, over the tangent of half its angle.
FOCAL = SIDE / 2 / np.tan(np.radians(15))


def seen(scene: Things, *layers: str, before: Things | None = None, **more) -> dict:
    need_llvm()
    from zygomorph.render.final.path_tracer import PathTracer
    from zygomorph.render.final.primary_hits import PrimaryHits

    settings = FinalSettings((SIDE, SIDE), 4, layers=tuple(layers), **more)
    tracer = PathTracer(scene, settings)
    return PrimaryHits(tracer, scene, before, settings).layers()


def test_depth_is_along_the_axis_and_not_along_the_ray() -> None:
    depth = seen(things(sheet(9.0, level=1.0)), "depth")["depth"]
    assert depth.shape == (SIDE, SIDE, 1)
    assert np.abs(depth - 4.0).max() < 1e-4
    assert seen(things(), "depth")["depth"].min() >= 1e9


def test_depth_and_normals_of_a_ball_are_those_of_where_a_ray_meets_it() -> None:
    found = seen(things(ball(1.0, halvings=6)), "depth", "normals")
    y, x = np.mgrid[:SIDE, :SIDE] + 0.5
    way = np.stack([(x - SIDE / 2) / FOCAL, (SIDE / 2 - y) / FOCAL, -np.ones_like(x)], axis=-1)
    # |e + t w| = 1 from e = (0, 0, 5)
    a, b = (way**2).sum(axis=-1), 2 * 5 * way[..., 2]
    inside = b**2 - 4 * a * 24
    t = (-b - np.sqrt(np.maximum(inside, 0))) / (2 * a)
    point = np.array([0, 0, 5]) + t[..., None] * way
    sure = inside > 0.5
    assert sure.sum() > 400
    assert np.abs(found["depth"][..., 0] - t)[sure].max() < 3e-3
    assert np.abs(found["normals"] - point)[sure].max() < 0.01
    assert (found["depth"][inside < -0.5] > 1e9).all()


def test_what_is_half_there_is_seen_or_looked_through_as_a_whole() -> None:
    behind = sheet(9.0, level=-1.0)
    for opacity, away in ((0.4, 6.0), (0.6, 4.0)):
        front = sheet(9.0, level=1.0, opacity=opacity)
        depth = seen(things(front, behind), "depth")["depth"]
        assert np.abs(depth - away).max() < 1e-4


def test_what_holds_out_hides_from_layers_too() -> None:
    front = sheet(0.5, level=1, optics=Optics(held_out=True))
    depth = seen(things(front, sheet(9.0, level=-1)), "depth")["depth"]
    assert depth[SIDE // 2, SIDE // 2] > 1e9 and depth[1, 1] == pytest.approx(6.0)


def test_what_moves_moves_as_a_pinhole_shows_it() -> None:
    """d metres across at a distance z are f d / z pixels."""
    here, there = sheet(9.0, level=1.0), sheet(9.0, level=1.0)
    there = replace(there, points=there.points - np.array([0.02, -0.05, 0], np.float32))
    motion = seen(things(here), "motion", before=things(there))["motion"]
    assert np.abs(motion[..., 0] - FOCAL * 0.02 / 4).max() < 1e-3
    assert np.abs(motion[..., 1] + FOCAL * 0.05 / 4).max() < 1e-3


def test_what_stands_still_moves_in_the_picture_as_the_camera_does() -> None:
    scene = things(sheet(9.0, level=0.0))
    eye, target = np.array([0.1, 0.0, 5.0]), np.array([0.1, 0.0, 0.0])
    before = replace(scene, view=View(eye, target, aspect=1.0, angle=30.0))
    motion = seen(scene, "motion", before=before)["motion"]
    assert np.abs(motion[..., 0] - FOCAL * 0.1 / 5).max() < 1e-3
    assert np.abs(motion[..., 1]).max() < 1e-3


def test_a_turning_ball_moves_in_the_picture_as_its_points_do() -> None:
    turn = np.radians(2)
    matrix = np.array(
        [[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]]
    )
    was = ball(1.0, halvings=5)
    now = replace(was, points=(was.points @ matrix.T).astype(np.float32))
    found = seen(things(now), "motion", "depth", before=things(was))
    # The middle of the picture shows (0, 0, 1), which was at sin 2° to the left and cos 2° ahead.
    expected = FOCAL * np.sin(turn) / (5 - np.cos(turn))
    assert found["motion"][SIDE // 2, SIDE // 2, 0] == pytest.approx(expected, rel=0.02)


def _copied(shift: float) -> Things:
    one = np.eye(4, dtype=np.float32)[:3]
    two = one.copy()
    two[:, 3] = [0.8 + shift, 0, 0]
    left = one.copy()
    left[:, 3] = [-0.8, 0, 0]
    return things(replace(ball(0.5), placements=np.stack([left, two])))


def test_copies_move_as_each_is_placed() -> None:
    motion = seen(_copied(0.02), "motion", before=_copied(0.0))["motion"][..., 0]
    middle = motion[SIDE // 2]
    x = round(SIDE / 2 + FOCAL * 0.8 / 5)
    assert middle[x] == pytest.approx(FOCAL * 0.02 / 4.5, rel=0.03)
    assert abs(middle[SIDE - x]) < 1e-3


def test_loose_points_move_and_those_that_became_more_have_no_motion_of_their_own() -> None:
    def dots(x: float, count: int = 1) -> Things:
        centres = np.tile(np.array([[x, 0, 0]], np.float32), (count, 1))
        radii = np.full(count, 0.3, np.float32)
        return things(dots=(Dots("dots", centres, radii, looks(count), Optics()),))

    middle = SIDE // 2, SIDE // 2
    motion = seen(dots(0.01), "motion", before=dots(0.0))["motion"]
    assert motion[middle][0] == pytest.approx(FOCAL * 0.01 / 4.7, rel=0.03)
    assert abs(seen(dots(0.01, 2), "motion", before=dots(0.0))["motion"][middle][0]) < 1e-4


def test_masks_are_interpolated_as_colours_are() -> None:
    """A weight that rises from 0 to 1 across a sheet is a ramp in the picture."""
    flat = sheet(2.0, level=0.0)
    ramp = (flat.points[:, :1] + 2) / 4
    flat = replace(flat, looks=np.hstack([flat.looks, ramp]).astype(np.float32))
    found = seen(things(flat), masks=(("sheet", "s"),))["mask 0"][..., 0]
    x = (np.arange(SIDE) + 0.5 - SIDE / 2) / FOCAL * 5
    assert np.abs(found - (x + 2) / 4).max() < 0.01


def test_a_mask_covers_less_of_a_pixel_where_its_piece_does() -> None:
    half = sheet(1.0)
    half = replace(half, looks=np.hstack([half.looks, np.ones((4, 1))]).astype(np.float32))
    found = seen(things(half), masks=(("sheet", "s"),))["mask 0"]
    area = (2 * FOCAL / 5) ** 2
    assert found.sum() == pytest.approx(area, rel=0.02)
    clear = replace(half, looks=half.looks.copy())
    clear.looks[:, OPACITY] = 0.25
    through = seen(things(clear), masks=(("sheet", "s"),))["mask 0"]
    assert through[SIDE // 2, SIDE // 2] == pytest.approx(0.25, abs=0.07)


SUN = SunLamp(np.array([0.0, 0.0, 1.0]), "#ffffff", 1.0, True)

LAMP = AreaLamp(np.array([0.0, 0.0, 4.0]), np.zeros(3), 1.0, 1.0, False, "#ffffff", 1.0, True)


def test_a_shadow_is_all_of_the_light_that_is_kept_away() -> None:
    wall, disc = sheet(9.0, level=-1.0), sheet(0.4, level=3.0)
    # Seen from aside, so that what throws the shadow does not hide it.
    view = View(np.array([4.0, 0.0, 4.0]), np.array([0.0, 0.0, -1.0]), aspect=1.0, angle=30.0)
    found = seen(things(wall, disc, lamps=(SUN,), view=view), "shadow")["shadow"]
    assert found[SIDE // 2, SIDE // 2] == pytest.approx(1.0, abs=1e-4)
    assert found[2, 2] == 0 and found[-3, -3] == 0


def test_half_a_lamp_behind_an_edge_is_half_a_shadow() -> None:
    """Straight below the edge of a wide screen half of a square lamp is hidden."""
    screen = sheet(9.0, level=2.0)
    screen = replace(screen, points=screen.points + np.array([9.0, 0, 0], np.float32))
    wall = sheet(9.0, level=0.0)
    view = View(np.array([-3.0, 0.0, 1.5]), np.zeros(3), aspect=1.0, angle=10.0)
    found = seen(things(wall, screen, lamps=(LAMP,), view=view), "shadow")["shadow"][..., 0]
    middle = found[SIDE // 2 - 2 : SIDE // 2 + 2, SIDE // 2 - 8 : SIDE // 2 + 8]
    assert middle.mean() == pytest.approx(0.5, abs=0.08)


def test_ground_that_is_only_its_shadow_has_its_shadow() -> None:
    floor = Floor(Ground("shadow", -1.0, 0.7, "#ffffff", 1.0, 0.0), (0.0, -1.0, 0.0), 20.0)
    view = View(np.array([0.0, 4.0, 5.0]), np.array([0.0, -1.0, 0.0]), aspect=1.0, angle=60.0)
    down = replace(SUN, towards=np.array([0.0, 1.0, 0.0]))
    found = seen(things(ball(0.8), lamps=(down,), view=view, floor=floor), "shadow")["shadow"]
    assert found.max() == pytest.approx(1.0) and found[-2, 2] == 0


def test_the_light_of_pieces_is_all_light() -> None:
    need_llvm()
    from zygomorph.render.final.path_tracer import PathTracer

    near, far = replace(ball(0.7, glass=0.5), piece="near"), sheet(2.0, level=-1.0, opacity=0.5)
    scene = things(near, far, lamps=(WHITE_SKY, SUN))
    settings = FinalSettings((SIDE, SIDE), 8, layers=("pieces",))
    tracer = PathTracer(scene, settings)
    found = tracer.trace(0, 8)
    assert tracer.pieces == ["near", "sheet"]
    assert found.pieces.shape == (SIDE, SIDE, 3, 4)
    whole = np.dstack([found.light, found.alpha])
    assert np.abs(found.pieces.sum(axis=2) - whole).max() < 1e-5
    # The ball is seen in the middle alone, the sheet around it.
    assert found.pieces[SIDE // 2, SIDE // 2, 0, 3] == 1
    assert found.pieces[2, 2, 0, 3] == 0 and found.pieces[2, 2, 1, 3] == pytest.approx(
        0.5, abs=0.13
    )
    # With another piece told apart the picture is what it was.
    plain = PathTracer(scene, FinalSettings((SIDE, SIDE), 8)).trace(0, 8)
    assert np.array_equal(plain.light, found.light)


def test_rows_of_layers_are_those_of_the_whole() -> None:
    need_llvm()
    from zygomorph.render.final.path_tracer import PathTracer
    from zygomorph.render.final.primary_hits import PrimaryHits

    scene = things(ball(), sheet(9.0, level=-1.2), lamps=(SUN, LAMP))
    settings = FinalSettings((SIDE, SIDE), 4, layers=("depth", "shadow"))
    looked = PrimaryHits(PathTracer(scene, settings), scene, None, settings)
    whole, part = looked.layers(seed=3), looked.layers(range(20, 27), seed=3)
    for name in whole:
        assert np.array_equal(part[name], whole[name][20:27])


MASKED = {"layer": "linear", "values": {"angle": 90, "from": -1, "to": 1, "profile": "linear"}}


def _study() -> Study:
    made = document(
        {"step": "icosphere", "values": {"halvings": 4}},
        {
            "id": "t",
            "step": "twist",
            "values": {"angle": {"signal": "cycle", "high": 40}},
            "where": {"layers": [{"id": "l", "layer": "ball", "values": {"radius": 0.9}}]},
        },
    )
    made["pieces"][0]["name"] = "Twisted ball"
    return Study(check_document(made).document)


def drawn(study: Study, **more):
    need_llvm()
    from zygomorph.render.final.picture import draw

    settings = FinalSettings((SIDE, SIDE), 4, noise_removal=False, **more)
    return draw(study, Evaluator(), 3.0, settings)


def test_a_study_has_all_its_layers_under_their_names_and_exr_gives_them_back(
    tmp_path: Path,
) -> None:
    study = _study()
    found = drawn(study, layers=LAYERS, masks=(("p", "t"),))
    names = {
        "depth",
        "normals",
        "motion",
        "albedo",
        "shadow",
        "piece-twisted-ball",
        "rest",
        "mask-twisted-ball-1",
    }
    assert set(found.layers) == names
    data = exr_of(found.all_layers())
    assert data == exr_of(found.all_layers())
    # OpenEXR file layout: the magic number of the format.
    assert data[:4] == bytes([0x76, 0x2F, 0x31, 0x01])
    path = tmp_path / "a.exr"
    path.write_bytes(data)
    back = read_exr(path)
    assert set(back) == names | {""}
    assert back["depth"].dtype == np.float32
    assert np.array_equal(back["depth"], found.layers["depth"])
    assert np.array_equal(back["motion"], found.layers["motion"])
    beauty = np.dstack([found.traced.light, found.traced.alpha])
    # Half floats have 11 bits.
    assert np.abs(back[""] - beauty).max() <= beauty.max() / 2048
    assert np.abs(found.layers["motion"]).max() > 0.1
    mask = found.layers["mask-twisted-ball-1"]
    assert 0.05 < mask.mean() < 1


def test_layers_change_nothing_of_the_picture() -> None:
    study = _study()
    plain, layered = drawn(study), drawn(study, layers=LAYERS, masks=(("p", "t"),))
    assert np.array_equal(plain.traced.light, layered.traced.light)
    assert plain.layers == {}


def test_what_is_no_mask_or_no_layer_is_told() -> None:
    with pytest.raises(ZygomorphError, match="no step 'x'"):
        drawn(_study(), masks=(("p", "x"),))
    with pytest.raises(ZygomorphError, match="no layer 'fog'"):
        drawn(_study(), layers=("fog",))


def test_a_damaged_exr_is_told(tmp_path: Path) -> None:
    path = tmp_path / "a.exr"
    path.write_bytes(exr_of({"beauty": np.ones((8, 8, 4), np.float32)})[:200])
    with pytest.raises(ZygomorphError, match=r"a\.exr cannot be read"):
        read_exr(path)
