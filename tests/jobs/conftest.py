"""A queue of jobs, whose one worker is a thread of this process."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tests.conftest import document
from tests.waiting import until
from zygomorph.core.formats.bundle import write_bundle
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.orders import FinalOrder
from zygomorph.jobs.queue.queue import Queue

HERE = ClusterSettings(workers=1, apart=False)
TURNING = (
    {"step": "icosphere", "values": {"halvings": 2}},
    {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 90}}},
)
ENDED = ("done", "failed", "cancelled", "paused")


def bundle(*steps: dict[str, Any], frames: int = 24) -> bytes:
    return write_bundle(document(*(steps or TURNING), frames=frames), [])


def pictures(kind: str = "png", last: int = 5, first: int = 0, **more: Any) -> FinalOrder:
    """Small final pictures."""
    own = {"size": (32, 18), "samples": 2, "noise_removal": False, **more}
    return FinalOrder(kind=kind, first=first, last=last, **own)  # type: ignore[arg-type]


def ended(queue: Queue, job_id: str) -> ActiveJob:
    """The job, when it does not go on any more."""
    job = queue.get(job_id)
    until(lambda: job.record.state in ENDED, job.describe)
    return queue.get(job_id)


def until_begun(queue: Queue, job_id: str, count: int = 1) -> None:
    """Until so many of its units are there."""
    job = queue.get(job_id)
    until(lambda: len(job.done) >= count, job.describe)


def files_of(job: ActiveJob) -> dict[str, bytes]:
    return {path.name: path.read_bytes() for path in sorted((job.folder.path / "frames").iterdir())}


@pytest.fixture
def make_queue(tmp_path: Path):
    made: list[Queue] = []

    def make(folder: Path = tmp_path / "jobs", **more: Any) -> Queue:
        own = Queue(folder, Cluster(HERE), **more)
        made.append(own)
        return own

    yield make
    for queue in made:
        queue.close()


@pytest.fixture
def queue(make_queue) -> Queue:
    return make_queue()
