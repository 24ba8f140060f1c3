"""What is wrong with a sound file."""

from __future__ import annotations

from zygomorph.core.errors import ZygomorphError


class SoundFileError(ZygomorphError):
    """A file is no sound that can be read."""
