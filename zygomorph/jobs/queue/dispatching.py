"""Decides which worker gets which unit next."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.cluster import Cluster
from zygomorph.jobs.queue.job_table import JobTable
from zygomorph.jobs.queue.sending import Sender
from zygomorph.jobs.queue.work_unit import WorkUnit

if TYPE_CHECKING:
    from distributed import Client

# Units of each worker: the one that it works on, and one that waits for it.
AHEAD = 2
# Seconds until a cluster that could not be reached is tried again.
AGAIN_S = 2.0
# A unit is slow if it has taken so many times the usual duration, and at least so many seconds.
SLOW_TIMES, SLOW_S = 3.0, 5.0


class Dispatcher:
    """Gives the units of jobs to workers: the first job's as long as it has any, then the next's.

    ready : returns what has to be waited for before work can begin, or None
    refused : addresses of workers that have another version of the program, with that version
    """

    def __init__(
        self,
        table: JobTable,
        cluster: Cluster,
        sender: Sender,
        ready: Callable[[], str | None],
    ) -> None:
        self._table, self._cluster, self._sender, self._ready = table, cluster, sender, ready
        self._again_at = 0.0
        self.refused: dict[str, str] = {}

    def connect(self) -> Client | None:
        """The client of the cluster if a job has units to give out; None while it cannot be
        reached. This may take seconds, so the table is not locked meanwhile."""
        wanting = [job for job in self._table.unfinished() if not job.is_whole]
        if not wanting:
            self._cluster.rest()
            return None
        reason = self._ready()
        if reason is None and not self._cluster.is_connected:
            self.forget_attempts()
            if time.monotonic() < self._again_at:
                return None
            is_own = self._cluster.settings.address is None
            self._wait_for(wanting, "starting" if is_own else "connecting")
        try:
            if reason is None:
                return self._cluster.client()
        except ZygomorphError as error:
            self._again_at = time.monotonic() + AGAIN_S
            reason = f"{error.message} Trying again."
        self._wait_for(wanting, reason)
        return None

    def forget_attempts(self) -> None:
        """The cluster was lost, and with it all units that its workers had."""
        with self._table.lock:
            for job in self._table:
                job.attempts.clear()
            self._sender.forget()
            self.refused.clear()

    def reconnect(self) -> None:
        """Another cluster is used from now on: connect to it at once, and begin units again."""
        with self._table.lock:
            for job in self._table:
                if job.attempts:
                    self._cluster.cancel_run(job.name)
                    job.run += 1
            self.forget_attempts()
        self._again_at = 0.0

    def dispatch(self, client: Client, jobs: Sequence[ActiveJob]) -> None:
        """Submit units until each worker has enough."""
        allowed = [each for each in self._cluster.workers() if each not in self.refused]
        if not allowed:
            for job in jobs:
                self._table.wait_for(job, self._why_nobody(job.record.program))
            return
        # Each unit is submitted to one worker by name: Dask would prefer to give all of them to the
        # worker that has the bundle already.
        load = Counter(dict.fromkeys(allowed, 0))
        for job in self._table:
            load.update(a.worker for a in job.attempts.values() if a.worker in load)
        for job in jobs:
            self._table.wait_for(job, "")
            for unit in (*job.to_step(), *job.missing()):
                worker = min(allowed, key=lambda address: load[address])
                if load[worker] >= AHEAD and not unit.stepped:
                    return
                if not self._submit(client, job, unit, worker):
                    break
                load[worker] += 1
        idle = [address for address in allowed if load[address] == 0]
        if idle:
            self._speculate(client, jobs, idle[0])

    def _wait_for(self, jobs: Sequence[ActiveJob], reason: str) -> None:
        for job in jobs:
            self._table.wait_for(job, reason)

    def _why_nobody(self, wanted: str) -> str:
        if not self.refused:
            return "waiting for a worker"
        address, own = next(iter(self.refused.items()))
        return f"the worker at {address} is version {own}; these frames are of {wanted}"

    def _submit(
        self,
        client: Client,
        job: ActiveJob,
        unit: WorkUnit,
        worker: str,
        speculative: bool = False,
    ) -> bool:
        """Returns whether the unit was submitted."""
        try:
            return self._sender.send(client, job, unit, worker, speculative)
        except Exception as error:
            # If the cluster was lost meanwhile, it is submitted again when there is one.
            if self._cluster.is_connected:
                self._table.fail(
                    job, f"It cannot be given out, an error of the program: {error!r}."
                )
            return False

    def _speculate(self, client: Client, jobs: Sequence[ActiveJob], idle: str) -> None:
        """Give a slow unit to an idle worker as well; the first result is taken."""
        now = time.monotonic()
        for job in jobs:
            usual = job.usual_seconds()
            if usual is None:
                continue
            twice = {each.unit for each in job.attempts.values() if each.speculative}
            for attempt in list(job.attempts.values()):
                slow = now - attempt.started > max(SLOW_TIMES * usual, SLOW_S)
                if slow and not attempt.unit.stepped and attempt.unit not in twice:
                    self._submit(client, job, attempt.unit, idle, speculative=True)
                    return
