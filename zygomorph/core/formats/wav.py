"""Sounds as WAV files."""

from __future__ import annotations

import io

import numpy as np

from zygomorph.core.values.sound.track import Track


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
