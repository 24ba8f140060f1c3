"""A job while the program runs: which units are done, which are being made, and its progress."""

from __future__ import annotations

import threading
import time
from concurrent.futures import Future as LocalFuture
from dataclasses import dataclass, field
from functools import cached_property
from statistics import median
from typing import Any

from zygomorph.core.document.study import Study
from zygomorph.core.formats.bundle import read_bundle
from zygomorph.jobs.queue.folder import ENDED, JobFolder, Record
from zygomorph.jobs.queue.kinds import endings_of
from zygomorph.jobs.queue.orders import ClipOrder, FinalOrder, MeshOrder, Order, from_data
from zygomorph.jobs.queue.stepping import SavedStates, is_stepped_ahead
from zygomorph.jobs.queue.tiling import Tiling, tiles_of
from zygomorph.jobs.queue.work_unit import Attempt, WorkUnit

SAVED_EVERY_S = 1.0
# Share of the progress that drawing counts for; the rest is encoding.
DRAWING = 0.95
# Number of latest units from whose durations that of the next is estimated.
RECENT = 24


@dataclass
class ActiveJob:
    """A job, and what is known of it only while the program runs.

    done : numbers of the units whose files are there
    run : number of times it was started or resumed; tasks of earlier runs are ignored
    attempts : units that workers have, by the keys of their futures
    began : time.monotonic() when this run started; ended_here : units done since
    finishing : the thread that makes the product of the units; share : its progress, 0 to 1
    stop : set to abandon that
    saved : time.monotonic() of the last save
    waits_for : why no worker has a unit of it, or ""
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
    def of(cls, folder: JobFolder) -> ActiveJob:
        """Raises ZygomorphError if another version of the program ordered it."""
        order = from_data(folder.record.order)
        found = cls(folder, order, folder.done(endings_of(order)))
        if found.is_cache and folder.record.state not in ENDED and found.saved_states is not None:
            found.done = set(found.saved_states.known)
        return found

    @property
    def is_cache(self) -> bool:
        """Whether it is a simulation cache, which has states and no frames."""
        return isinstance(self.order, MeshOrder) and self.order.kind == "cache"

    @property
    def record(self) -> Record:
        return self.folder.record

    @property
    def name(self) -> str:
        """Name of the current run."""
        return f"{self.record.id}.{self.run}"

    @cached_property
    def study(self) -> Study:
        return Study(read_bundle(self.folder.bundle).document)

    @property
    def has_pictures(self) -> bool:
        return not isinstance(self.order, MeshOrder)

    @property
    def size(self) -> tuple[int, int]:
        """(columns, rows) of its pictures; zeros if it has none."""
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
    def saved_states(self) -> SavedStates | None:
        """States of systems and memory masks; None if the study has neither."""
        if not is_stepped_ahead(self.study, self.order, self.record.total):
            return None
        return SavedStates(self.folder.path, self.record.total)

    @cached_property
    def tiling(self) -> Tiling | None:
        """Tiles of its frames; None if these are drawn whole."""
        rows = tiles_of(self.order, self.record.total)
        return Tiling(self.folder.path, rows) if rows else None

    @property
    def picture_count(self) -> int:
        """Number of pictures that are shown; the units after them are traced for trails alone."""
        if not self.has_pictures:
            return 0
        extra = len(self.order.trail_times) if isinstance(self.order, FinalOrder) else 0
        return self.record.total - extra

    def missing(self) -> list[WorkUnit]:
        """Units that a worker could begin: neither done nor being made, and, where the study has
        state, with known states. By number."""
        if self.is_cache:
            return []
        found = [WorkUnit(k) for k in range(self.record.total) if k not in self.done]
        if self.saved_states is not None:
            found = [unit for unit in found if unit.number in self.saved_states.known]
        if self.tiling is not None:
            found = [
                WorkUnit(unit.number, tile)
                for unit in found
                for tile in self.tiling.missing(unit.number)
            ]
        taken = {attempt.unit for attempt in self.attempts.values()}
        return [unit for unit in found if unit not in taken]

    def to_step(self) -> list[WorkUnit]:
        """The next range of frames to compute states for; empty if a worker has one."""
        if self.saved_states is None or any(a.unit.stepped for a in self.attempts.values()):
            return []
        numbers = self.saved_states.next_range(self.done)
        return [] if numbers is None else [WorkUnit(numbers.start, stepped=numbers)]

    def to_join(self) -> list[int]:
        """Frames whose tiles are all there."""
        tiling = self.tiling
        if tiling is None:
            return []
        left = (k for k in range(self.record.total) if k not in self.done)
        return [k for k in left if k not in tiling.joining and not tiling.missing(k)]

    @property
    def is_whole(self) -> bool:
        return len(self.done) >= self.record.total

    def size_of_frames(self) -> int:
        """Bytes of all files of its units."""
        endings = endings_of(self.order)
        files = (self.folder.frame(k, ending) for k in self.done for ending in endings)
        return sum(file.stat().st_size for file in files)

    def usual_seconds(self) -> float | None:
        """Median duration of the latest units."""
        recent = list(self.record.costs.values())[-RECENT:]
        return median(recent) if recent else None

    def seconds_left(self) -> float | None:
        """Estimated from the units of this run."""
        if self.record.state != "running" or self.began is None or not self.ended_here:
            return None
        spent = time.monotonic() - self.began
        return spent / self.ended_here * (self.record.total - len(self.done))

    def save(self, at_once: bool = True) -> None:
        """Save its record. On a full disk the previous one stays, which is only older.

        at_once : otherwise at most once a second, where losing a second of it does not matter
        """
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
                "frames": sorted(k for k in self.done if k < self.picture_count),
                "pictures": self.picture_count,
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
        """Share of its units that is done, 0 to 1."""
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
        if not self.done and self.saved_states is not None and self.record.state == "running":
            return f"stepping systems and memory, {len(self.saved_states.known):,} frames so far"
        if self.tiling is not None:
            there = len(self.tiling.known) + len(self.tiling.rows) * len(self.done)
            return f"{there:,} of {len(self.tiling.rows) * record.total:,} tiles"
        extra = record.total - self.picture_count if self.has_pictures else 0
        one = "frame" if record.total > 1 else "file"
        more = f", {extra:,} of them for trails" if extra else ""
        return (
            f"{len(self.done):,} of {record.total:,} {one}{'s' if record.total > 1 else ''}{more}"
        )
