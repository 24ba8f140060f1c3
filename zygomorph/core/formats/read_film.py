"""Read films and sequences of pictures into pictures that are each read by themselves.

A film is decoded once, when it is brought in; what is kept is a ZIP of its pictures, JPEG, or PNG
where they are see-through, so that any moment of it is found without the moments before.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageSequence, UnidentifiedImageError

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.clips import facts_of, pictures_in
from zygomorph.core.formats.read_image import FORMATS, MAX_PIXELS, PICTURE_ENDINGS, opened
from zygomorph.core.formats.read_sequence import natural

FILM_ENDINGS = (".mp4", ".m4v", ".mov", ".webm", ".gif", ".webp", ".zip")
MOST_PICTURES = 2000
# Of a picture's longer side; films that are larger are made smaller.
MOST_SIDE = 2048
MOST_BYTES = 400_000_000
QUALITY = 92
# In what a film is kept.
KEPT = ("JPEG", "PNG")
_DAMAGED = (UnidentifiedImageError, OSError, SyntaxError, ValueError, RuntimeError)


@dataclass(frozen=True)
class ReadFilm:
    """archive : bytes of a ZIP of pictures 0, 1, …; size : (columns, rows)
    rate : pictures a second, None of pictures without one"""

    archive: bytes
    frames: int
    size: tuple[int, int]
    rate: float | None


def read_film(given: Path) -> ReadFilm:
    """Raises MeshFileError with what is wrong."""
    with given.open("rb") as file:
        begin = file.read(12)
    if begin[:2] == b"PK":
        return _packed(_of_archive(given), None)
    if begin[:4] == b"GIF8" or (begin[:4] == b"RIFF" and begin[8:] == b"WEBP"):
        return _animated(given)
    return _video(given)


def _packed(pictures: Iterator[Image.Image], rate: float | None) -> ReadFilm:
    buffer, count, size = io.BytesIO(), 0, (0, 0)
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_STORED) as archive:
        for picture in pictures:
            if count == MOST_PICTURES:
                raise MeshFileError(
                    f"The film has more than {MOST_PICTURES:,} pictures.", "Give a part of it."
                )
            if max(picture.size) > MOST_SIDE:
                picture.thumbnail((MOST_SIDE, MOST_SIDE))
            if count and picture.size != size:
                raise MeshFileError(
                    f"Picture {count + 1} is {picture.width} × {picture.height}, those before "
                    f"{size[0]} × {size[1]}.",
                    "All pictures of a film have one size.",
                )
            size = picture.size
            archive.writestr(str(count), _encoded(picture))
            count += 1
            if buffer.tell() > MOST_BYTES:
                raise MeshFileError(
                    f"The film takes more than {MOST_BYTES / 1e6:.0f} MB as pictures.",
                    "Make it smaller or shorter.",
                )
    if count == 0:
        raise MeshFileError("The film has no pictures.", "Save it again.")
    return ReadFilm(buffer.getvalue(), count, size, rate)


def read_kept(given: Path) -> ReadFilm:
    """A film as this program keeps it, from a bundle: nothing of it is believed.

    Raises MeshFileError where a picture of it is not one.
    """
    size = (0, 0)
    try:
        with zipfile.ZipFile(given) as archive:
            count = len(archive.infolist())
            total = sum(entry.file_size for entry in archive.infolist())
            if not 0 < count <= MOST_PICTURES or total > 2 * MOST_BYTES:
                raise MeshFileError("This is no film that is kept.", "Bring it in again.")
            for number in range(count):
                with Image.open(io.BytesIO(archive.read(str(number))), formats=KEPT) as picture:
                    if max(picture.size) > MOST_SIDE or (number and picture.size != size):
                        raise MeshFileError(f"Picture {number} has another size.", "")
                    size = picture.size
                    picture.load()
    except (*_DAMAGED, KeyError, zipfile.BadZipFile, NotImplementedError) as error:
        raise MeshFileError(f"This film is damaged: {error}.", "Save the bundle again.") from error
    return ReadFilm(given.read_bytes(), count, size, None)


def _encoded(picture: Image.Image) -> bytes:
    buffer = io.BytesIO()
    rgba = picture.convert("RGBA")
    if np.asarray(rgba)[..., 3].min() == 255:
        rgba.convert("RGB").save(buffer, "JPEG", quality=QUALITY, subsampling=0)
    else:
        rgba.save(buffer, "PNG", compress_level=3)
    return buffer.getvalue()


def _of_archive(given: Path) -> Iterator[Image.Image]:
    try:
        with zipfile.ZipFile(given) as archive:
            entries = [e for e in archive.infolist() if _is_picture(e.filename)]
            if not entries:
                raise MeshFileError(
                    "The ZIP has no pictures.", "Give one with name_0000.png and so on."
                )
            for entry in sorted(entries, key=lambda e: natural(e.filename)):
                if entry.file_size > MOST_BYTES:
                    raise MeshFileError(f"{entry.filename} is too large.", "Make it smaller.")
                yield opened(archive.read(entry))
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError) as error:
        raise MeshFileError(f"This ZIP cannot be read: {error}.", "Pack it again.") from error


def _is_picture(name: str) -> bool:
    # What systems put beside the files of a folder begins so.
    hidden = any(part.startswith((".", "__")) for part in name.replace("\\", "/").split("/"))
    return name.lower().endswith(PICTURE_ENDINGS) and not hidden


def _animated(given: Path) -> ReadFilm:
    try:
        with Image.open(given, formats=("GIF", "WEBP")) as image:
            if image.width * image.height > MAX_PIXELS:
                raise MeshFileError("The film's pictures are too large.", "Make it smaller.")
            shown: list[float] = []

            def pictures() -> Iterator[Image.Image]:
                for each in ImageSequence.Iterator(image):
                    shown.append(float(each.info.get("duration", 0) or 0))
                    yield each.convert("RGBA")

            found = _packed(pictures(), None)
    except UnidentifiedImageError:
        raise MeshFileError("This is no film that can be read.", "Save it as MP4.") from None
    except (OSError, ValueError, SyntaxError) as error:
        raise MeshFileError(f"The film is damaged: {error}", "Save it again.") from error
    seconds = sum(shown) / 1000
    rate = found.frames / seconds if seconds > 0 else None
    return ReadFilm(found.archive, found.frames, found.size, rate)


def _video(given: Path) -> ReadFilm:
    try:
        facts = facts_of(given)
        if facts.width * facts.height > MAX_PIXELS:
            raise MeshFileError("The film's pictures are too large.", "Make it smaller.")
        found = _packed((Image.fromarray(each) for each in pictures_in(given)), float(facts.rate))
    except MeshFileError:
        raise
    # PyAV raises many kinds of errors on damaged files.
    except Exception as error:
        raise MeshFileError(
            f"This is no film that can be read: {error}",
            f"Save it as MP4, WebM or GIF, or as a ZIP of pictures ({', '.join(FORMATS)}).",
        ) from error
    return found
