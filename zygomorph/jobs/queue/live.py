"""A job while the program runs: what of it is there, what is being made, and how long it takes."""

from __future__ import annotations

import threading
import time
from concurrent.futures import Future as LocalFuture
from dataclasses import dataclass, field
from functools import cached_property
from statistics import median
from typing import TYPE_CHECKING, Any

from zygomorph.core.document.study import Study
from zygomorph.core.formats.bundle import read_bundle
from zygomorph.jobs.queue.folder import ENDED, JobFolder, Record
from zygomorph.jobs.queue.kinds import endings_of
from zygomorph.jobs.queue.orders import ClipOrder, MeshOrder, Order, from_data
from zygomorph.jobs.queue.tiling import Tiling, tiles_of
from zygomorph.jobs.queue.walking import Walking, is_walked

if TYPE_CHECKING:
    from distributed import Future

SAVED_EVERY_S = 1.0
# Of the work of a clip, drawing is by far the most.
DRAWING = 0.95
# Among so many of the last frames the next takes about as long.
RECENT = 24


@dataclass(frozen=True)
class Unit:
    """What a worker makes: a frame, a tile of one, or nothing but steps of what remembers.

    stepped : the frames through which it is stepped
    """

    number: int
    tile: int | None = None
    stepped: range | None = None


@dataclass
class Attempt:
    """A unit that a worker has, by its address. copy : whether another one has it too"""

    unit: Unit
    worker: str
    future: Future
    started: float
    copy: bool = False


