"""Pictures or a clip that are there already, encoded as a clip."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import Effort, check_clip, facts_of, pictures_in, rate_of
from zygomorph.core.formats.names import safe_name
from zygomorph.core.formats.read_sequence import read_sequence
from zygomorph.jobs.pictures.encode import ENDINGS, Encoding, encode
from zygomorph.jobs.runner import Job, Jobs, Work

Pictures = Callable[[], Iterator[np.ndarray]]


@dataclass(frozen=True)
class Given:
    """What was brought in. count : of its pictures; rate : None of pictures without one"""

    pictures: Pictures
    count: int
    size: tuple[int, int]
    rate: Fraction | None


def read_given(path: Path) -> Given:
    """Pictures of a ZIP of PNGs, or of a clip. Raises ZygomorphError where it is neither."""
    with path.open("rb") as file:
        begins = file.read(4)
    if begins.startswith(b"PK"):
        found = read_sequence(path)
        return Given(found.pictures, len(found.names), found.size, None)
    facts = facts_of(path)
    return Given(lambda: pictures_in(path), facts.frames, (facts.width, facts.height), facts.rate)


def at_rate(given: Given, rate: Fraction) -> tuple[Pictures, int]:
    """The pictures for another rate with the same seconds, and how many they are: each moment shows
    the picture that was to be seen then."""
    if given.rate is None or given.rate == rate:
        return given.pictures, given.count
    count = max(1, round(given.count / given.rate * rate))
    step = given.rate / rate

    def pictures() -> Iterator[np.ndarray]:
        source, at = given.pictures(), -1
        picture: np.ndarray | None = None
        for k in range(count):
            wanted = min(int(k * step), given.count - 1)
            while at < wanted:
                picture, at = next(source), at + 1
            assert picture is not None  # the first is wanted first
            yield picture

    return pictures, count


def reencoding(
    jobs: Jobs,
    source: Path,
    name: str,
    folder: Path,
    kind: str,
    rate: float | None,
    pixel_format: str,
    effort: Effort,
) -> Work:
    """The work of encoding what was brought in; the source is removed with it.

    rate : pictures a second; None for those of the clip. When it works it raises ZygomorphError
    where the source cannot be read.
    """

    def work(job: Job) -> None:
        try:
            report = jobs.progress(job)
            report(0.0, "reading")
            given = read_given(source)
            if rate is None and given.rate is None:
                raise ZygomorphError("Pictures have no rate of their own.", "Give one.")
            wanted = given.rate if rate is None else rate_of(rate)
            assert wanted is not None  # a clip has its own
            check_clip(kind, pixel_format, *given.size)
            pictures, count = at_rate(given, wanted)
            path = folder / f"{job.id}.{ENDINGS[kind]}"
            how = Encoding(kind, given.size, wanted, 1, pixel_format, effort)
            facts = encode(path, pictures, count, how, report, job.stop.is_set)
            job.filename = f"{safe_name(Path(name).stem)}.{ENDINGS[kind]}"
            job.path, job.size = path, path.stat().st_size
            job.details = [
                {
                    "width": facts.width,
                    "height": facts.height,
                    "pictures": facts.frames,
                    "rate": round(float(facts.rate), 3),
                    "seconds": round(facts.seconds, 3),
                }
            ]
        finally:
            source.unlink(missing_ok=True)

    return work
