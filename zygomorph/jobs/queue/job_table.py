"""The jobs of a queue and their changes of state."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from typing import Any

from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.cluster import Cluster
from zygomorph.jobs.queue.finishing import Outcome


class JobTable:
    """Jobs by id, shared by the queue's thread and its callers.

    lock : held while a job's units or state change
    wake : set when the queue's thread has something to do
    changed : called with the description of a job whenever it has changed
    """

    def __init__(self, cluster: Cluster, changed: Callable[[dict[str, Any]], None]) -> None:
        self.lock = threading.RLock()
        self.wake = threading.Event()
        self._cluster, self._changed = cluster, changed
        self._jobs: dict[str, ActiveJob] = {}

    def __iter__(self) -> Iterator[ActiveJob]:
        return iter(list(self._jobs.values()))

    def add(self, job: ActiveJob) -> None:
        self._jobs[job.record.id] = job

    def find(self, job_id: str) -> ActiveJob | None:
        return self._jobs.get(job_id)

    def get(self, job_id: str) -> ActiveJob:
        """Raises ZygomorphError if there is no such job."""
        job = self.find(job_id)
        if job is None:
            raise ZygomorphError(f"There is no job {job_id!r}.", "It may have been removed.")
        return job

    def ranked(self) -> list[ActiveJob]:
        """All jobs in the order in which they are worked on."""
        with self.lock:
            return sorted(self._jobs.values(), key=lambda job: job.record.rank)

    def unfinished(self) -> list[ActiveJob]:
        """Jobs that are waiting or running, in their order."""
        return [job for job in self.ranked() if job.record.state in ("waiting", "running")]

    def remove(self, job: ActiveJob) -> None:
        """Forget a job and delete its folder."""
        with self.lock:
            self.recall(job)
            job.record.state = "cancelled"
            self._jobs.pop(job.record.id, None)
        job.folder.remove()
        self._changed({"id": job.record.id, "state": "removed"})

    def tell(self, job: ActiveJob) -> None:
        """Report a change, and let the thread see whether it has something to do."""
        self._changed(job.describe())
        self.wake.set()

    def wait_for(self, job: ActiveJob, reason: str) -> None:
        """Report why no worker has a unit of the job; ``""`` when one has."""
        if job.waits_for != reason:
            job.waits_for = reason
            self.tell(job)

    def fail(self, job: ActiveJob, message: str, hint: str = "") -> None:
        self.end(job, Outcome("failed", message, hint))

    def end(self, job: ActiveJob, outcome: Outcome) -> None:
        """Take all units back from workers and leave the job as it is now."""
        record = job.record
        record.state, record.message, record.hint = outcome.state, outcome.message, outcome.hint
        self.recall(job)
        job.save()
        self.tell(job)

    def recall(self, job: ActiveJob) -> None:
        """Take all units of a job back from workers."""
        job.stop.set()
        if job.attempts:
            self._cluster.cancel_run(job.name)
        for attempt in job.attempts.values():
            attempt.future.cancel(force=True)
        job.attempts.clear()
        job.waits_for = ""
        self.wake.set()
