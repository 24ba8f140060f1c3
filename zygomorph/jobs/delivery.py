"""Atomic writing of delivered files."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

# Suffix of files that are being written.
PART = ".part"


def write_whole(path: Path, data: bytes) -> None:
    """Write a file atomically, also with respect to a power failure."""
    partial = path.with_name(path.name + PART)
    try:
        with partial.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        partial.replace(path)
    except BaseException:
        partial.unlink(missing_ok=True)
        raise


def clear_left(folder: Path) -> None:
    """Remove deliveries of an earlier run, whose jobs are not known any more."""
    for path in folder.glob("*") if folder.is_dir() else ():
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
