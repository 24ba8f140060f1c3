"""Many studies in one ZIP: an archive whose entries are bundles, or plain documents."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import BinaryIO

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.bundle import EPOCH, MOST_BYTES, STUDY, UNREADABLE

MOST_STUDIES = 1000
ENDINGS = (".zip", ".json")
# Begins as an archive, and is none.
DAMAGED = b"PK\x03\x04"


@dataclass(frozen=True)
class Packed:
    """A study as it lies in a file. name : of that file"""

    name: str
    data: bytes


def is_archive(data: bytes) -> bool:
    return data[:4] in (b"PK\x03\x04", b"PK\x05\x06")


def write_collection(studies: Iterable[Packed], out: BinaryIO) -> int:
    """Write studies into one ZIP, each under a name of its own; returns how many there were."""
    taken: set[str] = set()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for study in studies:
            # They are packed already.
            archive.writestr(zipfile.ZipInfo(free_name(study.name, taken), EPOCH), study.data)
    return len(taken)


def free_name(name: str, taken: set[str]) -> str:
    """A file name that is not taken yet, which it is from now on: "a.zip", "a-2.zip", …"""
    stem, dot, ending = name.rpartition(".")
    found, k = name, 1
    while found in taken:
        k += 1
        found = f"{stem}-{k}{dot}{ending}"
    taken.add(found)
    return found


def studies_in(data: bytes, name: str) -> Iterator[Packed]:
    """The studies of a file: of a bundle or a document itself, of any other ZIP all bundles and
    documents in it, in the order of their names.

    Raises ZygomorphError where it is a ZIP that cannot be read or has no study.
    """
    if not is_archive(data):
        yield Packed(name, data)
        return
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if STUDY in archive.namelist():
                yield Packed(name, data)
                return
            yield from _each(archive)
    except UNREADABLE as error:
        raise ZygomorphError(
            f"This ZIP cannot be read: {error}.", "Save it again, or copy it again."
        ) from error


def _each(archive: zipfile.ZipFile) -> Iterator[Packed]:
    entries = [e for e in archive.infolist() if is_study_file(e.filename) and not e.is_dir()]
    if not entries:
        raise ZygomorphError(
            "There is no study in this ZIP.",
            "Give a study that was saved with all it uses, or a ZIP of such.",
        )
    if len(entries) > MOST_STUDIES or sum(e.file_size for e in entries) > MOST_BYTES:
        raise ZygomorphError("There is more in this ZIP than can be taken.", "Give a part of it.")
    for entry in sorted(entries, key=lambda e: e.filename):
        name = entry.filename.rsplit("/", 1)[-1]
        try:
            with archive.open(entry) as file:
                # No more than it says that it has, whatever it unpacks to.
                data = file.read(entry.file_size)
        except UNREADABLE:
            # Whoever reads it says so, and goes on with the others.
            data = DAMAGED
        yield Packed(name, data)


def is_study_file(name: str) -> bool:
    """Whether a file is looked into for a study; what systems put beside files is not."""
    parts = name.replace("\\", "/").split("/")
    hidden = any(part.startswith((".", "__")) for part in parts)
    return name.lower().endswith(ENDINGS) and not hidden
