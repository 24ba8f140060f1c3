"""Reliefs from pictures."""

from __future__ import annotations

import io
import zlib

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import study
from zygomorph.core.errors import MeshFileError, StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.read_image import MAX_PIXELS, read_image, small_webp
from zygomorph.core.geometry.image import BEYOND, ColourImage, HeightImage, woven
from zygomorph.core.geometry.images import Images

SHEET = {"step": "sheet", "values": {"width": 2.0, "depth": 1.0, "columns": 40, "rows": 20}}
RAMP = HeightImage(np.tile(np.linspace(0.1, 0.8, 8, dtype=np.float32), (4, 1)))


class Only(Images):
    """One picture, whatever its name."""

    def __init__(self, picture: HeightImage) -> None:
        self._picture = picture

    def _heights(self, name, number):
        return self._picture


def raised(picture=None, form=SHEET, **values):
    values = {"amount": 1.0, "times": 1.0, "soft": 0.0, "laid": "uv", **values}
    if picture is not None:
        values["picture"] = "a" * 64
    made = study(form, {"step": "relief", "values": values})
    evaluator = Evaluator(image=Only(picture))
    return evaluator.evaluate(made, Request("p")).mesh.points


def saved(array, kind="PNG", **options) -> bytes:
    buffer = io.BytesIO()
    Image.fromarray(array).save(buffer, kind, **options)
    return buffer.getvalue()


def test_brightness_between_pixel_centres_is_linear():
    """Pixel k of n has its centre at (k + 1/2) / n (common practice)."""
    u = np.linspace(0.5 / 8, 7.5 / 8, 50)
    found = RAMP.at(u, np.full(50, 0.5), "rim")
    np.testing.assert_allclose(found, 0.1 + 0.7 * (u - 0.5 / 8) / (7 / 8), atol=1e-6)


@settings(max_examples=50, deadline=None)
@given(st.sampled_from(sorted(BEYOND)), st.floats(-3, 3), st.floats(-3, 3), st.integers(-4, 4))
def test_beyond_its_rim_a_picture_goes_on_as_it_says(beyond, u, v, whole):
    picture = HeightImage(np.random.default_rng(3).random((5, 7), np.float32))
    here, there = (picture.at(np.array([a]), np.array([v]), beyond)[0] for a in (u, u + 2 * whole))
    if beyond in ("repeat", "mirror"):
        assert here == pytest.approx(there, abs=1e-5)
    if beyond == "mirror":
        assert picture.at(np.array([-u]), np.array([v]), beyond)[0] == pytest.approx(here, abs=1e-5)
    if beyond == "rim" and u > 1:
        rim = picture.at(np.array([1.0]), np.array([v]), beyond)[0]
        assert here == pytest.approx(rim, abs=1e-5)
    low, high = picture.pixels.min(), picture.pixels.max()
    assert low - 1e-6 <= here <= high + 1e-6


def test_the_first_row_of_a_picture_is_its_top():
    pixels = np.zeros((2, 2), np.float32)
    pixels[0, 1] = 1.0
    found = HeightImage(pixels).at(np.array([0.75, 0.75]), np.array([0.75, 0.25]), "rim")
    np.testing.assert_allclose(found, [1, 0], atol=1e-6)


def test_a_picture_over_the_uvs_reaches_over_the_whole_sheet():
    points = raised(RAMP, beyond="rim")
    u = points[:, 0] / 2.0 + 0.5
    inside = (u > 0.5 / 8) & (u < 7.5 / 8)
    np.testing.assert_allclose(
        points[inside, 1], 0.1 + 0.7 * (u[inside] - 0.5 / 8) / (7 / 8), atol=1e-5
    )


def test_seen_from_above_it_lies_as_wide_as_it_is_said_and_not_stretched():
    pixels = np.zeros((30, 60), np.float32)
    pixels[0, 0] = 1.0  # the corner at its top left
    seen = {"laid": "seen", "from": [0, 1, 0], "width": 1.0, "beyond": "nothing"}
    fine = {"step": "sheet", "values": {"width": 2.0, "depth": 1.0, "columns": 240, "rows": 120}}
    points = raised(HeightImage(pixels), fine, **seen)
    peak = points[np.argmax(points[:, 1])]
    # Half a metre wide to each side, and a quarter deep: it is half as high as wide.
    np.testing.assert_allclose(peak[[0, 2]], [-0.5, -0.25], atol=0.012)


def test_a_turn_goes_counter_clockwise_as_it_is_seen():
    spot = np.zeros((41, 41), np.float32)
    spot[20, 36:39] = 1.0  # to the right of the middle
    seen = {"laid": "seen", "from": [0, 0, 1], "width": 2.0, "beyond": "nothing", "along": "axis"}
    wall = {"step": "box", "values": {"size": [2, 2, 0.1], "across": 40, "up": 40, "deep": 1}}
    for angle, expected in ((0, [0.85, 0]), (90, [0, 0.85])):
        points = raised(HeightImage(spot), wall, turn=angle, direction=[0, 0, 1], **seen)
        peak = points[np.argmax(points[:, 2])]
        np.testing.assert_allclose(peak[:2], expected, atol=0.06)


