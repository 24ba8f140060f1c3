"""Completes frames and jobs in threads of this process: joins tiles, makes products."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.finishing import cannot_write, join_tiles, made_product
from zygomorph.jobs.queue.folder import ENDED
from zygomorph.jobs.queue.job_table import JobTable
from zygomorph.jobs.queue.receiving import Receiver

# Progress of a product is reported at most so often.
TOLD_EVERY_S = 0.25
THREADS = 2


class Completer:
    """keep_states : stores the states of simulation caches; without it there are none
    released : called with the id of a job whose bundle the cluster need not have any more
    """

    def __init__(
        self,
        table: JobTable,
        receiver: Receiver,
        released: Callable[[str], None],
        keep_states: Callable[[HandedStates], int] | None,
    ) -> None:
        self._table, self._receiver, self._released = table, receiver, released
        self._keep_states = keep_states
        self._threads = ThreadPoolExecutor(THREADS, thread_name_prefix="finish")

    def complete(self, job: ActiveJob) -> None:
        """Begin what can be completed of a job, unless it has begun already."""
        if job.is_whole and job.finishing is None:
            if job.record.state == "waiting":
                job.record.state = "running"
            job.stop.clear()
            job.finishing = self._threads.submit(self._make_product, job)
            self._table.tell(job)
        for number in job.to_join():
            assert job.tiling is not None  # it has tiles to join
            job.tiling.joining.add(number)
            self._threads.submit(self._join, job, number)

    def close(self) -> None:
        self._threads.shutdown(wait=True, cancel_futures=True)

    def _join(self, job: ActiveJob, number: int) -> None:
        assert job.tiling is not None  # it has tiles to join
        try:
            made = join_tiles(job, number)
        except ZygomorphError as error:
            with self._table.lock:
                self._table.fail(job, error.message, error.hint)
            return
        with self._table.lock:
            try:
                if made is not None:
                    self._receiver.save_unit(job, number, made)
            except OSError as error:
                self._table.end(job, cannot_write(job, error))
            job.tiling.joining.discard(number)
        self._table.wake.set()

    def _make_product(self, job: ActiveJob) -> None:
        told_at = 0.0

        def report(share: float, what: str) -> None:
            nonlocal told_at
            job.share, job.record.what = share, what
            if time.monotonic() - told_at > TOLD_EVERY_S:
                told_at = time.monotonic()
                self._table.tell(job)

        outcome = made_product(job, report, self._keep_states)
        with self._table.lock:
            record = job.record
            # It may have been cancelled meanwhile.
            if outcome is not None and record.state not in ENDED:
                record.state, record.message = outcome.state, outcome.message
                record.hint, record.what = outcome.hint, ""
            job.finishing = None
            self._released(record.id)
            job.save()
        self._table.tell(job)
