"""A disk that is full, or loses its power, in the middle of a job: a file system of its own in a file,
of which either happens at any moment."""

from __future__ import annotations

import fcntl
import os
import shutil
import struct
import subprocess
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from tests.jobs.conftest import bundle, files_of
from tests.jobs.test_kills import FRAMES, ORDER, frames_in, rounds, undisturbed
from tests.waiting import until
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.queue import Queue

__all__ = ["undisturbed"]
SIZE = 16_000_000
# _IOR('X', 125, __u32) of ext4, and EXT4_GOING_FLAGS_NOLOGFLUSH (linux/fs/ext4/ext4.h).
EXT4_SHUTDOWN, WITHOUT_ITS_JOURNAL = 0x8004587D, 2


def run(*command: object) -> None:
    subprocess.run([str(each) for each in command], check=True, capture_output=True)


@pytest.fixture
def disk(tmp_path) -> Iterator[Path]:
    """An ext4 file system in a file, on a loop device."""
    image, place = tmp_path / "disk.img", tmp_path / "disk"
    place.mkdir()
    if shutil.which("mkfs.ext4") is None:
        pytest.skip("there is no mkfs.ext4 on this machine")
    image.write_bytes(b"")
    with image.open("r+b") as file:
        file.truncate(SIZE)
    run("mkfs.ext4", "-q", "-m", "0", image)
    try:
        run("mount", "-o", "loop", image, place)
    except subprocess.CalledProcessError:
        pytest.skip("file systems may not be mounted here")
    yield place
    run("umount", "-l", place)


@pytest.fixture
def queue(disk) -> Iterator[Queue]:
    made = Queue(disk / "jobs", Cluster(ClusterSettings(workers=1, apart=False)))
    yield made
    made.close()


def fill(disk: Path) -> Path:
    """A file that takes all the room there is."""
    path = disk / "filler"
    with suppress(OSError), path.open("wb", buffering=0) as file:
        while file.write(b"\0" * 4096):
            pass
    return path


def until_it_stands(queue: Queue, job_id: str) -> None:
    until(lambda: queue.get(job_id).record.state == "paused")


def until_done(queue: Queue, job_id: str) -> None:
    until(lambda: queue.get(job_id).record.state not in ("waiting", "running"))
    assert queue.get(job_id).record.state == "done", queue.get(job_id).record.message


@rounds(10)
def test_the_disk_fills_up(disk, queue, undisturbed, moment):
    job_id = queue.add(bundle(), ORDER)["id"]
    until(lambda: frames_in(disk / "jobs", job_id) >= moment * FRAMES)
    filler = fill(disk)
    until_it_stands(queue, job_id)
    told = queue.get(job_id).record
    # It may be in the midst of putting all frames together.
    assert "full" in told.message or "could not be written" in told.message
    assert "Make room" in told.hint
    # What is there is whole, and nothing half written is left.
    parts = [p.name for p in (disk / "jobs" / job_id).rglob("*.part")]
    assert parts == []
    there = files_of(queue.get(job_id))
    assert all(undisturbed[name] == data for name, data in there.items())
    filler.unlink()
    queue.resume(job_id)
    until_done(queue, job_id)
    assert files_of(queue.get(job_id)) == undisturbed


def cut_power(disk: Path) -> None:
    """From now on nothing reaches the disk any more, nor what its journal had not yet taken."""
    folder = os.open(disk, os.O_RDONLY)
    try:
        fcntl.ioctl(folder, EXT4_SHUTDOWN, struct.pack("I", WITHOUT_ITS_JOURNAL))
    except OSError:
        pytest.skip("file systems may not be shut down here")
    finally:
        os.close(folder)


@rounds(10)
def test_the_disk_loses_its_power(disk, undisturbed, moment):
    settings = ClusterSettings(workers=1, apart=False)
    first = Queue(disk / "jobs", Cluster(settings))
    try:
        job_id = first.add(bundle(), ORDER)["id"]
        until(lambda: frames_in(disk / "jobs", job_id) >= moment * FRAMES)
        cut_power(disk)
        until(lambda: first.get(job_id).record.state in ("paused", "done"))
        if first.get(job_id).record.state == "paused":
            assert "could not be written" in first.get(job_id).record.message
    finally:
        first.close()
    # Whatever was said to be there is there when it has power again.
    run("umount", disk)
    run("mount", "-o", "loop", disk.with_name("disk.img"), disk)
    second = Queue(disk / "jobs", Cluster(settings))
    try:
        kept = files_of(second.get(job_id))
        assert all(undisturbed[name] == data for name, data in kept.items() if "." in name)
        second.resume(job_id)
        until_done(second, job_id)
        assert files_of(second.get(job_id)) == undisturbed
    finally:
        second.close()
