"""Patterns, pictures and films on surfaces: what they are, and how they lie."""

import io
import json
import zipfile
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import by_value, document, resolved, study, surface
from zygomorph.core.animation.context import Context
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import MeshFileError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.shading import Faults
from zygomorph.core.formats.clips import write_clip
from zygomorph.core.formats.read_film import read_film
from zygomorph.core.geometry.image import ColourImage, HeightImage
from zygomorph.core.geometry.images import Film, Images
from zygomorph.core.geometry.lit_spheres import SIDE, SPHERES, lit_sphere
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.figures import figure_at
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.gradients import parse_hex, to_linear

FIGURES = ["checks", "stripes", "dots", "grid", "noise"]
# Even places of one repeat.
S, T = ((np.indices((400, 400)) + 0.5) / 400).reshape(2, -1)


@pytest.mark.parametrize("figure", FIGURES)
@given(st.floats(-3, 3), st.floats(-3, 3), st.integers(-4, 4), st.integers(-4, 4))
def test_a_pattern_is_the_same_again_after_each_repeat(figure, s, t, right, up):
    here = figure_at(figure, np.array([s]), np.array([t]), edge=0.2)
    there = figure_at(figure, np.array([s + right]), np.array([t + up]), edge=0.2)
    assert here == pytest.approx(there, abs=1e-4)
    assert 0 <= here <= 1


@pytest.mark.parametrize(
    ("figure", "area"),
    [
        ("checks", 0.5),
        ("stripes", 0.3),
        # A disc whose diameter is 0.3, and what is left beside a square of 1 - 0.3.
        ("dots", np.pi / 4 * 0.3**2),
        ("grid", 1 - 0.7**2),
    ],
)
def test_a_pattern_covers_what_its_geometry_says(figure, area):
    assert figure_at(figure, S, T, fill=0.3).mean() == pytest.approx(area, abs=2e-3)


def test_checks_differ_from_their_neighbours_and_not_across():
    """Two of them each way go into a repeat."""
    s, t = np.array([0.0, 0.5, 0.5, 0.0]), np.array([0.0, 0.0, 0.5, 0.5])
    assert figure_at("checks", s, t).tolist() == [1, 0, 1, 0]


def test_noise_does_not_repeat_before_its_repeat_ends():
    here = figure_at("noise", S[::9], T[::9])
    for part in (0.25, 0.5, 0.75):
        there = figure_at("noise", S[::9] + part, T[::9])
        assert np.abs(there - here).mean() > 0.05
    assert here.mean() == pytest.approx(0.5, abs=0.05)


def test_noise_that_evolves_comes_back_by_another_way_than_it_went():
    at = [figure_at("noise", S[::9], T[::9], evolve=turn) for turn in (0, 0.25, 0.5, 0.75, 1)]
    assert at[4] == pytest.approx(at[0], abs=1e-4)
    assert np.abs(at[1] - at[3]).mean() > 0.05
    # Nor is the second half the negative of the first.
    assert np.abs((at[2] - 0.5) + (at[0] - 0.5)).mean() > 0.05


def points(*places) -> Mesh:
    return Mesh(np.array(places, np.float32), Topology(len(places)))


def laid(mesh: Mesh, context: Context | None = None, layer: str = "pattern", **values):
    definition = definitions("layer")[layer]
    return definition.apply(mesh, resolved(definition, **values), context or Context())


def test_round_a_cylinder_a_quarter_turn_is_a_quarter_of_the_repeats():
    """Four stripes a turn about y: each is met at the same place of its quarter."""
    turn = np.radians([10.0, 100.0, 190.0, 280.0, 55.0, 145.0])
    mesh = points(*np.stack([np.sin(turn), 0 * turn, np.cos(turn)], axis=1))
    told = {"figure": "stripes", "laid": "cylinder", "times": 4.0, "from": [0.0, 1.0, 0.0]}
    found = laid(mesh, fill=50.0, **told)
    assert found[:4].tolist() in ([1, 1, 1, 1], [0, 0, 0, 0])
    assert found[4:].tolist() == [1 - found[0]] * 2


