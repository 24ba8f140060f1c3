"""What pictures of a loop are to be drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import CLIPS, Effort, check_clip, rate_of

PictureKind = Literal[
    "mp4", "webm", "av1", "png", "exr", "still", "gif", "webp", "clip-page", "sheet", "seam"
]
# Kinds whose pictures do not follow one another.
APART: tuple[PictureKind, ...] = ("still", "sheet", "seam")
KINDS: tuple[PictureKind, ...] = get_args(PictureKind)
MOST_PIXELS = 64_000_000
LONGEST_SIDE = 16_384
MOST_PICTURES = 20_000


@dataclass(frozen=True)
class Eye:
    """A view that is not a camera of the study.

    position, target : (3,) metres on the stage; angle : vertical angle of view, degrees
    """

    position: tuple[float, float, float]
    target: tuple[float, float, float]
    angle: float


def encoded_as(kind: str) -> str:
    """The kind of clip that a product of some kind contains: MP4 for a page."""
    return "mp4" if kind == "clip-page" else kind


def check_size(size: tuple[int, int]) -> None:
    """Raises ZygomorphError if a size, (columns, rows), is too large or empty."""
    columns, rows = size
    if columns * rows > MOST_PIXELS or max(size) > LONGEST_SIDE or min(size) < 1:
        raise ZygomorphError(
            f"{columns} × {rows} is not a size that a picture can have.",
            f"At most {LONGEST_SIDE:,} pixels each way and {MOST_PIXELS:,} in all.",
        )


@dataclass(frozen=True)
class PictureOrder:
    """size : (columns, rows); first, last : frames, both included; step : frames from one to the
    next
    rate : pictures a second, None for as many as the loop has frames; the seconds stay the same
    repeats : how often the loop is shown; samples : pictures that each is the mean of
    blur : whether they are spread over the time that the shutter is open
    camera : id of a camera, None for the study's; eye : another view instead
    transparent : without the backdrop, where the kind has opacity
    count : of pictures on a sheet
    handles : address of the row whose handles are drawn, or ""
    """

    kind: PictureKind
    size: tuple[int, int]
    first: int
    last: int
    step: int = 1
    rate: float | None = None
    repeats: int = 1
    samples: int = 4
    blur: bool = False
    final: bool = True
    camera: str | None = None
    eye: Eye | None = None
    transparent: bool = False
    pixel_format: str = "yuv420p"
    effort: Effort = "good"
    count: int = 12
    handles: str = ""

    @property
    def has_light(self) -> bool:
        """Whether pictures are known in linear light, not only as they are shown."""
        return False

    def check(self) -> None:
        """Raises ZygomorphError if the order cannot be made."""
        columns, rows = self.size
        check_size(self.size)
        if self.last < self.first:
            raise ZygomorphError(
                f"Frames {self.first} to {self.last} are no range.",
                "Give the first and the last frame.",
            )
        if self.kind == "exr" and not self.has_light:
            raise ZygomorphError(
                "EXR has light as numbers, which the stage does not have.",
                "Have it drawn by path tracing.",
            )
        if encoded_as(self.kind) in CLIPS:
            check_clip(encoded_as(self.kind), self.pixel_format, columns, rows)

    def pictures_a_second(self, loop: Loop) -> Fraction:
        return rate_of(self.rate or loop.rate) / self.step

    def spacing(self, loop: Loop) -> float:
        """Frames from one picture to the next; 1 where they do not follow one another."""
        if self.kind in APART:
            return 1.0
        return loop.rate / float(self.pictures_a_second(loop))

    def times(self, loop: Loop) -> Sequence[float]:
        """Time of each picture, in frames; fractional at rates other than the loop's.

        Raises ZygomorphError if there are too many.
        """
        span = self.last - self.first + 1
        if self.kind == "still":
            return [float(self.first)]
        if self.kind == "seam":
            return [float(self.first), float(self.first + loop.frames)]
        if self.kind == "sheet":
            count = min(self.count, span)
            return [self.first + float(np.floor(k * span / count)) for k in range(count)]
        apart = self.spacing(loop)
        count = max(1, round(span / apart))
        if count > MOST_PICTURES:
            raise ZygomorphError(
                f"These would be {count:,} pictures; the limit is {MOST_PICTURES:,}.",
                "Take fewer frames, a greater step, or a lower rate.",
            )
        return [round(self.first + k * apart, 6) for k in range(count)]
