"""Units on their way to workers, with all that they need."""

from __future__ import annotations

import hashlib
import time
import uuid
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from zygomorph.jobs.queue import units
from zygomorph.jobs.queue.live import Attempt, Live, Unit

if TYPE_CHECKING:
    from distributed import Client


class Sender:
    """came_back : is told of the job and the key of an attempt when there is an answer"""

    def __init__(self, came_back: Callable[[str, str], None]) -> None:
        self._came_back = came_back
        self._studies: dict[str, Any] = {}

    def forget(self, job_id: str | None = None) -> None:
        """What is sent of a job; of all where the cluster was lost."""
        if job_id is None:
            self._studies.clear()
        else:
            self._studies.pop(job_id, None)

    def send(self, client: Client, job: Live, unit: Unit, worker: str, copy: bool = False) -> bool:
        """Give a unit to a worker; another one has it where that one dies. Returns whether all that
        it needs was there.

        Raises what Dask does where it cannot be given.
        """
        states = None
        if job.walking is not None:
            states = self._states(job, unit)
            if states is None and not unit.stepped:
                return False
        work, numbers = self._task(job, unit)
        if job.record.state == "waiting":
            job.record.state = "running"
            job.run += 1
            job.began, job.ended_here = time.monotonic(), 0
            job.keep()
        key = f"{job.name}-{unit.number}-{uuid.uuid4().hex[:6]}"
        future = client.submit(
            work,
            job.record.program,
            job.name,
            self._study(client, job),
            job.record.order,
            numbers,
            states,
            key=key,
            workers=[worker],
            # Others wait for what is stepped.
            priority=1 if unit.stepped else 0,
            allow_other_workers=True,
            pure=False,
            retries=0,
        )
        job.attempts[key] = Attempt(unit, worker, future, time.monotonic(), copy)
        future.add_done_callback(lambda _: self._came_back(job.record.id, key))
        return True

    @staticmethod
    def _states(job: Live, unit: Unit) -> bytes | None:
        """Of what remembers, at a frame, or where it is stepped on from."""
        assert job.walking is not None  # it was asked for
        if unit.stepped is None:
            return job.walking.get(unit.number)
        before = max((k for k in job.walking.known if k < unit.number), default=None)
        return None if before is None else job.walking.get(before)

    @staticmethod
    def _task(job: Live, unit: Unit) -> tuple[Callable[..., units.Made], Any]:
        """What is to be done, with which numbers."""
        if unit.stepped is not None:
            return units.step, (unit.stepped.start, unit.stepped.stop)
        if unit.tile is None or job.tiling is None:
            return units.work, unit.number
        rows = job.tiling.rows[unit.tile]
        return units.tile, (unit.number, rows.start, rows.stop)

    def _study(self, client: Client, job: Live) -> Any:
        """The study of a job, as a task by its content."""
        known = self._studies.get(job.record.id)
        if known is None:
            data = job.folder.bundle
            key = f"study-{hashlib.blake2b(data, digest_size=12).hexdigest()}"
            known = self._studies[job.record.id] = client.submit(units.kept, data, key=key)
        return known
