"""What of a sound is heard while a loop plays."""

from __future__ import annotations

import io
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.sound.hearing import SOURCE_VALUES
from zygomorph.core.sound.track import Track


@dataclass(frozen=True)
class Audible:
    """A part of a sound that the study listens to.

    name : a digest, or the name of a sound that comes with the program
    begin : which second of it is frame 0
    """

    name: str
    begin: float


def audible(document: Mapping[str, Any]) -> list[Audible]:
    """The sounds that something in a study listens to that is shown and switched on, each part
    once, in the order in which they stand."""
    found: dict[Audible, None] = {}
    for piece in document.get("pieces", ()):
        if piece.get("visible", True):
            found |= dict.fromkeys(_within(piece))
    for marker in document.get("markers", ()):
        found |= dict.fromkeys(_within(marker))
    return list(found)


def _within(part: Any) -> Iterator[Audible]:
    if isinstance(part, Mapping):
        if part.get("on") is False:
            return
        if part.get("signal") == "sound":
            yield from _named(part)
        elif part.get("layer") == "sound":
            yield from _named(part.get("values", {}))
        for inner in part.values():
            yield from _within(inner)
    elif isinstance(part, list):
        for inner in part:
            yield from _within(inner)


def _named(values: Mapping[str, Any]) -> Iterator[Audible]:
    track = values.get("track", SOURCE_VALUES["track"].default)
    name = values.get("file", "") if track == "file" else track
    begin = values.get("begin", 0.0)
    if name:
        yield Audible(str(name), float(begin) if isinstance(begin, int | float) else 0.0)


def wav_of(track: Track, begin: float, seconds: float) -> bytes:
    """A part of a sound as WAV of 16 bits; what lies beyond its end goes on at its beginning.

    begin, seconds : where the part begins in the sound, and how long it is
    """
    import soundfile

    count = max(1, round(seconds * track.rate))
    if len(track.samples) == 0:
        part = np.zeros(count, np.float32)
    else:
        first = round(begin * track.rate)
        part = np.take(track.samples, np.arange(first, first + count), mode="wrap")
    out = io.BytesIO()
    soundfile.write(out, np.clip(part, -1, 1), track.rate, format="WAV", subtype="PCM_16")
    return out.getvalue()