def test_round_a_sphere_dots_go_from_pole_to_pole():
    """With two repeats a turn there are two from pole to pole; half a repeat up they lie between
    the equator and the poles, at 45 degrees of latitude."""
    heights = np.sin(np.radians([-45.0, 45.0]))
    away = np.cos(np.radians(45.0))
    around = np.radians(-90.0)
    places = [[away * np.sin(around), h, away * np.cos(around)] for h in heights]
    told = {"figure": "dots", "laid": "sphere", "times": 2.0, "fill": 20.0, "from": [0, 1, 0]}
    both = [
        laid(points(*places), across=a, upward=0.5, **told).tolist() for a in (0, 0.25, 0.5, 0.75)
    ]
    assert [1.0, 1.0] in both
    equator = points([np.sin(around), 0.0, np.cos(around)])
    assert not any(laid(equator, across=a, upward=0.5, **told).any() for a in (0, 0.25, 0.5))


def test_as_the_camera_sees_it_a_pattern_hangs_before_the_camera():
    """Points behind one another in the picture have the same, wherever they are in the room."""
    view = View(np.array([0.0, 0.0, 4.0]), np.zeros(3), angle=40.0)
    way = np.array([0.3, -0.2, -4.0])
    mesh = points(*(view.position + way * k for k in (0.5, 1.0, 2.0)))
    found = laid(mesh, Context(view=view), figure="noise", laid="camera", times=3.0)
    assert np.ptp(found) < 1e-5
    # Its lower and upper edge are half a height from the middle, by 2 atan(d / 2f).
    edge = 4 * np.tan(np.radians(20.0))
    told = {"figure": "grid", "laid": "camera", "times": 1.0, "fill": 10.0}
    ends = laid(points([0, edge, 0], [0, -edge, 0], [0, 0, 0]), Context(view=view), **told)
    assert ends.tolist() == [1, 1, 0]


def test_a_pattern_in_space_stays_where_it_is():
    place = np.eye(4)
    place[:3, 3] = [0.31, 0.0, 0.17]
    mesh = points(*np.random.default_rng(2).random((50, 3)))
    moved = points(*(mesh.points + place[:3, 3]))
    told = {"figure": "checks", "times": 5.0}
    here = laid(mesh, Context(place=place), sampled="space", **told)
    assert (here == laid(moved, **told)).all()
    assert (here != laid(mesh, **told)).any()


def test_a_travel_of_one_repeat_closes():
    mesh = points(*np.random.default_rng(3).random((200, 3)))
    for figure in FIGURES:
        begin, end = (laid(mesh, figure=figure, across=a, upward=-a) for a in (0.0, 1.0))
        assert end == pytest.approx(begin, abs=1e-4)


STRIPED = by_value("colour", "pattern", {"figure": "stripes", "laid": "uv", "times": 6.0})


def test_where_uvs_meet_that_differ_each_side_has_its_own_points():
    """Or a ring's last faces would show all stripes once more, from the last back to the first."""
    made = study({"step": "torus", "values": {}}, looks=surface((STRIPED,)))
    evaluator = Evaluator()
    plain = evaluator.evaluate(made, Request("p")).mesh
    drawn = evaluator.drawn(made, Request("p"))
    mesh = drawn.result.mesh
    assert len(mesh.points) > len(plain.points)
    uv = np.zeros((len(mesh.points), 2))
    uv[mesh.topology.corners] = mesh.get("corner", UV)
    # Each point has one UV, and no face reaches across the seam.
    assert np.abs(uv[mesh.topology.corners] - mesh.get("corner", UV)).max() < 1e-5
    of_faces = mesh.get("corner", UV).reshape(-1, 4, 2)
    assert np.ptp(of_faces, axis=1).max() < 0.2
    # And the surface is as smooth as it was.
    normals = point_normals(mesh)
    _, first, again = np.unique(
        mesh.points.round(5), axis=0, return_index=True, return_inverse=True
    )
    assert np.abs(normals - normals[first][again.ravel()]).max() < 1e-4


def test_a_look_without_uvs_says_so_and_is_left_out():
    made = study({"step": "icosphere", "values": {}}, looks=surface((STRIPED,)))
    faults = Faults()
    evaluator = Evaluator()
    geometry = evaluator.evaluate(made, Request("p")).geometry
    shown = evaluator.appearance(made, Request("p"), geometry, faults)
    assert not shown.looks[0].colours
    assert "UV" in faults.told[0][1]


