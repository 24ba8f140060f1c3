"""Files that are delivered: their names, and how they are written."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

# How a file ends that is not whole yet.
PART = ".part"


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all, also after the power failed."""
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
    """Remove what deliveries of an earlier run left: nobody knows their jobs any more."""
    for path in folder.glob("*") if folder.is_dir() else ():
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
