"""The picture tasks that browser windows work on."""

from __future__ import annotations

import threading

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.jobs.pictures.kept import KeptPictures
from zygomorph.jobs.pictures.task import PictureTask
from zygomorph.jobs.runner import Job, Jobs


class PictureDesk:
    """Tasks by the ids of their jobs. While a task runs, its study is found by the content keys of
    its pieces, so that later edits of the stored study do not change it."""

    def __init__(self, jobs: Jobs, kept: KeptPictures | None = None) -> None:
        """kept : where jobs are saved for the next run of the program; None if they are not"""
        self._jobs, self.kept = jobs, kept
        self._tasks: dict[str, tuple[Job, PictureTask]] = {}
        self._studies: dict[str, Study] = {}
        self._lock = threading.Lock()

    def start(self, label: str, task: PictureTask, kept: str = "") -> Job:
        """Begin a job. kept : its id if it was saved by an earlier run of the program"""

        def work(job: Job) -> None:
            try:
                task.work(self._jobs, job)
                if kept and self.kept is not None:
                    self.kept.finished(job)
            except BaseException:
                # Whatever became of it, only what is left goes on.
                if kept and self.kept is not None and not job.left:
                    self.kept.remove(kept)
                raise
            finally:
                with self._lock:
                    self._forget(job.id)

        study = task.study
        with self._lock:
            # One that was called off before its turn never came to its end.
            for old in [id_ for id_, (job, _) in self._tasks.items() if job.state == "cancelled"]:
                self._forget(old)
            self._studies.update(dict.fromkeys(_keys(task), study))
            job = self._jobs.start(label, work, waits=True, job_id=kept)
            self._tasks[job.id] = (job, task)
        return job

    def _forget(self, job_id: str) -> None:
        job, task = self._tasks.pop(job_id, (None, None))
        if task is not None:
            task.end(leave=job is not None and job.left)
            for key in _keys(task):
                self._studies.pop(key, None)

    def find(self, job_id: str) -> PictureTask | None:
        """The task of a job; None if it has ended or never existed."""
        with self._lock:
            return self._tasks.get(job_id, (None, None))[1]

    def task(self, job_id: str) -> PictureTask:
        """The task of a job. Raises ZygomorphError if it has ended or never existed."""
        task = self.find(job_id)
        if task is None:
            raise ZygomorphError(
                f"No pictures are drawn for {job_id!r}.", "They may be done, or called off."
            )
        return task

    def study_with(self, key: str) -> Study | None:
        return self._studies.get(key)


def _keys(task: PictureTask) -> list[str]:
    """Content keys of the pieces that a task draws."""
    study, final = task.study, task.order.final
    return [piece_key(study, piece["id"], final) for piece in study.pieces]
