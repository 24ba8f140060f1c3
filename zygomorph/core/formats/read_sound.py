"""Sound files: WAV, FLAC and OGG."""

from __future__ import annotations

import io

import numpy as np

from zygomorph.core.animation.sound.errors import SoundFileError
from zygomorph.core.values.sound.track import Track

FORMATS = ("WAV", "WAVEX", "FLAC", "OGG")
MAX_SECONDS = 900.0
# Finer than this nothing is heard of that moves a surface, and it would take memory.
MOST_SAMPLES_A_SECOND = 48_000
# Recorders go to 768,000.
MOST_RATE = 1_000_000
# Samples of a float file may go beyond -1 to 1, not this far.
LOUDEST = 1e4
BLOCK = 65_536


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
            rate = int(file.samplerate)
            if not 0 < rate <= MOST_RATE:
                raise SoundFileError(
                    f"The sound has {rate:,} samples a second; the limit is {MOST_RATE:,}.",
                    "Export it with 44,100 or 48,000 samples a second.",
                )
            # Its channels are mixed piece by piece: all of them at once would take many times the
            # memory.
            blocks = file.blocks(BLOCK, dtype="float32", always_2d=True)
            mixed = [block.mean(axis=1) for block in blocks]
    except soundfile.SoundFileError as error:
        raise SoundFileError(
            "This is no sound that can be read.", "Bring in a WAV, FLAC or OGG file."
        ) from error
    mono = np.concatenate([np.zeros(0, np.float32), *mixed])
    if len(mono) == 0:
        raise SoundFileError("The file holds no sound.", "Export it again.")
    if not np.isfinite(mono).all() or np.abs(mono).max() > LOUDEST:
        raise SoundFileError(
            "The sound holds samples that are no numbers, or far too large.", "Export it again."
        )
    every = -(-rate // MOST_SAMPLES_A_SECOND)
    if every > 1:
        # A mean over what is left out, so that nothing folds back from above.
        mono = mono[: len(mono) // every * every].reshape(-1, every).mean(axis=1)
        rate //= every
    return Track(np.ascontiguousarray(mono), rate)
