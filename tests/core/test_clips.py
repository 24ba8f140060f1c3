"""Clips, GIF, WebP and PNG: what was written is what is read back, in colour, number and time."""

import io
import zipfile
from fractions import Fraction
from itertools import pairwise

import av
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import CLIPS, facts_of, pictures_in, rate_of, write_clip
from zygomorph.core.formats.read_sequence import natural, read_sequence
from zygomorph.core.formats.stills import (
    durations,
    facts_of_images,
    read_png,
    sheet_of,
    write_gif,
    write_png,
    write_webp,
)
from zygomorph.core.inspect.picture_seam import picture_seam

SIZE = (64, 48)
COLOURS = [(200, 40, 30), (30, 180, 60), (40, 60, 210), (128, 128, 128), (250, 240, 20)]


def flat(colour, alpha=255) -> np.ndarray:
    picture = np.empty((SIZE[1], SIZE[0], 4), np.uint8)
    picture[:] = (*colour, alpha)
    return picture


def some(count=5, alpha=255):
    return [flat(COLOURS[k % len(COLOURS)], alpha) for k in range(count)]


@pytest.mark.parametrize(
    ("kind", "pixels"), [(k, p) for k, c in CLIPS.items() for p in c.pixel_formats]
)
def test_a_clip_has_its_pictures_colours_size_and_rate(tmp_path, kind, pixels):
    path = tmp_path / f"a.{CLIPS[kind].container}"
    assert write_clip(path, some(), kind, SIZE, Fraction(24), pixels, "best") == 5
    facts = facts_of(path)
    assert (facts.frames, facts.width, facts.height) == (5, *SIZE)
    assert float(facts.rate) == pytest.approx(24, rel=0.02)
    for colour, picture in zip(COLOURS, pictures_in(path), strict=True):
        middle = picture[10:38, 10:54, :3].reshape(-1, 3).mean(axis=0)
        # YUV of 8 bits in the limited range has steps of more than one of RGB.
        assert middle == pytest.approx(colour, abs=3)


@pytest.mark.parametrize("kind", ["mp4", "webm", "av1"])
def test_a_clip_says_how_its_numbers_are_to_be_read(tmp_path, kind):
    """Primaries and matrix of BT.709, sRGB's curve, limited range: ITU-T H.273, tables 2 to 4."""
    path = tmp_path / "a.clip"
    write_clip(path, some(), kind, SIZE, Fraction(30), "yuv420p")
    with av.open(str(path)) as container:
        context = container.streams.video[0].codec_context
        told = (context.color_primaries, context.color_trc, context.colorspace)
        assert told == (1, 13, 1)
        assert context.color_range == 1


def test_a_clip_for_the_web_has_opacity(tmp_path):
    path = tmp_path / "a.webm"
    write_clip(path, some(3, alpha=90), "webm", SIZE, Fraction(24), "yuva420p", "best")
    for picture in pictures_in(path):
        assert picture[20:30, 20:40, 3].mean() == pytest.approx(90, abs=3)


def test_what_a_clip_cannot_be_is_said_before_it_is_begun(tmp_path):
    path = tmp_path / "a.mp4"
    with pytest.raises(ZygomorphError, match="even"):
        write_clip(path, some(), "mp4", (63, 48), Fraction(24), "yuv420p")
    with pytest.raises(ZygomorphError, match="yuva420p"):
        write_clip(path, some(), "mp4", SIZE, Fraction(24), "yuva420p")
    assert not path.exists()


def test_what_is_no_clip_is_told_so(tmp_path):
    path = tmp_path / "a.mp4"
    path.write_bytes(b"not a clip at all, but long enough to be looked at" * 40)
    with pytest.raises(ZygomorphError, match="cannot be read"):
        facts_of(path)


@given(st.floats(1, 240))
def test_a_rate_is_kept_to_a_thousandth(rate):
    assert float(rate_of(rate)) == pytest.approx(rate, abs=2e-3)


def test_broadcast_rates_are_exact():
    # 24000/1001 and so on: SMPTE ST 12-1 (from memory).
    assert rate_of(23.976) == Fraction(24000, 1001)
    assert rate_of(29.97) == Fraction(30000, 1001)
    assert rate_of(25) == 25


@given(st.integers(1, 400), st.floats(1, 50), st.sampled_from([1, 10]))
def test_pictures_last_as_long_together_as_they_should(count, rate, unit):
    found = durations(count, Fraction(rate), unit)
    assert sum(found) == pytest.approx(count * 1000 / rate, abs=unit)
    assert all(each % unit == 0 for each in found)
    assert max(found) - min(found) <= unit


def test_a_gif_plays_in_time_with_the_colours_of_all_its_pictures(tmp_path):
    path = tmp_path / "a.gif"
    write_gif(path, lambda: iter(some()), 5, Fraction(24))
    facts = facts_of_images(path)
    assert (facts.frames, facts.width, facts.height) == (5, *SIZE)
    assert facts.seconds == pytest.approx(5 / 24, abs=0.006)
    with Image.open(path) as image:
        assert image.info["loop"] == 0
        for k, colour in enumerate(COLOURS):
            image.seek(k)
            assert image.convert("RGB").getpixel((30, 20)) == pytest.approx(colour, abs=4)
    with pytest.raises(ZygomorphError, match="at most 50"):
        write_gif(path, lambda: iter(some()), 5, Fraction(60))


