"""Light from pictures all round, backdrops that are pictures, and lights that stick to surfaces."""

import struct

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document
from zygomorph.core.document.edits import Set, apply_edit
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import MeshFileError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.formats.read_hdr import read_hdr
from zygomorph.core.geometry.domes import DOMES, directions, dome, solid_angles
from zygomorph.core.geometry.image import ColourImage
from zygomorph.core.geometry.images import Images
from zygomorph.core.inspect.attach import attach
from zygomorph.core.kernels.rotation import rotation
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.core.shared.dome_light import (
    LUMINANCE,
    around,
    arriving,
    coefficients,
    levelled,
    shrunk,
)
from zygomorph.core.shared.drawn_scene import Backdrop, DomeLamp
from zygomorph.core.values.gradients import parse_hex

WAYS = np.concatenate([np.eye(3), -np.eye(3)])


class Shelf(Images):
    """One picture all round, and one of colours."""

    def __init__(self, light=None, colours=None):
        self._light, self._shown = light, colours

    def _radiance(self, name):
        return self._light

    def _colours(self, name, number):
        return ColourImage(self._shown)


def test_the_pixels_of_a_picture_all_round_cover_the_whole_ball():
    assert solid_angles(16, 32).sum() * 32 == pytest.approx(4 * np.pi)
    way = directions(64, 128)
    assert np.linalg.norm(way, axis=-1) == pytest.approx(np.ones((64, 128)))
    # Its middle is ahead, its right half is to the right, and its top is above.
    assert way[32, 64] == pytest.approx([0, 0, -1], abs=0.05)
    assert way[32, 96] == pytest.approx([1, 0, 0], abs=0.05)
    assert way[0, 0, 1] > 0.99


def test_the_same_light_from_all_sides_gives_pi_times_its_radiance():
    """E = π L on every surface (common practice)."""
    shelf = Shelf(np.full((32, 64, 3), 7.0))
    found = coefficients(DomeLamp("a", 2.0, np.eye(3)), shelf)
    # Levelled, so that the strength is what arrives.
    assert arriving(found, WAYS) == pytest.approx(np.full((6, 3), 2.0), rel=2e-3)


@pytest.mark.parametrize("name", sorted(DOMES))
def test_what_arrives_is_the_sum_over_all_directions(name):
    """The cosine-weighted integral, within what nine harmonics leave out: 9 % of the mean at worst
    (Ramamoorthi and Hanrahan 2001)."""
    light = levelled(dome(name))
    way, weight = directions(*light.shape[:2]), solid_angles(*light.shape[:2])[..., None]
    found = arriving(coefficients(DomeLamp(name, 1.0, np.eye(3)), Images()), WAYS)
    for normal, has in zip(WAYS, found, strict=True):
        cosine = np.clip(way @ normal, 0, None)[..., None]
        wanted = (light * cosine * weight).sum(axis=(0, 1))
        assert has == pytest.approx(wanted, abs=0.09 * found.mean() * 2)


@pytest.mark.parametrize("name", sorted(DOMES))
def test_a_dome_is_as_strong_as_it_says_on_the_mean_over_all_ways(name):
    light = around(Images(), name)
    weight = solid_angles(*light.shape[:2])
    assert np.pi * ((light @ LUMINANCE) * weight).sum() / (4 * np.pi) == pytest.approx(1, rel=1e-4)


def test_a_dome_turns_with_what_carries_it():
    name, turn = "studio", rotation(np.array([0.0, 90.0, 0.0]))
    plain = coefficients(DomeLamp(name, 1.0, np.eye(3)), Images())
    turned = coefficients(DomeLamp(name, 1.0, turn), Images())
    assert arriving(turned, WAYS @ turn.T) == pytest.approx(arriving(plain, WAYS), abs=0.02)
    motion = np.eye(4)
    motion[:3, :3] = turn
    assert DomeLamp(name, 1.0, np.eye(3)).moved(motion).axes == pytest.approx(turn)


def test_a_picture_that_is_gone_lights_from_all_sides_alike():
    found = coefficients(DomeLamp("f" * 64, 1.0, np.eye(3)), Images())
    assert arriving(found, WAYS) == pytest.approx(np.ones((6, 3)), rel=2e-3)


@given(st.integers(1, 40), st.integers(1, 40))
def test_what_is_made_smaller_keeps_its_mean(rows, columns):
    picture = np.random.default_rng(1).random((rows * 3, columns * 2, 3))
    found = shrunk(picture, rows, columns)
    assert found.shape == (rows, columns, 3)
    assert found.mean() == pytest.approx(picture.mean())


def rgbe(pixels: list[list[tuple[int, int, int, int]]], packed: bool) -> bytes:
    """A picture of radiance as the format has it."""
    rows, columns = len(pixels), len(pixels[0])
    head = f"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y {rows} +X {columns}\n".encode()
    body = b""
    for row in pixels:
        if not packed:
            body += b"".join(struct.pack("4B", *pixel) for pixel in row)
            continue
        body += bytes([2, 2, columns >> 8, columns & 255])
        for part in zip(*row, strict=True):
            # A run where all are alike, or else as they are.
            alike = len(set(part)) == 1
            body += bytes([128 + columns, part[0]]) if alike else bytes([columns, *part])
    return head + body


