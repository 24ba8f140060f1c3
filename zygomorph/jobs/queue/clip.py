"""Encodes the pictures of a finished job as a clip, without drawing them again."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from PIL import Image

from zygomorph.core.formats.clips import CLIPS, rate_of
from zygomorph.core.formats.stills import read_png
from zygomorph.jobs.pages.make import page_of_clip
from zygomorph.jobs.pictures.encode import ENDINGS, Encoding, encode, pack_sequence
from zygomorph.jobs.pictures.product import Product
from zygomorph.jobs.queue.orders import ClipOrder


def make_clip(
    folder: Path,
    name: str,
    stem: str,
    order: ClipOrder,
    files: Sequence[Path],
    report: Callable[[float, str], None],
    stopped: Callable[[], bool],
    title: str,
) -> Product:
    """Make the clip in a folder.

    name : of the file, without extension; stem : of the name that it is downloaded as
    files : PNGs in the order of the clip; title : of a web page

    Raises ZygomorphError if the clip that is read back is not what was asked for; Cancelled;
    OSError.
    """
    path = folder / f"{name}.{ENDINGS[order.kind]}"
    filename = f"{stem}.{ENDINGS[order.kind]}"
    facts = {"width": order.size[0], "height": order.size[1]}
    if order.kind == "png":
        pack_sequence(path, list(files) * order.repeats, stem)
        return Product(path, f"{stem}-png.zip", facts | {"pictures": len(files) * order.repeats})
    if order.kind == "clip-page":
        clip = folder / f"{name}.mp4"
        try:
            made = make_clip(
                folder, name, stem, replace(order, kind="mp4"), files, report, stopped, title
            )
            page_of_clip(clip, path, title, order.size)
        finally:
            clip.unlink(missing_ok=True)
        return Product(path, filename, made.facts)
    how = Encoding(
        order.kind,
        order.size,
        rate_of(order.rate),
        order.repeats,
        order.pixel_format,
        order.effort,
    )

    def pictures() -> Iterator[np.ndarray]:
        return (scaled(read_png(file), order.size) for file in files)

    found = encode(path, pictures, len(files), how, report, stopped)
    told = {
        "pictures": found.frames,
        "rate": round(float(found.rate), 3),
        "seconds": round(found.seconds, 3),
        "codec": CLIPS[order.kind].title if order.kind in CLIPS else order.kind.upper(),
    }
    return Product(path, filename, facts | told)


def scaled(picture: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """A (rows, columns, 4) picture resized to (columns, rows)."""
    if picture.shape[1::-1] == size:
        return picture
    # With premultiplied alpha, or the colours of clear pixels would bleed into others.
    image = Image.fromarray(picture).convert("RGBa").resize(size, Image.Resampling.LANCZOS)
    return np.asarray(image.convert("RGBA"))
