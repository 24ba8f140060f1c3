"""Single pictures and small moving ones: PNG, GIF and animated WebP, by Pillow."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from io import BytesIO
from itertools import pairwise
from pathlib import Path
from typing import BinaryIO

import numpy as np
from PIL import Image

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import ClipFacts

# Of the colours of a GIF; one is left for what is clear.
COLOURS = 255
# Pixels of all pictures together out of which they are chosen.
LOOKED_AT = 3_000_000
# A pixel of a GIF is there or is not.
THERE = 128

Pictures = Callable[[], Iterator[np.ndarray]]


def write_png(path: Path | BinaryIO, picture: np.ndarray, quick: bool = False) -> None:
    """(rows, columns, 3) or (rows, columns, 4) uint8 sRGB with straight alpha.

    quick : takes less time, and some more room
    """
    image = Image.fromarray(picture)
    # Most programs read a file without it as sRGB; with it, all do (PNG, 3rd edition, 11.3.3).
    image.save(path, "PNG", compress_level=1 if quick else 6, pnginfo=_is_srgb())


def png_of_picture(picture: np.ndarray) -> bytes:
    """The bytes of :func:`write_png`."""
    out = BytesIO()
    write_png(out, picture)
    return out.getvalue()


def png16_of(picture: np.ndarray) -> bytes:
    """A PNG with 16 bits a channel. picture : (rows, columns, 1 or 3) uint16"""
    import av

    grey = picture.shape[-1] == 1
    name = "gray16" if grey else "rgb48"
    plane = np.ascontiguousarray(picture[..., 0] if grey else picture)
    frame = av.VideoFrame.from_ndarray(plane, format=f"{name}le").reformat(format=f"{name}be")
    context = av.CodecContext.create("png", "w")
    context.width, context.height = picture.shape[1], picture.shape[0]
    context.pix_fmt, context.time_base = f"{name}be", Fraction(1, 1)
    return b"".join(bytes(packet) for packet in [*context.encode(frame), *context.encode(None)])


def _is_srgb() -> object:
    from PIL.PngImagePlugin import PngInfo

    info = PngInfo()
    info.add(b"sRGB", b"\x00")
    return info


def read_png(path: Path) -> np.ndarray:
    """(rows, columns, 4) uint8, straight alpha."""
    with Image.open(path) as image:
        return np.asarray(image.convert("RGBA"))


def durations(count: int, rate: Fraction, unit_ms: int) -> list[int]:
    """Milliseconds for each of some pictures, whole units each, that add up to what they are to
    last."""
    ends = [round(k * 1000 / rate / unit_ms) * unit_ms for k in range(count + 1)]
    return [b - a for a, b in pairwise(ends)]


def write_webp(path: Path, pictures: Pictures, count: int, rate: Fraction, quality: int) -> None:
    """An animated WebP that plays on and on. quality : 0 to 100, of which 100 is without loss."""
    images = (Image.fromarray(picture) for picture in pictures())
    next(images).save(
        path,
        "WEBP",
        save_all=True,
        append_images=images,
        duration=durations(count, rate, 1),
        loop=0,
        quality=quality,
        lossless=quality == 100,
        method=4,
    )


def write_gif(path: Path, pictures: Pictures, count: int, rate: Fraction) -> None:
    """A GIF that plays on and on, with one set of colours for all pictures, so that nothing that
    stands still flickers."""
    if rate > 50:
        raise ZygomorphError(
            f"A GIF shows at most 50 pictures a second, not {float(rate):g}.",
            "Choose a lower rate, or a greater step.",
        )
    palette = _palette(pictures(), count)
    clear = False

    def indexed() -> Iterator[Image.Image]:
        nonlocal clear
        for picture in pictures():
            rgb = Image.fromarray(np.ascontiguousarray(picture[..., :3]))
            found = rgb.quantize(palette=palette, dither=Image.Dither.FLOYDSTEINBERG)
            away = picture[..., 3] < THERE
            if away.any():
                numbers = np.asarray(found).copy()
                numbers[away] = COLOURS
                made = Image.fromarray(numbers, "P")
                made.putpalette(found.getpalette() or [])
                found, clear = made, True
            if clear:
                found.info["transparency"] = COLOURS
            yield found

    images = indexed()
    first = next(images)
    first.save(
        path,
        "GIF",
        save_all=True,
        append_images=images,
        duration=durations(count, rate, 10),
        loop=0,
        disposal=2 if "transparency" in first.info else 1,
        optimize=False,
    )


def _palette(pictures: Iterator[np.ndarray], count: int) -> Image.Image:
    """The colours of all pictures together."""
    seen = []
    for picture in pictures:
        there = picture[picture[..., 3] >= THERE][:, :3]
        every = max(1, int(len(there) * count / LOOKED_AT))
        seen.append(there[::every])
    colours = np.concatenate(seen)
    if len(colours) == 0:
        colours = np.zeros((1, 3), np.uint8)
    return Image.fromarray(colours[None]).quantize(COLOURS, method=Image.Quantize.MEDIANCUT)


def facts_of_images(path: Path) -> ClipFacts:
    """What a GIF or WebP holds, read to its end."""
    try:
        with Image.open(path) as image:
            count, total = getattr(image, "n_frames", 1), 0
            for k in range(count):
                image.seek(k)
                image.load()
                total += int(image.info.get("duration", 0))
            width, height = image.size
    except OSError as error:
        raise ZygomorphError(f"The pictures cannot be read back: {error}.", "Try again.") from error
    rate = Fraction(count * 1000, total) if total else Fraction(1)
    return ClipFacts(count, width, height, rate)


# Pixels between the pictures of a sheet, and around them.
GAP = 8
GROUND = (24, 21, 32, 255)


def sheet_of(pictures: Sequence[np.ndarray], columns: int | None = None) -> np.ndarray:
    """Pictures of one size side by side in rows, (rows, columns, 4); as nearly square as it goes
    where nothing is said."""
    rows, wide = pictures[0].shape[:2]
    if columns is None:
        columns = max(1, round(float(np.sqrt(len(pictures) * rows / wide * 16 / 9))))
    columns = min(columns, len(pictures))
    down = -(-len(pictures) // columns)
    sheet = np.empty((down * (rows + GAP) + GAP, columns * (wide + GAP) + GAP, 4), np.uint8)
    sheet[:] = GROUND
    for k, picture in enumerate(pictures):
        top, left = (k // columns) * (rows + GAP) + GAP, (k % columns) * (wide + GAP) + GAP
        share = picture[..., 3:] / 255
        over = picture[..., :3] * share + np.array(GROUND[:3]) * (1 - share)
        sheet[top : top + rows, left : left + wide, :3] = np.round(over)
    return sheet