def test_what_is_clear_in_a_gif_stays_clear(tmp_path):
    pictures = [flat(COLOURS[0]), flat(COLOURS[1])]
    pictures[0][:, :20, 3] = 0
    pictures[1][:, 40:, 3] = 0
    path = tmp_path / "a.gif"
    write_gif(path, lambda: iter(pictures), 2, Fraction(10))
    with Image.open(path) as image:
        for k, picture in enumerate(pictures):
            image.seek(k)
            assert np.array_equal(np.asarray(image.convert("RGBA"))[..., 3], picture[..., 3])


def test_an_animated_webp_without_loss_is_the_same_in_every_pixel(tmp_path):
    random = np.random.default_rng(1)
    pictures = [random.integers(0, 256, (48, 64, 4), dtype=np.uint8) for _ in range(3)]
    for picture in pictures:
        picture[..., 3] = np.maximum(picture[..., 3], 1)
    path = tmp_path / "a.webp"
    write_webp(path, lambda: iter(pictures), 3, Fraction(12), 100)
    assert facts_of_images(path).frames == 3
    with Image.open(path) as image:
        for k, picture in enumerate(pictures):
            image.seek(k)
            assert np.array_equal(np.asarray(image.convert("RGBA")), picture)


def test_a_png_is_straight_and_says_that_it_is_srgb(tmp_path):
    picture = flat((200, 100, 50), alpha=60)
    path = tmp_path / "a.png"
    write_png(path, picture)
    assert np.array_equal(read_png(path), picture)
    assert b"sRGB" in path.read_bytes()[:100]


def test_a_sheet_has_all_pictures_in_their_order():
    sheet = sheet_of(some(7), columns=3)
    # Three rows of three, with gaps of 8 pixels.
    assert sheet.shape == (3 * 56 + 8, 3 * 72 + 8, 4)
    for k in range(7):
        row, column = k // 3, k % 3
        assert sheet[8 + row * 56 + 20, 8 + column * 72 + 30, :3].tolist() == list(COLOURS[k % 5])


def packed(tmp_path, entries: dict[str, bytes]):
    path = tmp_path / "given.zip"
    with zipfile.ZipFile(path, "w") as archive:
        for name, data in entries.items():
            archive.writestr(name, data)
    return path


def png(picture: np.ndarray) -> bytes:
    buffer = io.BytesIO()
    Image.fromarray(picture).save(buffer, "PNG")
    return buffer.getvalue()


def test_pictures_of_a_zip_come_in_their_natural_order(tmp_path):
    names = ["a/b_10.png", "a/b_9.png", "__MACOSX/a/._b_9.png", "a/notes.txt", "a/b_100.PNG"]
    entries = {name: png(flat((10 * k, 0, 0))) for k, name in enumerate(names)}
    found = read_sequence(packed(tmp_path, entries))
    assert found.names == ("a/b_9.png", "a/b_10.png", "a/b_100.PNG")
    assert [p[0, 0, 0] for p in found.pictures()] == [10, 0, 40]
    assert found.size == SIZE


@given(st.lists(st.integers(0, 10**6), min_size=2, max_size=8, unique=True))
def test_numbers_in_names_count_as_numbers(numbers):
    names = sorted((f"p{n}.png" for n in numbers), key=natural)
    values = [int(name[1:-4]) for name in names]
    assert all(a < b for a, b in pairwise(values))


@pytest.mark.parametrize(
    ("entries", "said"),
    [
        ({"a.txt": b""}, "no PNG"),
        ({"a.png": b"\x89PNG nothing"}, "a.png cannot be read"),
        ({"a.png": png(flat((1, 2, 3))), "b.png": png(flat((1, 2, 3))[:20])}, "b.png is 64 × 20"),
    ],
)
def test_what_is_wrong_in_a_zip_is_named(tmp_path, entries, said):
    with pytest.raises(ZygomorphError, match=said):
        list(read_sequence(packed(tmp_path, entries)).pictures())


def test_what_is_no_zip_is_told_so(tmp_path):
    path = tmp_path / "a.zip"
    path.write_bytes(b"PK\x03\x04 and then nothing")
    with pytest.raises(ZygomorphError, match="no ZIP"):
        read_sequence(path)


def test_a_seam_is_measured_in_steps_of_eight_bits():
    first, last = flat((100, 100, 100)), flat((100, 100, 100))
    same = picture_seam(first, last)
    assert (same.largest, same.mean, same.share) == (0, 0, 0)
    last[:24, :, 1] += 10
    seam = picture_seam(first, last)
    assert (seam.largest, seam.mean, seam.share) == (10, 5, 0.5)
    assert seam.heat[0].sum() > seam.heat[40].sum()
    # What nobody sees has no colour that could differ.
    first[..., 3] = last[..., 3] = 0
    assert picture_seam(first, last).largest == 0
