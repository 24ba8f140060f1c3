"""A job as a folder: its order, its study with all it uses, its state, and its frames.

Everything is written under another name and renamed, so that what is there is whole; a job goes on
after a crash with what is missing.
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
# Of a frame's number in its name.
DIGITS = 6


@dataclass
class Record:
    """What a job is, and how far it is.

    order : see :mod:`zygomorph.jobs.queue.orders`; total : units
    program : the version that began it
    rank : place in the queue, the lower the earlier
    costs : seconds of each unit, by its number; facts : what is told of units, by theirs
    spent : seconds since it first ran, without those in which it stood still
    product : name of the file that it made, in its folder; filename : as it is taken away
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


# What never changes is kept apart from what does.
_FIXED = ("id", "label", "order", "total", "program", "created")


class JobFolder:
    def __init__(self, path: Path, record: Record) -> None:
        self.path, self.record = path, record

    @classmethod
    def make(
        cls, path: Path, record: Record, bundle: bytes, frames: Sequence[Path] = ()
    ) -> JobFolder:
        """Begin a job: it is there whole or not at all. Raises OSError where it cannot be.

        frames : PNGs that it has from the beginning, which stay where they are as well
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
        """Raises ZygomorphError where it is no job that can be read."""
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
        """Keep its state. Raises OSError where it cannot be written; the last one stays then."""
        told = asdict(self.record)
        state = {name: value for name, value in told.items() if name not in _FIXED}
        write_whole(self.path / STATE, _json(state))

    def clear_parts(self) -> None:
        """Remove what a crash left half written; only where no program is writing."""
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
        """Numbers of the units whose files are all there."""
        found: dict[int, set[str]] = {}
        for entry in os.scandir(self.path / FRAMES):
            name, _, ending = entry.name.partition(".")
            if name.isdigit():
                found.setdefault(int(name), set()).add(ending)
        return {number for number, own in found.items() if own >= set(endings)}

    def put(self, number: int, files: Mapping[str, bytes]) -> None:
        """Keep the files of a unit, by their endings. Raises OSError, and keeps none then."""
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
        """All of it. Its name is free at once, however long that takes."""
        gone = self.path.with_name(f"{self.path.name}.removed")
        shutil.rmtree(gone, ignore_errors=True)
        try:
            self.path.rename(gone)
        except OSError:
            gone = self.path
        shutil.rmtree(gone, ignore_errors=True)


def _also_at(source: Path, path: Path) -> None:
    """The same file under another name; a copy where the disk has no such thing."""
    try:
        os.link(source, path)
    except OSError:
        shutil.copyfile(source, path)


def jobs_in(folder: Path) -> Iterator[JobFolder]:
    """The jobs that are kept in a folder, for the one program that works on them.

    What cannot be read is left where it is; what was being made or removed when the program ended
    is removed.
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
