"""Whatever is killed, and whenever: all frames come, and each is the one that an undisturbed run
makes."""

from __future__ import annotations

import os
import random
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import ROOT
from tests.jobs.conftest import bundle, ended, files_of, pictures
from tests.waiting import until
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.folder import JobFolder
from zygomorph.jobs.queue.queue import Queue

FRAMES = 48
ORDER = pictures(last=FRAMES - 1, size=(48, 27))
# A program of its own that works on a folder of jobs until all are done.
PROGRAM = """
import sys, time
from pathlib import Path
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.queue import Queue

if __name__ == "__main__":
    address = sys.argv[2] if len(sys.argv) > 2 else None
    queue = Queue(Path(sys.argv[1]), Cluster(ClusterSettings(address, workers=2)))
    print("ready", flush=True)
    while any(job.record.state in ("waiting", "running") for job in queue.all()):
        time.sleep(0.05)
    queue.close()
"""


@pytest.fixture(scope="module")
def undisturbed(tmp_path_factory) -> dict[str, bytes]:
    settings = ClusterSettings(workers=1, apart=False)
    queue = Queue(tmp_path_factory.mktemp("undisturbed") / "jobs", Cluster(settings))
    try:
        return files_of(ended(queue, queue.add(bundle(), ORDER)["id"]))
    finally:
        queue.close()


@pytest.fixture
def program(tmp_path) -> Path:
    path = tmp_path / "work_on.py"
    path.write_text(PROGRAM)
    return path


def waiting_job(folder: Path) -> str:
    """A job that nobody works on yet."""
    queue = Queue(folder, Cluster(), ready=lambda: "not yet")
    try:
        return str(queue.add(bundle(), ORDER)["id"])
    finally:
        queue.close()


@contextmanager
def running(*command: Any) -> Iterator[subprocess.Popen[str]]:
    process = subprocess.Popen(
        [str(each) for each in command],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        cwd=ROOT,
        start_new_session=True,
    )
    try:
        yield process
    finally:
        kill_group(process)


def kill_group(process: subprocess.Popen[str]) -> None:
    """The process and all that it started, at once."""
    with suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait(20)


def children_of(pid: int) -> list[int]:
    """Processes below one, found in /proc."""
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        try:
            fields = (entry / "stat").read_text().rsplit(") ", 1)[1].split()
            command = (entry / "cmdline").read_bytes()
        except OSError:
            continue
        if int(fields[1]) == pid:
            below = children_of(int(entry.name))
            found += below
            if not below and b"resource_tracker" not in command:
                found.append(int(entry.name))
    return found


def frames_in(folder: Path, job_id: str) -> int:
    there = (folder / job_id / "frames").glob("*.png")
    return sum(1 for _ in there)


def rounds(thorough: int, ordinary: int = 1) -> Any:
    """Random moments, as the share of the frames that is there: a few, and many in thorough runs."""
    chance = random.Random(48)
    moments = [round(chance.uniform(0, 0.95), 2) for _ in range(thorough)]
    few = [pytest.param(moment, id=f"{moment:.0%}") for moment in moments[:ordinary]]
    more = [
        pytest.param(moment, id=f"{moment:.0%} {k}", marks=pytest.mark.thorough)
        for k, moment in enumerate(moments[ordinary:])
    ]
    return pytest.mark.parametrize("moment", [*few, *more])


@rounds(10)
def test_the_program_is_killed(tmp_path, program, undisturbed, moment):
    folder = tmp_path / "jobs"
    job_id = waiting_job(folder)
    with running(sys.executable, program, folder) as process:
        until(lambda: frames_in(folder, job_id) >= moment * FRAMES)
        kill_group(process)
    with running(sys.executable, program, folder) as process:
        until(lambda: process.poll() is not None)
    job = JobFolder.open(folder / job_id)
    assert job.record.state == "done", job.record.message
    assert {p.name: p.read_bytes() for p in (job.path / "frames").iterdir()} == undisturbed


@rounds(10)
def test_a_worker_is_killed(tmp_path, program, undisturbed, moment):
    folder = tmp_path / "jobs"
    job_id = waiting_job(folder)
    chance = random.Random(moment)
    with running(sys.executable, program, folder) as process:
        until(lambda: frames_in(folder, job_id) >= max(1, moment * FRAMES))
        os.kill(chance.choice(children_of(process.pid)), signal.SIGKILL)
        until(lambda: process.poll() is not None)
    job = JobFolder.open(folder / job_id)
    assert job.record.state == "done", job.record.message
    assert {p.name: p.read_bytes() for p in (job.path / "frames").iterdir()} == undisturbed


def free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


@rounds(10, ordinary=0)
def test_the_scheduler_is_killed_and_another_begun(tmp_path, program, undisturbed, moment):
    folder = tmp_path / "jobs"
    job_id = waiting_job(folder)
    port = free_port()
    address = f"tcp://127.0.0.1:{port}"
    scheduler = [Path(sys.executable).with_name("dask"), "scheduler", "--host", "127.0.0.1"]
    scheduler += ["--port", port, "--no-dashboard", "--no-jupyter"]
    worker = [Path(sys.executable).with_name("zygomorph"), "worker", address, "--cores", "1"]
    work_on = (sys.executable, program, folder, address)
    with running(*scheduler) as first, running(*worker), running(*work_on):
        until(lambda: frames_in(folder, job_id) >= max(1, moment * FRAMES))
        kill_group(first)
        with running(*scheduler):
            time.sleep(2)
            with running(*worker):
                until(lambda: JobFolder.open(folder / job_id).record.state == "done")
    job = JobFolder.open(folder / job_id)
    assert {p.name: p.read_bytes() for p in (job.path / "frames").iterdir()} == undisturbed
