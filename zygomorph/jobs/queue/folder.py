"""A job as a folder: its order, the bundle of its study, its state, and the files of its units.

Files are written under a temporary name and renamed, so every file that is there is complete, and
after a crash only the missing units are made.
"""

from __future__ import annotations

import json
import os
import shutil
import time
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, field, fields
from pathlib import Path
from typing import Any, Literal

from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.delivery import PART, write_whole

State = Literal["waiting", "running", "paused", "done", "failed", "cancelled"]
ENDED: tuple[State, ...] = ("done", "failed", "cancelled")
ORDER, BUNDLE, STATE, FRAMES = "order.json", "study.zip", "state.json", "frames"
# Digits of a unit's number in its file name.
DIGITS = 6


@dataclass
class Record:
    """What is saved of a job.

    order : see :mod:`zygomorph.jobs.queue.orders`; total : number of units
    program : version of the program that began it
    created : seconds since 1970; rank : jobs are done in ascending order of it
    what : activity shown while it runs; message, hint : why it paused or failed
    costs, facts : seconds, and details, of each unit by its number
    spent : seconds that it has been running
    product : file name of the product within the folder; filename : name that it is downloaded as
    size : of the product, bytes; details : what the interface tells of it
    """

    id: str
    label: str
    order: dict[str, Any]
    total: int
    program: str
    created: float = field(default_factory=time.time)
    rank: float = field(default_factory=time.time)
    state: State = "waiting"
    what: str = ""
    message: str = ""
    hint: str = ""
    costs: dict[str, float] = field(default_factory=dict)
    facts: dict[str, dict[str, Any]] = field(default_factory=dict)
    spent: float = 0.0
    product: str = ""
    filename: str = ""
    size: int = 0
    details: list[dict[str, Any]] = field(default_factory=list)


# Fields that never change; they are saved once, apart from the others.
_FIXED = ("id", "label", "order", "total", "program", "created")


class JobFolder:
    def __init__(self, path: Path, record: Record) -> None:
        self.path, self.record = path, record

    @classmethod
    def make(
        cls, path: Path, record: Record, bundle: bytes, frames: Sequence[Path] = ()
    ) -> JobFolder:
        """Create the folder of a new job, atomically. Raises OSError.

        frames : PNGs that are its first units; they are linked, not moved
        """
        partial = path.with_name(path.name + PART)
        shutil.rmtree(partial, ignore_errors=True)
        try:
            (partial / FRAMES).mkdir(parents=True)
            made = cls(partial, record)
            told = asdict(record)
            write_whole(partial / ORDER, _json({name: told[name] for name in _FIXED}))
            write_whole(partial / BUNDLE, bundle)
            for number, frame in enumerate(frames):
                _also_at(frame, made.frame(number, "png"))
            made.save()
            partial.rename(path)
        except BaseException:
            shutil.rmtree(partial, ignore_errors=True)
            raise
        return cls(path, record)

    @classmethod
    def open(cls, path: Path) -> JobFolder:
        """Raises ZygomorphError if the folder holds no readable job."""
        try:
            told = json.loads((path / ORDER).read_text())
            state_file = path / STATE
            state = json.loads(state_file.read_text()) if state_file.exists() else {}
            known = {each.name for each in fields(Record)}
            record = Record(**{k: v for k, v in {**state, **told}.items() if k in known})
        except (OSError, ValueError, TypeError) as error:
            raise ZygomorphError(
                f"The job in {path} cannot be read: {error}.", "Remove its folder, or order again."
            ) from error
        return cls(path, record)

    def save(self) -> None:
        """Save the record. Raises OSError; the previous one stays then."""
        told = asdict(self.record)
        state = {name: value for name, value in told.items() if name not in _FIXED}
        write_whole(self.path / STATE, _json(state))

    def clear_parts(self) -> None:
        """Remove temporary files that a crash left. No other program may be writing."""
        for path in (*self.path.glob(f"*{PART}"), *(self.path / FRAMES).glob(f"*{PART}")):
            path.unlink(missing_ok=True)

    @property
    def bundle(self) -> bytes:
        return (self.path / BUNDLE).read_bytes()

    def frame(self, number: int, ending: str) -> Path:
        return self.path / FRAMES / f"{number:0{DIGITS}d}.{ending}"

    def has(self, number: int, endings: tuple[str, ...]) -> bool:
        return all(self.frame(number, ending).exists() for ending in endings)

    def done(self, endings: tuple[str, ...]) -> set[int]:
        """Numbers of the units that have files with all these extensions."""
        found: dict[int, set[str]] = {}
        for entry in os.scandir(self.path / FRAMES):
            name, _, ending = entry.name.partition(".")
            if name.isdigit():
                found.setdefault(int(name), set()).add(ending)
        return {number for number, own in found.items() if own >= set(endings)}

    def put(self, number: int, files: Mapping[str, bytes]) -> None:
        """Save the files of a unit, by extension: all of them, or none and OSError is raised."""
        kept: list[Path] = []
        try:
            for ending, data in files.items():
                path = self.frame(number, ending)
                write_whole(path, data)
                kept.append(path)
        except BaseException:
            for path in kept:
                path.unlink(missing_ok=True)
            raise

    def size_on_disk(self) -> int:
        return sum(path.stat().st_size for path in self.path.rglob("*") if path.is_file())

    def remove(self) -> None:
        """Delete the folder. It is renamed first, so that its name is free at once."""
        gone = self.path.with_name(f"{self.path.name}.removed")
        shutil.rmtree(gone, ignore_errors=True)
        try:
            self.path.rename(gone)
        except OSError:
            gone = self.path
        shutil.rmtree(gone, ignore_errors=True)


def _also_at(source: Path, path: Path) -> None:
    """A hard link to a file, or a copy where the file system has no links."""
    try:
        os.link(source, path)
    except OSError:
        shutil.copyfile(source, path)


def jobs_in(folder: Path) -> Iterator[JobFolder]:
    """The jobs in a folder, for the one program that works on them.

    Folders that cannot be read are left alone; those that were being created or deleted when the
    program ended are deleted.
    """
    for path in sorted(folder.iterdir()) if folder.is_dir() else ():
        if path.name.endswith((PART, ".removed")):
            shutil.rmtree(path, ignore_errors=True)
        elif (path / ORDER).is_file():
            try:
                found = JobFolder.open(path)
            except ZygomorphError:
                continue
            found.clear_parts()
            yield found


def _json(value: Any) -> bytes:
    return json.dumps(value, ensure_ascii=False).encode()
