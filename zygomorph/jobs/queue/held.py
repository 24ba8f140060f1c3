"""Who works on a folder of jobs: one program at a time."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

try:
    import fcntl
except ImportError:  # not on Windows, where nothing stops a second program
    fcntl = None  # type: ignore[assignment]

LOCK = "lock"


class Held:
    """A folder that is this program's own for as long as it runs. The system gives it free when
    the program ends, however it does."""

    def __init__(self, folder: Path) -> None:
        self._path = folder / LOCK
        self._file: int | None = None

    def take(self) -> bool:
        """Whether it is this program's. Raises OSError where the folder cannot be written."""
        if self._file is not None or fcntl is None:
            return True
        file = os.open(self._path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC)
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            os.close(file)
            return False
        self._file = file
        return True

    def leave(self) -> None:
        if self._file is not None:
            with contextlib.suppress(OSError):
                os.close(self._file)
            self._file = None
