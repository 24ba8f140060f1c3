"""A study with the files that it uses, in one ZIP.

``study.json`` is the document, ``files.json`` tells the names of the files, and each of them lies
in ``files/`` under the SHA-256 of its bytes. ``presets.json`` has the presets that its groups were
made of, where there are some. The same study gives the same bytes.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import struct
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from zygomorph.core.document.groups import check_preset
from zygomorph.core.document.study import Study, parse_study
from zygomorph.core.errors import ZygomorphError

STUDY, FILES, PRESETS, FOLDER = "study.json", "files.json", "presets.json", "files/"
MOST_FILES = 1000
MOST_PRESETS = 200
# Of all that is in it together, and of the two files that are read as text.
MOST_BYTES = 4_000_000_000
MOST_TEXT = 64_000_000
# A file is packed at most so many times smaller than it is; an archive that is made to fill a disk
# is far beyond that. What is small may be anything.
MOST_RATIO = 200
SMALL = 10_000_000
# The time of all entries; ZIP begins there.
EPOCH = (1980, 1, 1, 0, 0, 0)


# What reading a damaged archive raises, by which of its bytes are wrong.
UNREADABLE = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    EOFError,
    NotImplementedError,
    OSError,
    RuntimeError,
    ValueError,
)


@dataclass(frozen=True)
class BundledFile:
    """report : what was found when it was brought in"""

    digest: str
    filename: str
    data: bytes
    report: Mapping[str, Any]


@dataclass(frozen=True)
class Bundle:
    document: Mapping[str, Any]
    files: tuple[BundledFile, ...]
    presets: tuple[Mapping[str, Any], ...] = ()

    @property
    def study(self) -> Study:
        """Checked, without its files."""
        return parse_study(json.dumps(self.document).encode())


def write_bundle(
    document: Mapping[str, Any],
    files: Sequence[BundledFile],
    presets: Sequence[Mapping[str, Any]] = (),
) -> bytes:
    """A ZIP with a study, the files that it uses, and documents of presets."""
    told = [{"digest": f.digest, "filename": f.filename, "report": dict(f.report)} for f in files]
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:

        def put(name: str, data: bytes) -> None:
            entry = zipfile.ZipInfo(name, EPOCH)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o644 << 16
            archive.writestr(entry, data)

        put(STUDY, _text(document))
        put(FILES, _text(told))
        if presets:
            put(PRESETS, _text([dict(each) for each in presets]))
        for file in files:
            put(FOLDER + file.digest, file.data)
    return out.getvalue()


def _text(value: Any) -> bytes:
    return (json.dumps(value, indent=1, ensure_ascii=False) + "\n").encode()


def read_bundle(data: bytes) -> Bundle:
    """What is in a bundle: nothing is written anywhere, whatever its entries are called.

    Raises ZygomorphError where it is none, where a file is not what its name says, or where it is
    made to take more room than a study can; DocumentError where the study is wrong.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return _read(archive)
    except UNREADABLE as error:
        raise ZygomorphError(
            f"This is no bundle that can be read: {error}.", "Save it again from the gallery."
        ) from error


def _read(archive: zipfile.ZipFile) -> Bundle:
    entries = {entry.filename: entry for entry in archive.infolist() if not entry.is_dir()}
    if len(archive.infolist()) > MOST_FILES + 4:
        raise ZygomorphError(
            f"This bundle has {len(archive.infolist()):,} entries.",
            f"A study uses {MOST_FILES:,} files at most.",
        )
    if sum(entry.file_size for entry in entries.values()) > MOST_BYTES:
        raise ZygomorphError("This bundle is larger than a study can be.", "Bring in less.")
    if STUDY not in entries:
        raise ZygomorphError(
            f"There is no {STUDY} in this archive.", "Give a ZIP that was saved as a bundle."
        )
    document = parse_study(_entry(archive, entries[STUDY], MOST_TEXT)).document
    told = _told(archive, entries)
    files = []
    for each in told:
        entry = entries.get(FOLDER + each["digest"])
        if entry is None:
            raise ZygomorphError(
                f"The file {each['filename']!r} is not in this bundle.", "Save it again."
            )
        found = _entry(archive, entry, MOST_BYTES)
        if hashlib.sha256(found).hexdigest() != each["digest"]:
            raise ZygomorphError(
                f"The file {each['filename']!r} of this bundle is damaged.", "Copy it again."
            )
        files.append(BundledFile(each["digest"], each["filename"], found, each["report"]))
    return Bundle(document, tuple(files), tuple(_presets(archive, entries)))


def _entry(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, most: int) -> bytes:
    """The bytes of an entry, of which no more are unpacked than it says that it has."""
    packed = max(entry.compress_size, 1)
    if entry.file_size > most or (
        entry.file_size > SMALL and entry.file_size / packed > MOST_RATIO
    ):
        raise ZygomorphError(
            f"{entry.filename!r} in this archive unpacks to {entry.file_size:,} bytes.",
            "That is no file of a study.",
        )
    with archive.open(entry) as file:
        found = file.read(entry.file_size + 1)
    if len(found) != entry.file_size:
        raise ZygomorphError(f"{entry.filename!r} is not as long as it says.", "Save it again.")
    return found


def _listed(
    archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo], name: str, most: int
) -> list[Any]:
    """What an entry lists; nothing where there is no such entry."""
    if name not in entries:
        return []
    wrong = ZygomorphError(f"{name} in this bundle cannot be read.", "Save it again.")
    try:
        listed = json.loads(_entry(archive, entries[name], MOST_TEXT))
    except ValueError as error:
        raise wrong from error
    if not isinstance(listed, list) or len(listed) > most:
        raise wrong
    return listed


def _told(archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo]) -> list[dict[str, Any]]:
    """What files.json tells, checked; none where there is no such file."""
    told = _listed(archive, entries, FILES, MOST_FILES)
    for each in told:
        known = isinstance(each, dict) and isinstance(each.get("report"), dict)
        if known:
            known = all(isinstance(each.get(k), str) for k in ("digest", "filename"))
        if not known or not re.fullmatch("[0-9a-f]{64}", each["digest"]):
            raise ZygomorphError(f"{FILES} in this bundle cannot be read.", "Save it again.")
    return told


def _presets(
    archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo]
) -> list[dict[str, Any]]:
    """Documents of presets, checked. Raises DocumentError where one is wrong."""
    return [check_preset(each) for each in _listed(archive, entries, PRESETS, MOST_PRESETS)]