class Shelf(Images):
    """A film of four pictures of one brightness each, and a picture of four pixels."""

    def _heights(self, name, number):
        return HeightImage(np.full((2, 2), number / 4, np.float32))

    def _colours(self, name, number):
        pixels = np.array(
            [[[255, 0, 0, 255], [0, 255, 0, 255]], [[0, 0, 255, 255], [9, 9, 9, 0]]], np.uint8
        )
        return ColourImage(pixels)

    def _film(self, name):
        return Film(4, 2.0)


NAME = "f" * 64


def filmed(frame: float, **values) -> float:
    context = Context(Loop(24, 24.0), frame, image=Shelf())
    found = laid(points([0, 0, 0]), context, "film", film=NAME, **values)
    return float(found[0]) * 4


def test_over_the_loop_a_film_plays_as_often_as_it_says_and_closes():
    assert [filmed(f) for f in (0, 5, 6, 12, 18, 23)] == [0, 0, 1, 2, 3, 3]
    assert filmed(24) == filmed(0)
    assert [filmed(f, rounds=2) for f in (0, 3, 9, 12)] == [0, 1, 3, 0]


def test_at_its_own_rate_a_film_lasts_as_long_as_it_is():
    """Two pictures a second: at 24 frames a second each is seen for 12 frames."""
    assert [filmed(f, plays="rate") for f in (0, 11, 12, 24, 47, 48)] == [0, 0, 1, 2, 3, 0]


def test_a_picture_of_a_film_is_chosen_and_stays():
    assert [filmed(f, plays="still", moment=0.5) for f in (0, 7, 13)] == [2, 2, 2]


def test_a_film_at_its_own_rate_is_told_not_to_close():
    film = definitions("layer")["film"]
    assert film.opens(resolved(film, plays="rate"), Loop()) == ("plays", "loop")
    assert film.opens(resolved(film, plays="loop"), Loop()) is None


def test_a_look_has_the_colours_of_a_picture_and_its_own_where_that_is_clear():
    own = {"picture": NAME, "laid": "seen", "from": [0, 0, 1], "width": 1.0, "soft": 0.0}
    by = by_value("colour", "image", own, coloured="picture")
    made = study(
        {"step": "sheet", "values": {"width": 0.5, "depth": 0.5, "columns": 1, "rows": 1}},
        {"step": "place", "values": {"turn": [90.0, 0.0, 0.0]}},
        looks=surface((by,), colour="#336699"),
    )
    evaluator = Evaluator(image=Shelf())
    geometry = evaluator.evaluate(made, Request("p")).geometry
    colours = evaluator.appearance(made, Request("p"), geometry).colours(4)
    # A quarter of a metre from the middle is the middle of a pixel.
    places = geometry.mesh.points
    wanted = {(-1, 1): "#ff0000", (1, 1): "#00ff00", (-1, -1): "#0000ff", (1, -1): "#336699"}
    for (x, y, _), colour in zip(places, colours, strict=True):
        expected = to_linear(parse_hex(wanted[int(np.sign(x)), int(np.sign(y))]))
        assert colour == pytest.approx(expected, abs=1e-4)


def test_copies_have_the_colours_of_a_picture_in_files():
    """Each mesh that is copied has them at its points; what is one for each copy, of its first."""
    own = {"picture": NAME, "laid": "uv", "soft": 0.0}
    made = study(
        {"step": "sheet", "values": {"columns": 2, "rows": 2}},
        {"step": "row", "values": {"count": 3}},
        looks=surface((by_value("colour", "image", own, coloured="picture"),)),
    )
    evaluator = Evaluator(image=Shelf())
    geometry = evaluator.evaluate(made, Request("p")).geometry
    shown = evaluator.appearance(made, Request("p"), geometry)
    assert shown.colours(9).shape == (9, 3)
    assert shown.of_copies().colours(3) == pytest.approx(np.tile(shown.colours(9)[0], (3, 1)))


def test_the_address_of_a_film_changes_with_the_frame_and_that_of_a_picture_does_not():
    def moves(layer, **own):
        looks = surface((by_value("colour", layer, own, coloured="picture"),))
        document_ = document({"step": "sheet", "values": {}}, looks=looks)
        evaluator = Evaluator(image=Shelf())
        shown = [
            evaluator.drawn(check_document(document_), Request("p", frame)).appearance.prints[0]
            for frame in (0, 12)
        ]
        return [each.moment for each in shown]

    assert moves("film", film=NAME) == [0, 2]
    assert moves("image", picture=NAME) == [0, 0]


