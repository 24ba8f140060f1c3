"""Encodes pictures of a loop as a file, and checks it by reading it back."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np

from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.formats.clips import CLIPS, ClipFacts, Effort, facts_of, write_clip
from zygomorph.core.formats.stills import (
    facts_of_images,
    read_png,
    sheet_of,
    write_gif,
    write_png,
    write_webp,
)
from zygomorph.jobs.checked_zip import checked_zip

ENDINGS = {
    "mp4": "mp4",
    "webm": "webm",
    "av1": "webm",
    "png": "zip",
    "exr": "zip",
    "still": "png",
    "gif": "gif",
    "webp": "webp",
    "clip-page": "html",
    "sheet": "png",
    "seam": "png",
}
WEBP_QUALITY: dict[Effort, int] = {"small": 70, "good": 85, "best": 100}
# A rate that is read back may differ by this much: files count in whole milliseconds.
SAME_RATE = 0.02
HALF_UNIT_S = 0.005


@dataclass(frozen=True)
class Encoding:
    """size : (columns, rows); rate : pictures a second; repeats : how often all are shown"""

    kind: str
    size: tuple[int, int]
    rate: Fraction
    repeats: int = 1
    pixel_format: str = "yuv420p"
    effort: Effort = "good"


Pictures = Callable[[], Iterator[np.ndarray]]
Report = Callable[[float, str], None]


def encode(
    path: Path,
    pictures: Pictures,
    count: int,
    how: Encoding,
    report: Report,
    stopped: Callable[[], bool],
) -> ClipFacts:
    """Write pictures as a clip, GIF or WebP and read it back.

    pictures : gives (rows, columns, 4) uint8 sRGB with straight alpha, count of them, each time
        that it is called; path : the file, which is there whole or not at all
    Returns what was found in the file. Raises ZygomorphError where that is not what was to be
    written, Cancelled where it was stopped.
    """
    total = count * how.repeats
    partial = path.with_name(f"{path.stem}.part{path.suffix}")

    def all_of() -> Iterator[np.ndarray]:
        for k in range(how.repeats):
            for number, picture in enumerate(pictures()):
                if stopped():
                    raise Cancelled
                report((k * count + number) / total, "encoding")
                yield picture

    try:
        if how.kind in CLIPS:
            write_clip(
                partial, all_of(), how.kind, how.size, how.rate, how.pixel_format, how.effort
            )
        elif how.kind == "gif":
            write_gif(partial, all_of, total, how.rate)
        else:
            write_webp(partial, all_of, total, how.rate, WEBP_QUALITY[how.effort])
        report(1.0, "reading it back")
        facts = facts_of(partial) if how.kind in CLIPS else facts_of_images(partial)
        _check(facts, how, total)
        partial.replace(path)
    finally:
        partial.unlink(missing_ok=True)
    return facts


def _check(facts: ClipFacts, how: Encoding, total: int) -> None:
    """Raises ZygomorphError if a file is not what it should be."""
    same_rate = abs(facts.rate / how.rate - 1) < SAME_RATE or total == 1
    # Few pictures of a GIF last a whole number of hundredths, which may be as near as it goes.
    same_rate |= abs(facts.seconds - float(total / how.rate)) <= HALF_UNIT_S
    if facts.frames != total and how.kind in ("gif", "webp"):
        # Both leave out pictures that are the same as the one before, which then lasts longer.
        seconds = abs(facts.seconds * float(how.rate) / total - 1) < SAME_RATE
        same_rate, facts_fit = seconds, facts.frames < total
    else:
        facts_fit = facts.frames == total
    if not facts_fit or not same_rate or (facts.width, facts.height) != how.size:
        raise ZygomorphError(
            f"The file holds {facts.frames} pictures of {facts.width} × {facts.height} at "
            f"{float(facts.rate):g} a second instead of {total} of {how.size[0]} × {how.size[1]} "
            f"at {float(how.rate):g}.",
            "Try again, or choose another kind.",
        )


def pack_sequence(path: Path, files: Sequence[Path], stem: str, ending: str = "png") -> None:
    """Pack pictures as a numbered sequence in a ZIP. Raises ZygomorphError, OSError."""
    # Not compressed: pictures are.
    with checked_zip(path) as archive:
        for number, file in enumerate(files):
            archive.write(file, f"{stem}_{number:04d}.{ending}")


def write_still(path: Path, picture: np.ndarray) -> None:
    """One PNG, read back; there whole or not at all."""
    partial = path.with_name(path.name + ".part")
    try:
        write_png(partial, picture)
        if not np.array_equal(read_png(partial)[..., : picture.shape[-1]], picture):
            raise ZygomorphError("The picture could not be read back.", "Try again.")
        partial.replace(path)
    finally:
        partial.unlink(missing_ok=True)


def write_sheet(path: Path, files: Sequence[Path]) -> None:
    """Pictures side by side in one PNG."""
    write_still(path, sheet_of([read_png(file) for file in files]))
