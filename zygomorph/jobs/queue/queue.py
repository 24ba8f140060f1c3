"""The queue of jobs.

One thread does all the work that changes a job's units: it connects to the cluster, gives units to
workers and saves what they return. What comes back is written to the job's folder at once, so only
the units that are being made are lost when a worker, the scheduler or this program dies.
"""

from __future__ import annotations

import threading
import time
import traceback
import uuid
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.core.formats.bundle import read_bundle
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.cluster import Cluster
from zygomorph.jobs.queue.completing import Completer
from zygomorph.jobs.queue.dispatching import Dispatcher
from zygomorph.jobs.queue.folder import JobFolder, Record, State, jobs_in
from zygomorph.jobs.queue.folder_lock import FolderLock
from zygomorph.jobs.queue.job_table import JobTable
from zygomorph.jobs.queue.kinds import count_of, label_of
from zygomorph.jobs.queue.orders import ClipOrder, Order, as_data
from zygomorph.jobs.queue.program_version import program_version
from zygomorph.jobs.queue.receiving import Receiver
from zygomorph.jobs.queue.sending import Sender

if TYPE_CHECKING:
    from distributed import Client

# The thread looks for work so often even if nothing wakes it.
TURN_S = 0.25


class Queue:
    """The jobs that are saved in a folder; unfinished ones are resumed at once.

    changed : called with the description of a job whenever it has changed
    ready : returns what has to be waited for before work can begin, or None
    keep_states : stores the states of simulation caches; without it there are none
    """

    def __init__(
        self,
        folder: Path,
        cluster: Cluster | None = None,
        changed: Callable[[dict[str, Any]], None] = lambda told: None,
        ready: Callable[[], str | None] = lambda: None,
        keep_states: Callable[[HandedStates], int] | None = None,
    ) -> None:
        self._folder = folder
        self.cluster = cluster or Cluster()
        self._table = table = JobTable(self.cluster, changed)
        self._receiver = Receiver(table, self._refuse)
        self._sender = Sender(self._receiver.ended)
        self._dispatcher = Dispatcher(table, self.cluster, self._sender, ready)
        self._completer = Completer(table, self._receiver, self._sender.forget, keep_states)
        self._closing = False
        self._counted_at = time.monotonic()
        self._thread: threading.Thread | None = None
        self._folder_lock = FolderLock(folder)
        if folder.is_dir() and self._folder_lock.acquire():
            for saved in jobs_in(folder):
                self._restore(saved)
        if table.unfinished():
            self._start()

    def _restore(self, saved: JobFolder) -> None:
        """Add a job of an earlier run of the program."""
        try:
            job = ActiveJob.of(saved)
        except ZygomorphError:
            return
        record = saved.record
        self._table.add(job)
        if record.state == "running":
            record.state = "waiting"
        if not job.done and record.program != program_version():
            self._begin_anew(job)
        if record.state == "waiting" and job.done and record.program != program_version():
            record.state = "paused"
            record.message = (
                f"Its first frames were made by version {record.program}; "
                f"this is {program_version()}."
            )
            record.hint = "Make it again, or its frames may differ."

    @staticmethod
    def _begin_anew(job: ActiveJob) -> None:
        """Let this version make a job of which another has not finished any unit."""
        job.record.program = program_version()
        if job.saved_states is not None:
            job.saved_states.clear()
        if job.tiling is not None:
            job.tiling.clear()

    # Jobs

    def add(
        self,
        bundle: bytes,
        order: Order,
        label: str | None = None,
        frames: Sequence[Path] = (),
    ) -> dict[str, Any]:
        """Add a job at the end of the queue and return its description.

        bundle : the study with its files; frames : PNGs that are its first units

        Raises ZygomorphError if the order cannot be made or saved.
        """
        study = Study(read_bundle(bundle).document)
        total = count_of(order, study) or len(frames)
        record = Record(
            uuid.uuid4().hex[:12],
            label or label_of(study, order),
            as_data(order),
            total,
            program_version(),
        )
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            if not self._folder_lock.acquire():
                raise ZygomorphError(
                    f"Another program works on the jobs in {self._folder}.",
                    "Order it there, or end that program first.",
                )
            made = JobFolder.make(self._folder / record.id, record, bundle, frames)
        except OSError as error:
            raise ZygomorphError(
                f"The job could not be kept: {error}.", "Make room on the disk and try again."
            ) from error
        with self._table.lock:
            job = ActiveJob(made, order, set(range(len(frames))))
            self._table.add(job)
            told = job.describe()
        self._table.tell(job)
        self._start()
        return told

    def get(self, job_id: str) -> ActiveJob:
        """Raises ZygomorphError if there is no such job."""
        return self._table.get(job_id)

    def all(self) -> list[ActiveJob]:
        """All jobs in the order in which they are worked on."""
        return self._table.ranked()

    def pause(self, job_id: str) -> dict[str, Any]:
        return self._stop(job_id, "paused", ("waiting", "running"))

    def cancel(self, job_id: str) -> dict[str, Any]:
        """Stop a job. Its frames stay until it is removed, so it can still be resumed."""
        return self._stop(job_id, "cancelled", ("waiting", "running", "paused"))

    def _stop(self, job_id: str, state: State, from_states: Sequence[State]) -> dict[str, Any]:
        job = self.get(job_id)
        with self._table.lock:
            if job.record.state in from_states:
                job.record.state = state
                self._table.recall(job)
                job.save()
        self._table.tell(job)
        return job.describe()

    def resume(self, job_id: str) -> dict[str, Any]:
        """Make the missing units of a job that was paused or cancelled, or that failed.

        Raises ZygomorphError if another version made the units that it has.
        """
        job = self.get(job_id)
        with self._table.lock:
            if job.record.state in ("paused", "cancelled", "failed"):
                if job.done and job.record.program != program_version():
                    raise ZygomorphError(
                        f"Its first frames were made by version {job.record.program}.",
                        "Make it again, or its frames may differ.",
                    )
                if job.record.program != program_version():
                    self._begin_anew(job)
                job.record.state, job.record.message, job.record.hint = "waiting", "", ""
                job.stop.clear()
                job.save()
        self._table.tell(job)
        self._start()
        return job.describe()

    def repeat(self, job_id: str) -> dict[str, Any]:
        """Add a job with the same order and study as another."""
        job = self.get(job_id)
        frames = self.pictures(job) if isinstance(job.order, ClipOrder) else ()
        return self.add(job.folder.bundle, job.order, job.record.label, frames)

    def move(self, job_id: str, before: str | None) -> None:
        """Work on a job before another one, or last."""
        job = self.get(job_id)
        with self._table.lock:
            others = [each for each in self.all() if each is not job]
            at = len(others) if before is None else others.index(self.get(before))
            low = others[at - 1].record.rank if at > 0 else None
            high = others[at].record.rank if at < len(others) else None
            if low is None:
                job.record.rank = (high or 0.0) - 1
            else:
                job.record.rank = low + 1 if high is None else (low + high) / 2
            job.save()
        self._table.tell(job)

    def remove(self, job_id: str) -> None:
        """Remove a job with all its frames."""
        self._table.remove(self.get(job_id))

    # Results

    def product(self, job_id: str) -> tuple[Path, str]:
        """The product of a finished job, and the name that it is downloaded as. Raises
        ZygomorphError if there is none."""
        job = self.get(job_id)
        path = job.folder.path / job.record.product
        if job.record.state != "done" or not path.is_file():
            raise ZygomorphError(
                "This delivery has no file.", f"Its state is {job.record.state!r}."
            )
        return path, job.record.filename

    def picture(self, job_id: str, number: int) -> Path:
        """A picture of a job as PNG. Raises ZygomorphError if it is not there."""
        job = self.get(job_id)
        path = job.folder.frame(number, "png")
        if number >= job.picture_count or not path.is_file():
            raise ZygomorphError(f"Frame {number} is not there.", "It may come yet.")
        return path

    def pictures(self, job: ActiveJob) -> list[Path]:
        """All pictures of a job. Raises ZygomorphError if it has none, or not all of them."""
        if not job.has_pictures or not job.is_whole:
            raise ZygomorphError(
                "Not all of its pictures are there.", "Wait until it is done, or let it go on."
            )
        return [job.folder.frame(k, "png") for k in range(job.picture_count)]

    # Workers

    def use_cluster(self, address: str | None) -> None:
        """Let another cluster, or this machine, work on the jobs; running units begin again."""
        self._dispatcher.reconnect()
        self.cluster.go_to(address)
        self._table.wake.set()

    def refused(self) -> dict[str, str]:
        """Addresses of connected workers that have another version, with that version."""
        there = self.cluster.workers()
        return {each: own for each, own in self._dispatcher.refused.items() if each in there}

    def _refuse(self, worker: str, program: str) -> None:
        self._dispatcher.refused[worker] = program

    def close(self) -> None:
        """Stop working. Unfinished jobs are resumed when the program is started again."""
        self._closing = True
        self._table.wake.set()
        if self._thread is not None:
            self._thread.join(10)
        with self._table.lock:
            for job in self._table:
                job.stop.set()
                if job.record.state == "running":
                    job.save()
        self._completer.close()
        self.cluster.close()
        self._folder_lock.release()

    # The thread

    def _start(self) -> None:
        """Start the thread when there is a first job, or wake it."""
        with self._table.lock:
            if self._thread is None and not self._closing:
                self._thread = threading.Thread(target=self._run, name="queue", daemon=True)
                self._thread.start()
        self._table.wake.set()

    def _run(self) -> None:
        while not self._closing:
            try:
                client = self._dispatcher.connect()
                with self._table.lock:
                    self._turn(client)
            except Exception:
                # The queue must go on, whatever the error of one turn is.
                traceback.print_exc()
                time.sleep(TURN_S)
            self._table.wake.wait(TURN_S)
            self._table.wake.clear()

    def _turn(self, client: Client | None) -> None:
        """Do once all that there is to do. client : None while there is no cluster"""
        self._count_time()
        self._receiver.receive()
        unfinished = self._table.unfinished()
        for job in unfinished:
            self._completer.complete(job)
        wanting = [job for job in unfinished if not job.is_whole]
        if wanting and client is not None and not self._closing:
            self._dispatcher.dispatch(client, wanting)

    def _count_time(self) -> None:
        now = time.monotonic()
        for job in self._table:
            if job.record.state == "running" and not job.waits_for:
                job.record.spent += now - self._counted_at
        self._counted_at = now