@pytest.mark.parametrize("name", sorted(SPHERES))
def test_a_lit_ball_is_lit_from_above_and_fills_its_picture(name):
    pixels = lit_sphere(name).pixels
    assert pixels.shape == (SIDE, SIDE, 4)
    assert (pixels[..., 3] == 255).all()
    assert np.ptp(pixels[..., :3].astype(int).sum(axis=-1)) > 100


def frames_of(count: int, alpha: bool = False) -> list[np.ndarray]:
    """Pictures that are told apart by their red, on a see-through ground where wanted."""
    found = []
    for k in range(count):
        picture = np.zeros((48, 64, 4), np.uint8)
        picture[..., 0], picture[..., 3] = 60 * (k % 4) + 20, 255
        if alpha:
            picture[:, 32:] = 0
        found.append(picture)
    return found


def packed_film(path) -> list[np.ndarray]:
    found = read_film(path)
    with zipfile.ZipFile(io.BytesIO(found.archive)) as archive:
        assert len(archive.namelist()) == found.frames
        return [
            np.asarray(Image.open(io.BytesIO(archive.read(str(k)))).convert("RGBA")).astype(int)
            for k in range(found.frames)
        ]


@pytest.mark.parametrize(("kind", "alpha"), [("mp4", False), ("webm", True)])
def test_a_film_is_read_picture_by_picture(kind, alpha, tmp_path):
    path = tmp_path / f"film.{kind}"
    pixels = "yuva420p" if alpha else "yuv420p"
    write_clip(path, frames_of(4, alpha), kind, (64, 48), Fraction(12), pixels)
    read = packed_film(path)
    assert read_film(path).rate == pytest.approx(12.0)
    assert len(read) == 4
    for k, picture in enumerate(read):
        assert picture[24, 8, 0] == pytest.approx(60 * k + 20, abs=8)
        assert (picture[24, 56, 3] < 20) == alpha


def test_an_animated_picture_is_read_at_its_rate(tmp_path):
    path = tmp_path / "film.gif"
    first, *rest = (Image.fromarray(frame[..., :3]) for frame in frames_of(4))
    first.save(path, save_all=True, append_images=rest, duration=100, loop=0)
    found = read_film(path)
    assert (found.frames, found.size, found.rate) == (4, (64, 48), pytest.approx(10.0))


def test_a_sequence_is_read_in_the_order_of_its_numbers(tmp_path):
    path = tmp_path / "frames.zip"
    with zipfile.ZipFile(path, "w") as archive:
        for k in (10, 9, 8):
            buffer = io.BytesIO()
            Image.fromarray(frames_of(12)[k - 8]).save(buffer, "PNG")
            archive.writestr(f"shot/f_{k}.png", buffer.getvalue())
        archive.writestr("__MACOSX/f_1.png", b"no picture")
    assert [picture[0, 0, 0] for picture in packed_film(path)] == pytest.approx(
        [20, 80, 140], abs=3
    )


@pytest.mark.parametrize("data", [b"", b"PK\x03\x04 no", b"GIF89a no", b"\x00" * 400])
def test_what_is_no_film_says_what_helps(data, tmp_path):
    path = tmp_path / "film"
    path.write_bytes(data)
    with pytest.raises(MeshFileError) as error:
        read_film(path)
    assert error.value.hint


def test_pictures_of_other_sizes_in_a_sequence_are_named(tmp_path):
    path = tmp_path / "frames.zip"
    with zipfile.ZipFile(path, "w") as archive:
        for k, side in enumerate((8, 9)):
            buffer = io.BytesIO()
            Image.new("RGB", (side, 8)).save(buffer, "PNG")
            archive.writestr(f"{k}.png", buffer.getvalue())
    with pytest.raises(MeshFileError, match="9 × 8"):
        read_film(path)


def test_what_viewers_are_told_of_patterns_is_json():
    from zygomorph.api.packed_look import PackedLook

    made = study({"step": "torus", "values": {}}, looks=surface((STRIPED,)))
    header = PackedLook(Evaluator().drawn(made, Request("p")).appearance).header(False)
    assert json.loads(json.dumps(header["prints"]))[0]["on"] == "uv"
