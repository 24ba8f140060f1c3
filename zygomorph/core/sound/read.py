"""Sound files: WAV, FLAC and OGG."""

from __future__ import annotations

import io

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.sound.track import Track

FORMATS = ("WAV", "WAVEX", "FLAC", "OGG")
MAX_SECONDS = 900.0
# Finer than this nothing is heard of that moves a surface, and it would take memory.
MOST_SAMPLES_A_SECOND = 48_000


class SoundFileError(ZygomorphError):
    """A file is no sound that can be read."""


def read_sound(data: bytes) -> Track:
    """A sound with all its channels in one. Raises SoundFileError."""
    import soundfile

    try:
        with soundfile.SoundFile(io.BytesIO(data)) as file:
            if file.format not in FORMATS:
                raise SoundFileError(
                    f"{file.format} is not read here.", "Bring in a WAV, FLAC or OGG file."
                )
            if file.frames / file.samplerate > MAX_SECONDS:
                raise SoundFileError(
                    f"The sound lasts {file.frames / file.samplerate / 60:.0f} minutes; the limit "
                    f"is {MAX_SECONDS / 60:.0f}.",
                    "Cut out the part that you need.",
                )
            samples = file.read(dtype="float32", always_2d=True)
            rate = int(file.samplerate)
    except soundfile.SoundFileError as error:
        raise SoundFileError(
            "This is no sound that can be read.", "Bring in a WAV, FLAC or OGG file."
        ) from error
    if len(samples) == 0:
        raise SoundFileError("The file holds no sound.", "Export it again.")
    if not np.isfinite(samples).all():
        raise SoundFileError("The sound holds samples that are no numbers.", "Export it again.")
    mono = np.ascontiguousarray(samples.mean(axis=1), np.float32)
    every = -(-rate // MOST_SAMPLES_A_SECOND)
    if every > 1:
        # A mean over what is left out, so that nothing folds back from above.
        mono = mono[: len(mono) // every * every].reshape(-1, every).mean(axis=1)
        rate //= every
    return Track(np.ascontiguousarray(mono), rate)
