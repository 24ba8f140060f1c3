"""Submits units to workers, with everything that they need."""

from __future__ import annotations

import hashlib
import time
import uuid
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from zygomorph.jobs.queue import worker_tasks
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.making import Made
from zygomorph.jobs.queue.work_unit import Attempt, WorkUnit
from zygomorph.jobs.queue.worker_tasks import Run

if TYPE_CHECKING:
    from distributed import Client


class Sender:
    """Submits units and remembers which bundles the cluster has.

    came_back : called with the id of the job and the key of the attempt when a task has ended
    """

    def __init__(self, came_back: Callable[[str, str], None]) -> None:
        self._came_back = came_back
        self._studies: dict[str, Any] = {}

    def forget(self, job_id: str | None = None) -> None:
        """Release the bundle of a job, or of all jobs when the cluster was lost."""
        if job_id is None:
            self._studies.clear()
        else:
            self._studies.pop(job_id, None)

    def send(
        self,
        client: Client,
        job: ActiveJob,
        unit: WorkUnit,
        worker: str,
        speculative: bool = False,
    ) -> bool:
        """Submit a unit to a worker; Dask gives it to another if that one dies.

        Returns False if the states that it needs are not there. Raises what Dask raises.
        """
        states = None
        if job.saved_states is not None:
            states = self._states(job, unit)
            if states is None and not unit.stepped:
                return False
        task, arguments = self._task(job, unit)
        if job.record.state == "waiting":
            job.record.state = "running"
            job.run += 1
            job.began, job.ended_here = time.monotonic(), 0
            job.save()
        key = f"{job.name}-{unit.number}-{uuid.uuid4().hex[:6]}"
        future = client.submit(
            task,
            Run(job.name, job.record.program, job.record.order),
            self._study(client, job),
            arguments,
            states,
            key=key,
            workers=[worker],
            # Frames wait for the states of what comes before them.
            priority=1 if unit.stepped else 0,
            allow_other_workers=True,
            pure=False,
            retries=0,
        )
        job.attempts[key] = Attempt(unit, worker, future, time.monotonic(), speculative)
        future.add_done_callback(lambda _: self._came_back(job.record.id, key))
        return True

    @staticmethod
    def _states(job: ActiveJob, unit: WorkUnit) -> bytes | None:
        """States at a frame, or, for a range to step, at the nearest known frame before it."""
        assert job.saved_states is not None  # the caller has checked
        if unit.stepped is None:
            return job.saved_states.get(unit.number)
        before = max((k for k in job.saved_states.known if k < unit.number), default=None)
        return None if before is None else job.saved_states.get(before)

    @staticmethod
    def _task(job: ActiveJob, unit: WorkUnit) -> tuple[Callable[..., Made], Any]:
        """The function for a unit, and its argument that says which unit."""
        if unit.stepped is not None:
            return worker_tasks.step_states, (unit.stepped.start, unit.stepped.stop)
        if unit.tile is None or job.tiling is None:
            return worker_tasks.make_unit, unit.number
        rows = job.tiling.rows[unit.tile]
        return worker_tasks.trace_tile, (unit.number, rows.start, rows.stop)

    def _study(self, client: Client, job: ActiveJob) -> Any:
        """The task that holds the job's bundle, keyed by content: workers fetch it once."""
        known = self._studies.get(job.record.id)
        if known is None:
            data = job.folder.bundle
            key = f"study-{hashlib.blake2b(data, digest_size=12).hexdigest()}"
            known = self._studies[job.record.id] = client.submit(
                worker_tasks.bundle_task, data, key=key
            )
        return known
