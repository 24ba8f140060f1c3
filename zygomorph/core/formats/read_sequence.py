"""A sequence of PNG pictures in a ZIP."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.read_image import MAX_PIXELS

MOST_PICTURES = 20_000
# Of all pictures together, unpacked.
MOST_BYTES = 20_000_000_000


@dataclass(frozen=True)
class Sequence:
    """names : of the pictures in their order; size : (columns, rows) of all of them"""

    path: Path
    names: tuple[str, ...]
    size: tuple[int, int]

    def pictures(self) -> Iterator[np.ndarray]:
        """(rows, columns, 4) uint8, straight alpha. Raises ZygomorphError where one cannot be read,
        or has another size."""
        with zipfile.ZipFile(self.path) as archive:
            for name in self.names:
                yield _read(archive, name, self.size)


def natural(name: str) -> list[tuple[int, int | str]]:
    """For sorting: picture 10 comes after picture 9."""
    parts = re.split(r"(\d+)", name)
    return [(1, int(part)) if part.isdigit() else (0, part) for part in parts]


def read_sequence(path: Path) -> Sequence:
    """The pictures of a ZIP. Raises ZygomorphError where it is none, or has none."""
    try:
        with zipfile.ZipFile(path) as archive:
            entries = [e for e in archive.infolist() if _is_picture(e.filename)]
            if not entries:
                raise ZygomorphError(
                    "The ZIP has no PNG pictures.", "Give one with name_0000.png and so on."
                )
            if len(entries) > MOST_PICTURES or sum(e.file_size for e in entries) > MOST_BYTES:
                raise ZygomorphError(
                    f"The ZIP has more than {MOST_PICTURES:,} pictures, or more than "
                    f"{MOST_BYTES / 1e9:.0f} GB.",
                    "Give it in parts.",
                )
            names = sorted((entry.filename for entry in entries), key=natural)
            first = _read(archive, names[0], None)
    except (zipfile.BadZipFile, NotImplementedError) as error:
        raise ZygomorphError(
            f"This is no ZIP that can be read: {error}.", "Pack it again."
        ) from error
    return Sequence(path, tuple(names), (first.shape[1], first.shape[0]))


def _is_picture(name: str) -> bool:
    parts = name.replace("\\", "/").split("/")
    # What systems put beside the files of a folder.
    hidden = any(part.startswith((".", "__")) for part in parts)
    return name.lower().endswith(".png") and not hidden


def _read(archive: zipfile.ZipFile, name: str, size: tuple[int, int] | None) -> np.ndarray:
    try:
        with Image.open(io.BytesIO(archive.read(name)), formats=("PNG",)) as image:
            if image.width * image.height > MAX_PIXELS:
                raise ZygomorphError(
                    f"{name} has more than {MAX_PIXELS:,} pixels.", "Make it smaller."
                )
            if size is not None and image.size != size:
                raise ZygomorphError(
                    f"{name} is {image.width} × {image.height}, the others {size[0]} × {size[1]}.",
                    "All pictures of a sequence have one size.",
                )
            return np.asarray(image.convert("RGBA"))
    except ZygomorphError:
        raise
    # Damaged files raise many kinds of errors.
    except Exception as error:
        raise ZygomorphError(f"{name} cannot be read: {error}.", "Save it again.") from error
