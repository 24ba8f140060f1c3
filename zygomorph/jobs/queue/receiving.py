"""Receives the results of tasks: saves what workers made, and fails or pauses jobs."""

from __future__ import annotations

import queue
import traceback
from collections.abc import Callable
from typing import TYPE_CHECKING

from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.finishing import cannot_write
from zygomorph.jobs.queue.job_table import JobTable
from zygomorph.jobs.queue.making import TRACED, Made
from zygomorph.jobs.queue.work_unit import Attempt, WorkUnit

if TYPE_CHECKING:
    from distributed import Future

FETCHED_S = 120


class Receiver:
    """Results arrive on Dask's threads by :meth:`ended` and are taken on the queue's by
    :meth:`receive`.

    refuse : called with the address of a worker that has another version, and that version
    """

    def __init__(self, table: JobTable, refuse: Callable[[str, str], None]) -> None:
        self._table, self._refuse = table, refuse
        self._ended: queue.SimpleQueue[tuple[str, str]] = queue.SimpleQueue()

    def ended(self, job_id: str, key: str) -> None:
        """A task has ended, in whatever way. key : of its attempt"""
        self._ended.put((job_id, key))
        self._table.wake.set()

    def receive(self) -> None:
        """Take the results of all tasks that have ended."""
        while True:
            try:
                job_id, key = self._ended.get_nowait()
            except queue.Empty:
                return
            job = self._table.find(job_id)
            attempt = job.attempts.pop(key, None) if job else None
            if job is None or attempt is None or job.record.state != "running":
                continue
            try:
                self._receive(job, attempt)
            except Exception as error:
                traceback.print_exc()
                self._table.fail(job, f"It stopped on an error of the program: {error!r}.")

    def _receive(self, job: ActiveJob, attempt: Attempt) -> None:
        unit = attempt.unit
        if unit.stepped is None and unit.number in job.done:
            return
        made = self._result(job, unit, attempt.future)
        if made is None:
            return
        if made.program != job.record.program:
            self._refuse(made.worker, made.program)
        elif made.error is not None:
            self._table.fail(job, *made.error)
        else:
            self._save(job, unit, made)

    def _save(self, job: ActiveJob, unit: WorkUnit, made: Made) -> None:
        try:
            if unit.stepped:
                self._save_states(job, made)
            elif unit.tile is not None:
                self._save_tile(job, unit, made)
            else:
                self.save_unit(job, unit.number, made)
        except OSError as error:
            self._table.end(job, cannot_write(job, error))

    def _result(self, job: ActiveJob, unit: WorkUnit, future: Future) -> Made | None:
        """None if the unit has to be submitted again, or if the job has failed."""
        from distributed.scheduler import KilledWorker

        if future.status in ("cancelled", "lost", "pending"):
            return None
        if future.status == "error":
            error = future.exception(timeout=FETCHED_S)
            if isinstance(error, KilledWorker):
                self._table.fail(
                    job,
                    f"Frame {unit.number} ended every worker that it was given to.",
                    "It may need more memory than they have; choose a smaller size.",
                )
            elif job.record.state == "running":
                self._table.fail(job, f"The work stopped on an error of the program: {error!r}.")
            return None
        try:
            made = future.result(timeout=FETCHED_S)
        except Exception:
            # The worker died before its result was fetched.
            return None
        if not isinstance(made, Made):
            raise TypeError(f"the task returned {type(made).__name__}")
        return made

    def _save_states(self, job: ActiveJob, made: Made) -> None:
        assert job.saved_states is not None  # the unit was a range to step
        for number, states in made.files.items():
            job.saved_states.put(int(number), states)
            if job.is_cache:
                job.done.add(int(number))
                job.ended_here += 1
        self._table.tell(job)

    def _save_tile(self, job: ActiveJob, unit: WorkUnit, made: Made) -> None:
        assert job.tiling is not None and unit.tile is not None  # the unit was a tile
        if (unit.number, unit.tile) in job.tiling.known:
            return
        job.tiling.put(unit.number, unit.tile, made.files[TRACED])
        spent = job.record.costs.get(str(unit.number), 0.0)
        job.record.costs[str(unit.number)] = round(spent + made.seconds, 2)
        self._drop_others(job, unit)
        self._table.tell(job)

    def save_unit(self, job: ActiveJob, number: int, made: Made) -> None:
        """Save the files of a whole unit. Raises OSError."""
        job.folder.put(number, made.files)
        job.done.add(number)
        if job.saved_states is not None:
            job.saved_states.drop(number)
        if job.tiling is not None:
            job.tiling.drop(number)
        job.ended_here += 1
        job.record.costs[str(number)] = round(made.seconds, 2)
        if made.facts:
            job.record.facts[str(number)] = made.facts
        self._drop_others(job, WorkUnit(number))
        job.save(at_once=job.is_whole)
        self._table.tell(job)

    @staticmethod
    def _drop_others(job: ActiveJob, unit: WorkUnit) -> None:
        """Cancel other attempts at a unit that is done."""
        for key, other in list(job.attempts.items()):
            if other.unit == unit:
                job.attempts.pop(key)
                other.future.cancel(force=True)