@pytest.mark.parametrize("packed", [False, True])
def test_radiance_is_read_as_the_format_says(packed):
    """A mantissa m and an exponent e are (m + 1/2) / 256 · 2^(e - 128) (Ward 1991)."""
    row = [(128, 64, 0, 129 + k % 2) for k in range(8)]
    light = read_hdr(rgbe([row, [(200, 100, 50, 120)] * 8], packed))
    assert light.shape == (2, 8, 3)
    assert light[0, 0] == pytest.approx([128.5 / 128, 64.5 / 128, 0.5 / 128])
    assert light[0, 1] == pytest.approx([128.5 / 64, 64.5 / 64, 0.5 / 64])
    assert light[1, 3] == pytest.approx(np.array([200.5, 100.5, 50.5]) / 2**16)


@pytest.mark.parametrize("cut", [3, 30, 60, 70])
def test_a_damaged_picture_of_radiance_says_so(cut):
    whole = rgbe([[(k, k, 9, 128) for k in range(8)]] * 2, True)
    with pytest.raises(MeshFileError) as error:
        read_hdr(whole[:cut])
    assert error.value.hint


def quarters() -> np.ndarray:
    """40 × 20 pixels: red on the left, green on the right, clear in the lower right."""
    shown = np.zeros((20, 40, 4), np.uint8)
    shown[:, :20, 0], shown[:, 20:, 1], shown[..., 3] = 255, 255, 255
    shown[10:, 20:, 3] = 0
    return shown


@pytest.mark.parametrize(
    ("fit", "room"),
    # A picture of 2 : 1 in a square: cut at its sides, with room above and below, or stretched.
    [("cover", False), ("whole", True), ("stretch", False)],
)
def test_a_picture_fits_the_backdrop_as_it_says(fit, room):
    behind = Backdrop("picture", ((0.0, "#0000ff"),), picture="a", fit=fit)
    made = np.rint(backdrop(behind, (40, 40), Shelf(colours=quarters())) * 255)
    blue = parse_hex("#0000ff") * 255
    assert (made[3, 5] == (blue if room else [255, 0, 0])).all()
    assert made[18, 5].tolist() == [255, 0, 0]
    assert made[18, 35].tolist() == [0, 255, 0]
    # See-through is the colour beside it.
    assert made[25, 35].tolist() == blue.tolist()


def test_a_backdrop_whose_picture_is_gone_is_the_colour_beside_it():
    behind = Backdrop("picture", ((0.0, "#204060"),), picture="f" * 64)
    assert backdrop(behind, (4, 3)) == pytest.approx(np.tile(parse_hex("#204060"), (3, 4, 1)))


SHEET = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0, "columns": 8, "rows": 8}}
RISES = {
    "step": "place",
    "values": {
        "move": [0, {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0, "high": 1}, 0],
        "turn": [0, 0, {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0, "high": 90}],
    },
}


def stuck():
    """A lamp over a sheet that rises by a metre and turns by 90 degrees about z."""
    plain = document(SHEET, RISES)
    own = {"id": "l", "name": "Lamp", "light": "point", "values": {"position": [0.5, 0.4, 0.0]}}
    study = Evaluator().with_geometry(check_document(plain | {"lights": [own]}))
    operations = attach(study, "/lights/l", "piece", "p", 0.0, on_surface=True)
    changed, _ = apply_edit(dict(study.document), [Set(**each) for each in operations])
    return study.with_document(changed)


def lamp_at(study, frame):
    return plan_scene(study).at(np.array([float(frame)])).lamps["l"][0].position


def test_a_light_that_sticks_to_a_surface_keeps_its_place_and_moves_with_it():
    study = stuck()
    assert lamp_at(study, 0) == pytest.approx([0.5, 0.4, 0.0], abs=1e-5)
    # 0.5 m along the sheet from where it turns, 0.4 m over it: by 45 degrees, half a metre up.
    c = np.sqrt(0.5)
    assert lamp_at(study, 12) == pytest.approx([c * 0.1, 0.5 + c * 0.9, 0.0], abs=1e-3)


def test_a_light_sticks_to_what_a_step_makes_of_the_surface():
    """The piece's own place does not move at all."""
    study = stuck()
    assert study.document["lights"][0]["carried"]["at_rest"] == pytest.approx([0.5, 0, 0], abs=1e-5)
    assert plan_scene(study).moves


def test_only_what_has_a_place_sticks():
    plain = document(SHEET)
    sun = {"id": "l", "name": "Sun", "light": "sun", "values": {}}
    study = Evaluator().with_geometry(check_document(plain | {"lights": [sun]}))
    with pytest.raises(ZygomorphError, match="has a place"):
        attach(study, "/lights/l", "piece", "p", 0.0, on_surface=True)


def test_without_a_surface_it_moves_with_the_piece():
    study = stuck()
    assert check_document(study.document) is not None
    lost = check_document(study.document)  # nobody evaluates it
    assert lamp_at(lost, 12) == pytest.approx(lamp_at(lost, 0), abs=1e-6)
