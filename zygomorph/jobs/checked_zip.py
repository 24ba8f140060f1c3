"""Writes ZIP archives atomically, and reads them back before they count."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.delivery import PART


@contextmanager
def checked_zip(path: Path, compression: int = zipfile.ZIP_STORED) -> Iterator[zipfile.ZipFile]:
    """An archive to write to, which is at its path once it is complete and could be read back.

    compression : of entries that name none; deflated ones are packed quickly

    Raises ZygomorphError if it cannot be read back; OSError. There is no file then.
    """
    partial = path.with_name(path.name + PART)
    try:
        with zipfile.ZipFile(partial, "w", compression, compresslevel=1) as archive:
            yield archive
            names = archive.namelist()
        with zipfile.ZipFile(partial) as archive:
            if archive.testzip() is not None or archive.namelist() != names:
                raise ZygomorphError("The archive could not be read back.", "Try again.")
        partial.replace(path)
    finally:
        partial.unlink(missing_ok=True)