@dataclass
class Live:
    """run : how often it was begun or went on
    attempts : by the keys of their futures; done : numbers of the units that are there
    finishing : the work on what is taken away; share : how far that is
    """

    folder: JobFolder
    order: Order
    done: set[int]
    run: int = 0
    attempts: dict[str, Attempt] = field(default_factory=dict)
    began: float | None = None
    ended_here: int = 0
    finishing: LocalFuture[Any] | None = None
    share: float = 0.0
    stop: threading.Event = field(default_factory=threading.Event)
    saved: float = 0.0
    waits_for: str = ""

    @classmethod
    def of(cls, folder: JobFolder) -> Live:
        """Raises ZygomorphError where its order is none of this program's."""
        order = from_data(folder.record.order)
        found = cls(folder, order, folder.done(endings_of(order)))
        if found.is_cache and folder.record.state not in ENDED and found.walking is not None:
            found.done = set(found.walking.known)
        return found

    @property
    def is_cache(self) -> bool:
        """Whether nothing is made but steps of what remembers."""
        return isinstance(self.order, MeshOrder) and self.order.kind == "cache"

    @property
    def record(self) -> Record:
        return self.folder.record

    @property
    def name(self) -> str:
        """Of the present run."""
        return f"{self.record.id}.{self.run}"

    @cached_property
    def study(self) -> Study:
        return Study(read_bundle(self.folder.bundle).document)

    @property
    def has_pictures(self) -> bool:
        return not isinstance(self.order, MeshOrder)

    @property
    def size(self) -> tuple[int, int]:
        """(columns, rows) of its pictures; zeros where it has none."""
        return (0, 0) if isinstance(self.order, MeshOrder) else self.order.size

    @property
    def rate(self) -> float:
        """Pictures a second."""
        if isinstance(self.order, ClipOrder):
            return self.order.own_rate
        if isinstance(self.order, MeshOrder):
            return float(self.study.loop.rate)
        return round(float(self.order.pictures_a_second(self.study.loop)), 3)

    @cached_property
    def walking(self) -> Walking | None:
        """The states of what remembers; None where nothing does."""
        if not is_walked(self.study, self.order, self.record.total):
            return None
        return Walking(self.folder.path, self.record.total)

    @cached_property
    def tiling(self) -> Tiling | None:
        """The tiles of its frames; None where these are not cut."""
        rows = tiles_of(self.order, self.record.total)
        return Tiling(self.folder.path, rows) if rows else None

    def missing(self) -> list[Unit]:
        """Units that are neither there nor with a worker, and for which all is known, in their
        order."""
        if self.is_cache:
            return []
        found = [Unit(k) for k in range(self.record.total) if k not in self.done]
        if self.walking is not None:
            found = [unit for unit in found if unit.number in self.walking.known]
        if self.tiling is not None:
            found = [
                Unit(unit.number, tile)
                for unit in found
                for tile in self.tiling.missing(unit.number)
            ]
        taken = {attempt.unit for attempt in self.attempts.values()}
        return [unit for unit in found if unit not in taken]

    def to_step(self) -> list[Unit]:
        """Through which frames what remembers is to be stepped, unless a worker does so already."""
        if self.walking is None or any(a.unit.stepped for a in self.attempts.values()):
            return []
        numbers = self.walking.next(self.done)
        return [] if numbers is None else [Unit(numbers.start, stepped=numbers)]

    def to_join(self) -> list[int]:
        """Frames of which all tiles are there."""
        tiling = self.tiling
        if tiling is None:
            return []
        left = (k for k in range(self.record.total) if k not in self.done)
        return [k for k in left if k not in tiling.joining and not tiling.missing(k)]

    @property
    def is_whole(self) -> bool:
        return len(self.done) >= self.record.total

    def size_of_frames(self) -> int:
        """Bytes of all that is there."""
        endings = endings_of(self.order)
        files = (self.folder.frame(k, ending) for k in self.done for ending in endings)
        return sum(file.stat().st_size for file in files)

    def usual_seconds(self) -> float | None:
        recent = list(self.record.costs.values())[-RECENT:]
        return median(recent) if recent else None

    def seconds_left(self) -> float | None:
        """By what was made since it went on."""
        if self.record.state != "running" or self.began is None or not self.ended_here:
            return None
        spent = time.monotonic() - self.began
        return spent / self.ended_here * (self.record.total - len(self.done))

    def keep(self, at_once: bool = True) -> None:
        """Save its state; at times, where it is no matter if a second of it is lost. On a full
        disk the state before stays, which is only older."""
        now = time.monotonic()
        if not at_once and now - self.saved < SAVED_EVERY_S:
            return
        self.saved = now
        try:
            self.folder.save()
        except OSError:
            return

    def describe(self) -> dict[str, Any]:
        record = self.record
        share = self.share_drawn()
        if record.state == "done":
            share = 1.0
        elif self.has_pictures:
            share = DRAWING * share + (1 - DRAWING) * self.share
        left = self.seconds_left()
        return {
            "id": record.id,
            "label": record.label,
            "state": record.state,
            "share": round(share, 4),
            "what": self.what(),
            "message": record.message,
            "hint": record.hint,
            "filename": record.filename,
            "details": record.details,
            "size": record.size,
            "seconds_left": None if left is None else round(left, 1),
            "queued": {
                "sort": record.order["order"],
                "kind": record.order["kind"],
                "total": record.total,
                "done": len(self.done),
                "frames": sorted(self.done) if self.has_pictures else [],
                "costs": [record.costs.get(str(k)) for k in range(record.total)],
                "created": record.created,
                "rank": record.rank,
                "spent": round(record.spent, 1),
                "width": self.size[0],
                "height": self.size[1],
                "rate": self.rate,
            },
        }

    def share_drawn(self) -> float:
        """How much of it is there."""
        count = float(len(self.done))
        if self.tiling is not None:
            count += len(self.tiling.known) / len(self.tiling.rows)
        return min(1.0, count / max(self.record.total, 1))

    def what(self) -> str:
        record = self.record
        if record.state in ENDED or record.state == "paused":
            return ""
        if record.state == "waiting" and not self.done and not self.waits_for:
            return "waiting for its turn"
        if self.waits_for:
            return self.waits_for
        if self.finishing is not None:
            return record.what or "putting it together"
        if not self.done and self.walking is not None and self.record.state == "running":
            return f"stepping what remembers, {len(self.walking.known):,} frames so far"
        if self.tiling is not None:
            there = len(self.tiling.known) + len(self.tiling.rows) * len(self.done)
            return f"{there:,} of {len(self.tiling.rows) * record.total:,} tiles"
        one = "frame" if record.total > 1 else "file"
        return f"{len(self.done):,} of {record.total:,} {one}{'s' if record.total > 1 else ''}"
