"""Ensures that one program at a time works on a folder of jobs."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

try:
    import fcntl
except ImportError:  # on Windows, where nothing stops a second program
    fcntl = None  # type: ignore[assignment]

LOCK = "lock"


class FolderLock:
    """An advisory file lock, which the operating system releases when the process ends, even if it
    is killed."""

    def __init__(self, folder: Path) -> None:
        self._path = folder / LOCK
        self._file: int | None = None

    def acquire(self) -> bool:
        """Returns False if another process holds the lock. Raises OSError if the folder cannot be
        written."""
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

    def release(self) -> None:
        if self._file is not None:
            with contextlib.suppress(OSError):
                os.close(self._file)
            self._file = None
