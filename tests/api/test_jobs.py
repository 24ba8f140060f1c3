"""Long work aside: progress, cancel, failure, and files that are whole or not there."""

import threading
import time

import pytest

from tests.waiting import until
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.formats.names import safe_name
from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.runner import MAX_KEPT, Jobs

BALL = {"step": "icosphere", "values": {"halvings": 1}}
TWIST = {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 90}}}


def finished(job):
    until(lambda: job.state not in ("waiting", "running"), job.describe)
    return job


def run(work):
    jobs = Jobs()
    return finished(jobs.start("Work", work))


def test_a_job_tells_its_progress_and_ends_done():
    told = []
    jobs = Jobs(lambda job: told.append((job.state, job.share)))

    def work(job):
        report = jobs.progress(job)
        report(0.25, "first")
        time.sleep(0.15)
        report(0.75, "second")

    job = finished(jobs.start("Work", work))
    assert job.state == "done"
    assert job.share == 1.0
    assert told[0][0] == "running"
    assert told[-1] == ("done", 1.0)
    shares = [share for _, share in told]
    assert shares == sorted(shares)


def test_time_left_is_told_from_the_share_that_is_done():
    job = Jobs().start("Work", lambda job: None)
    finished(job)
    job.state, job.share, job.started = "running", 0.25, time.monotonic() - 10
    assert job.seconds_left() == pytest.approx(30, rel=0.05)
    job.share = 0.001
    assert job.seconds_left() is None


def test_jobs_run_one_after_the_other_in_their_order():
    jobs, order, gate = Jobs(), [], threading.Event()

    def first(job):
        gate.wait(10)
        order.append(1)

    started = [jobs.start("1", first), jobs.start("2", lambda job: order.append(2))]
    assert started[1].state == "waiting"
    gate.set()
    for job in started:
        finished(job)
    assert order == [1, 2]


def test_a_waiting_job_is_cancelled_before_it_begins():
    jobs, gate, ran = Jobs(), threading.Event(), []
    running = jobs.start("1", lambda job: gate.wait(10))
    waiting = jobs.start("2", lambda job: ran.append(1))
    jobs.cancel(waiting.id)
    gate.set()
    assert finished(running).state == "done"
    assert finished(waiting).state == "cancelled"
    assert ran == []


def test_a_running_job_that_notices_is_cancelled():
    jobs, begun = Jobs(), threading.Event()

    def work(job):
        begun.set()
        assert job.stop.wait(10)
        raise Cancelled

    job = jobs.start("1", work)
    begun.wait(10)
    jobs.cancel(job.id)
    assert finished(job).state == "cancelled"


@pytest.mark.parametrize(
    ("error", "message"),
    [
        (ZygomorphError("No piece.", "Show one."), "No piece."),
        (OSError(28, "No space left on device"), "could not be written"),
        (RuntimeError("odd"), "error of the program"),
    ],
)
def test_a_failure_is_told_and_the_next_job_runs(error, message):
    jobs = Jobs()

    def fail(job):
        raise error

    failed, after = jobs.start("1", fail), jobs.start("2", lambda job: None)
    assert finished(failed).state == "failed"
    assert message in failed.describe()["message"]
    assert finished(after).state == "done"


def test_old_jobs_and_their_files_are_forgotten(tmp_path):
    jobs = Jobs()
    path = tmp_path / "old.glb"
    path.write_bytes(b"x")
    first = finished(jobs.start("1", lambda job: None))
    first.path = path
    for _ in range(MAX_KEPT + 1):
        finished(jobs.start("more", lambda job: None))
    assert not path.exists()
    with pytest.raises(ZygomorphError, match="no job"):
        jobs.get(first.id)


@pytest.mark.parametrize(
    ("name", "plain"),
    [
        ("Ember bulb", "ember-bulb"),
        ("../../etc/passwd", "etc-passwd"),
        ("  Größe №5 ", "gr-e-5"),
        ("日本", "study"),
        ('a"b\r\nc', "a-b-c"),
    ],
)
def test_file_names_are_of_plain_letters(name, plain):
    assert safe_name(name) == plain


def test_a_file_that_cannot_be_finished_leaves_the_old_one(tmp_path, monkeypatch):
    path = tmp_path / "a.glb"
    write_whole(path, b"old")
    monkeypatch.setattr("os.fsync", lambda number: (_ for _ in ()).throw(OSError("full")))
    with pytest.raises(OSError, match="full"):
        write_whole(path, b"new")
    assert path.read_bytes() == b"old"
    assert [p.name for p in tmp_path.iterdir()] == ["a.glb"]
