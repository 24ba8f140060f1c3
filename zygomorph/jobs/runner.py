"""Background jobs of the server's own process, with progress and cancelling."""

from __future__ import annotations

import threading
import time
import traceback
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from zygomorph.core.errors import Cancelled, ZygomorphError

MAX_KEPT = 100
# Jobs that wait for windows at the same time.
MOST_WAITING = 4


@dataclass
class Job:
    """A background job.

    state : waiting, running, done, failed or cancelled; share : of the work done, 0 to 1
    left : whether the program is ending, so that its files stay for the next run
    """

    id: str
    label: str
    state: str = "waiting"
    share: float = 0.0
    what: str = ""
    message: str = ""
    hint: str = ""
    filename: str = ""
    path: Path | None = None
    details: list[dict[str, Any]] = field(default_factory=list)
    size: int = 0
    started: float = field(default_factory=time.monotonic)
    stop: threading.Event = field(default_factory=threading.Event)
    left: bool = False

    def seconds_left(self) -> float | None:
        if self.state != "running" or self.share < 0.02:
            return None
        spent = time.monotonic() - self.started
        return spent * (1 - self.share) / self.share

    def describe(self) -> dict[str, Any]:
        left = self.seconds_left()
        return {
            "id": self.id,
            "label": self.label,
            "state": self.state,
            "share": round(self.share, 4),
            "what": self.what,
            "message": self.message,
            "hint": self.hint,
            "filename": self.filename,
            "details": self.details,
            "size": self.size,
            "seconds_left": None if left is None else round(left, 1),
        }


Work = Callable[[Job], None]


class Jobs:
    """Runs jobs one after the other on a thread. Jobs that wait for windows run on other threads,
    so that they do not delay the rest."""

    def __init__(self, changed: Callable[[Job], None] = lambda job: None) -> None:
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="job")
        self._waiting = ThreadPoolExecutor(MOST_WAITING, thread_name_prefix="pictures")
        self._jobs: dict[str, Job] = {}
        self._changed = changed

    @staticmethod
    def new_id() -> str:
        return uuid.uuid4().hex[:12]

    def know(self, job: Job) -> None:
        """Add a finished job of an earlier run."""
        self._jobs[job.id] = job

    def leave(self) -> None:
        """The program is ending; jobs that wait for windows continue in the next run."""
        for job in self._jobs.values():
            job.left = job.left or job.state in ("waiting", "running")

    def start(self, label: str, work: Work, waits: bool = False, job_id: str = "") -> Job:
        """Begin a job. waits : whether it mostly waits for a window"""
        job = Job(job_id or self.new_id(), label)
        self._jobs[job.id] = job
        for old in list(self._jobs.values())[:-MAX_KEPT]:
            self._forget(old)
        (self._waiting if waits else self._pool).submit(self._run, job, work)
        return job

    def _forget(self, job: Job) -> None:
        if job.state in ("done", "failed", "cancelled"):
            self._jobs.pop(job.id, None)
            if job.path is not None:
                job.path.unlink(missing_ok=True)

    def _run(self, job: Job, work: Work) -> None:
        if job.stop.is_set():
            self._finish(job, "cancelled")
            return
        job.state, job.started = "running", time.monotonic()
        self._changed(job)
        try:
            work(job)
            self._finish(job, "cancelled" if job.stop.is_set() else "done")
        except Cancelled:
            self._finish(job, "cancelled")
        except ZygomorphError as error:
            job.message, job.hint = error.message, error.hint
            self._finish(job, "failed")
        except OSError as error:
            job.message = f"The file could not be written: {error}."
            job.hint = "Make room on the disk and try again."
            self._finish(job, "failed")
        except Exception as error:
            traceback.print_exc()
            job.message = f"The work stopped on an error of the program: {error!r}."
            self._finish(job, "failed")

    def _finish(self, job: Job, state: str) -> None:
        job.state = state
        job.share = 1.0 if state == "done" else job.share
        self._changed(job)

    def progress(self, job: Job) -> Callable[[float, str], None]:
        last = [0.0]

        def report(share: float, what: str) -> None:
            job.share, job.what = share, what
            if time.monotonic() - last[0] > 0.1:
                last[0] = time.monotonic()
                self._changed(job)

        return report

    def get(self, job_id: str) -> Job:
        if job_id not in self._jobs:
            raise ZygomorphError(f"There is no job {job_id!r}.", "It may be of an earlier run.")
        return self._jobs[job_id]

    def all(self) -> list[Job]:
        return list(self._jobs.values())

    def cancel(self, job_id: str) -> Job:
        job = self.get(job_id)
        job.stop.set()
        return job