def test_a_whole_cycle_of_travel_closes():
    first, last = (raised(woven(), across=a, upward=2 * a) for a in (0.0, 1.0))
    np.testing.assert_allclose(first, last, atol=1e-6)
    assert np.abs(raised(woven(), across=0.37) - first).max() > 0.05


def test_the_level_stays_where_it_is():
    flat = HeightImage(np.full((4, 4), 0.4, np.float32))
    np.testing.assert_allclose(raised(flat, level=40.0)[:, 1], 0, atol=1e-6)
    np.testing.assert_allclose(raised(flat, level=0.0)[:, 1], 0.4, atol=1e-6)


def test_softness_keeps_the_mean_and_lowers_the_contrast():
    picture = HeightImage(np.random.default_rng(1).random((64, 64), np.float32))
    soft = picture.softened(0.05, "repeat")
    assert soft.mean() == pytest.approx(picture.pixels.mean(), abs=1e-4)
    assert soft.std() < picture.pixels.std() / 5
    assert picture.softened(0.0, "repeat") is picture.pixels


@pytest.mark.parametrize("kind", ["PNG", "TIFF", "WEBP"])
def test_grey_and_colour_are_read_as_they_stand_in_the_file(kind):
    grey = np.arange(0, 240, 10, dtype=np.uint8).reshape(4, 6)
    options = {"lossless": True} if kind == "WEBP" else {}
    found = read_image(saved(grey, kind, **options)).pixels
    np.testing.assert_allclose(found, grey / 255, atol=1 / 255 if kind == "WEBP" else 1e-6)
    colour = np.zeros((2, 3, 3), np.uint8)
    colour[..., 1] = 255
    # Green is 0.7152 of white's luminance (Rec. ITU-R BT.709).
    np.testing.assert_allclose(read_image(saved(colour)).pixels, 0.7152, atol=1e-4)


def test_sixteen_bits_keep_their_steps():
    deep = np.array([[0, 1, 32768, 65535]], np.uint16)
    np.testing.assert_allclose(read_image(saved(deep)).pixels, deep / 65535, atol=1e-7)


def test_what_is_transparent_is_black():
    clear = np.full((2, 2, 4), 255, np.uint8)
    clear[0, 0, 3] = 0
    np.testing.assert_allclose(read_image(saved(clear)).pixels, [[0, 1], [1, 1]])


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"", "empty"),
        (b"no picture", "no picture"),
        (saved(np.random.default_rng(0).integers(0, 255, (90, 90), np.uint8))[:2000], "damaged"),
        (b"GIF89a" + bytes(60), "no picture"),
    ],
)
def test_a_wrong_file_says_what_is_wrong(data, message):
    with pytest.raises(MeshFileError, match=message) as raised_:
        read_image(data)
    assert raised_.value.hint


@pytest.mark.parametrize("side", [9_000, 40_000])
def test_a_picture_that_is_too_large_is_refused_before_it_is_unpacked(side):
    """A PNG of which only the head is there."""
    size = side.to_bytes(4, "big")
    head = b"IHDR" + size + size + bytes([8, 0, 0, 0, 0])
    start = b"\x89PNG\r\n\x1a\n" + (13).to_bytes(4, "big")
    data = start + head + zlib.crc32(head).to_bytes(4, "big") + b"\0\0\0\x05IDAT" + bytes(9)
    assert side**2 > MAX_PIXELS
    with pytest.raises(MeshFileError, match=f"{MAX_PIXELS:,}"):
        read_image(data)


@settings(max_examples=40, deadline=None)
@given(st.binary(max_size=300), st.integers(0, 200))
def test_damaged_files_are_refused_or_read(noise, at):
    good = saved(np.arange(64, dtype=np.uint8).reshape(8, 8))
    for data in (noise, good[:at] + noise + good[at:]):
        try:
            assert np.isfinite(read_image(data).pixels).all()
        except MeshFileError as error:
            assert error.message


def test_a_picture_that_is_not_stored_says_so():
    made = study(SHEET, {"step": "relief", "values": {"picture": "b" * 64}})
    with pytest.raises(StepError, match="not stored") as raised_:
        Evaluator().evaluate(made, Request("p"))
    assert "Bring the picture in again" in raised_.value.hint


def test_a_small_picture_is_as_small_as_it_says():
    picture = ColourImage(np.zeros((600, 600, 4), np.uint8))
    small = Image.open(io.BytesIO(small_webp(picture)))
    assert small.size == (256, 256)
