"""Makes the product of pictures: a clip, a sequence, a still, a contact sheet, or a seam report."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from zygomorph.core.document.study import Study
from zygomorph.core.formats.clips import CLIPS
from zygomorph.core.formats.names import safe_name
from zygomorph.core.formats.stills import read_png
from zygomorph.core.inspect.picture_seam import picture_seam
from zygomorph.jobs.pages.make import page_of_clip
from zygomorph.jobs.pictures.encode import (
    ENDINGS,
    Encoding,
    encode,
    pack_sequence,
    write_sheet,
    write_still,
)
from zygomorph.jobs.pictures.order import PictureOrder, encoded_as


@dataclass(frozen=True)
class Product:
    """path : of the file; filename : that it is downloaded as; facts : what is told of it"""

    path: Path
    filename: str
    facts: dict[str, Any]


def make_product(
    folder: Path,
    name: str,
    study: Study,
    order: PictureOrder,
    files: Sequence[Path],
    report: Callable[[float, str], None],
    stopped: Callable[[], bool],
) -> Product:
    """Make the product in a folder. name : of the file, without extension

    files : PNGs, one for each of the order's times

    Raises ZygomorphError if the file that is read back is wrong; Cancelled; OSError.
    """
    stem = safe_name(study.name)
    path = folder / f"{name}.{ENDINGS[order.kind]}"
    facts: dict[str, Any] = {"width": order.size[0], "height": order.size[1]}
    filename = f"{stem}.{ENDINGS[order.kind]}"
    if order.kind == "png":
        report(0.0, "packing")
        pack_sequence(path, files, stem)
        facts["pictures"], filename = len(files), f"{stem}-png.zip"
    elif order.kind == "still":
        write_still(path, _as_stored(files[0]))
        filename = f"{stem}-{order.first:04d}.png"
    elif order.kind == "sheet":
        write_sheet(path, files)
        facts["pictures"], filename = len(files), f"{stem}-sheet.png"
    elif order.kind == "seam":
        seam = picture_seam(read_png(files[0]), read_png(files[1]))
        write_still(path, seam.heat)
        facts |= {"largest": seam.largest, "mean": seam.mean, "differing": seam.share}
        filename = f"{stem}-seam.png"
    elif order.kind == "clip-page":
        clip = folder / f"{name}.mp4"
        try:
            facts |= _clip(clip, study, order, files, report, stopped)
            page_of_clip(clip, path, study.name, order.size)
        finally:
            clip.unlink(missing_ok=True)
    else:
        facts |= _clip(path, study, order, files, report, stopped)
    return Product(path, filename, facts)


def _clip(
    path: Path,
    study: Study,
    order: PictureOrder,
    files: Sequence[Path],
    report: Callable[[float, str], None],
    stopped: Callable[[], bool],
) -> dict[str, Any]:
    how = Encoding(
        encoded_as(order.kind),
        order.size,
        order.pictures_a_second(study.loop),
        order.repeats,
        order.pixel_format,
        order.effort,
    )

    def pictures() -> Iterator[np.ndarray]:
        return (read_png(file) for file in files)

    found = encode(path, pictures, len(files), how, report, stopped)
    return {
        "pictures": found.frames,
        "rate": round(float(found.rate), 3),
        "seconds": round(found.seconds, 3),
        "codec": CLIPS[how.kind].title if how.kind in CLIPS else how.kind.upper(),
    }


def _as_stored(file: Path) -> np.ndarray:
    with Image.open(file) as image:
        return np.asarray(image)
