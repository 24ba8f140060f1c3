"""Jobs of the queue: what they make, how they are led, and what becomes of them when things fail."""

from __future__ import annotations

import errno
import json
import threading
import zipfile

import numpy as np
import pytest

from tests.jobs.conftest import bundle, ended, files_of, pictures, until_begun
from tests.waiting import until
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import facts_of, pictures_in
from zygomorph.core.formats.deliver import deliver_sequence
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.deliver_usd import deliver_usd
from zygomorph.core.formats.stills import read_png
from zygomorph.jobs.queue import dispatching, worker_tasks
from zygomorph.jobs.queue import folder as folders
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.folder import JobFolder
from zygomorph.jobs.queue.orders import ClipOrder, MeshOrder, as_data, from_data
from zygomorph.jobs.queue.program_version import program_version
from zygomorph.jobs.queue.queue import Queue
from zygomorph.store.bundled import open_bundle


def test_frames_of_a_job_are_those_drawn_directly(queue):
    from zygomorph.render.final.picture import draw

    order = pictures(last=3)
    job = ended(queue, queue.add(bundle(), order)["id"])
    assert job.record.state == "done", job.record.message
    study, evaluator = open_bundle(bundle())
    for frame in range(4):
        drawn = draw(study, evaluator, float(frame), order.settings)
        assert np.array_equal(
            read_png(job.folder.frame(frame, "png"))[..., :3], drawn.shown(False)[..., :3]
        )
    told = job.describe()
    assert told["share"] == 1
    assert told["queued"]["frames"] == [0, 1, 2, 3]
    assert all(cost > 0 for cost in told["queued"]["costs"])


def test_a_clip_is_read_back_and_has_the_seconds_of_the_loop(queue):
    job = ended(queue, queue.add(bundle(), pictures("mp4", last=11))["id"])
    path, filename = queue.product(job.record.id)
    facts = facts_of(path)
    assert filename == "test.mp4"
    assert (facts.frames, facts.width, facts.height) == (12, 32, 18)
    assert facts.seconds == pytest.approx(0.5)


@pytest.mark.parametrize("kind", ["glb", "usd"])
def test_scenes_from_jobs_are_those_made_directly(queue, kind):
    job = ended(queue, queue.add(bundle(), MeshOrder(kind, (0, 23)))["id"])
    path, _ = queue.product(job.record.id)
    if kind == "glb":
        assert path.read_bytes() == deliver_glb(*open_bundle(bundle())).data
        assert job.record.details[0]["error_m"] >= 0
    else:
        assert path.read_bytes() == deliver_usd(*open_bundle(bundle()))


def test_a_sequence_from_a_job_is_the_one_made_directly(queue):
    order = MeshOrder("ply", (2, 6), final=True)
    job = ended(queue, queue.add(bundle(), order)["id"])
    path, filename = queue.product(job.record.id)
    made = open_bundle(bundle())
    wanted = dict(deliver_sequence(*made, "ply", range(2, 7), final=True))
    with zipfile.ZipFile(path) as archive:
        assert {name: archive.read(name) for name in archive.namelist()} == wanted
    assert filename == "test-ply.zip"


def test_a_job_that_is_cut_off_goes_on_with_what_is_missing(make_queue, tmp_path):
    first = make_queue()
    undisturbed = files_of(ended(first, first.add(bundle(), pictures(last=11))["id"]))
    job_id = first.add(bundle(), pictures(last=11))["id"]
    until_begun(first, job_id, 3)
    first.close()
    kept = JobFolder.open(tmp_path / "jobs" / job_id)
    there = {path.name: path.stat().st_mtime_ns for path in (kept.path / "frames").iterdir()}
    assert 3 <= len(there) < 12
    # As a crash leaves what it was writing.
    (kept.path / "frames" / "000011.png.part").write_bytes(b"half")
    again = make_queue()
    job = ended(again, job_id)
    assert files_of(job) == undisturbed
    after = {path.name: path.stat().st_mtime_ns for path in (kept.path / "frames").iterdir()}
    assert {name: after[name] for name in there} == there


def test_a_job_stands_still_and_goes_on(queue):
    job_id = queue.add(bundle(), pictures(last=40))["id"]
    until_begun(queue, job_id, 2)
    assert queue.pause(job_id)["state"] == "paused"
    done = len(queue.get(job_id).done)
    other = queue.add(bundle(), pictures(last=1))["id"]
    assert ended(queue, other).record.state == "done"
    assert len(queue.get(job_id).done) <= done + 2
    assert queue.resume(job_id)["state"] in ("waiting", "running")
    assert ended(queue, job_id).record.state == "done"


def test_a_job_is_called_off_made_again_and_removed(queue):
    job_id = queue.add(bundle(), pictures(last=60))["id"]
    until_begun(queue, job_id)
    assert queue.cancel(job_id)["state"] == "cancelled"
    with pytest.raises(ZygomorphError, match="has no file"):
        queue.product(job_id)
    again = queue.repeat(job_id)
    assert again["id"] != job_id
    assert again["queued"]["total"] == 61
    path = queue.get(job_id).folder.path
    queue.remove(job_id)
    assert not path.exists()
    with pytest.raises(ZygomorphError, match="no job"):
        queue.get(job_id)


def test_jobs_are_done_in_their_order(make_queue):
    waits = ["not yet"]
    queue = make_queue(ready=lambda: waits[0] if waits else None)
    first, second, third = (queue.add(bundle(), pictures(last=2))["id"] for _ in range(3))
    queue.move(third, before=first)
    queue.move(first, before=None)
    assert [job.record.id for job in queue.all()] == [third, second, first]
    waits.clear()
    for job_id in (first, second, third):
        assert ended(queue, job_id).record.state == "done"
    begun = [
        queue.get(job_id).folder.frame(0, "png").stat().st_mtime_ns
        for job_id in (third, second, first)
    ]
    assert begun == sorted(begun)


def test_a_clip_of_finished_frames_shows_them_at_another_rate_and_order(queue):
    job = ended(queue, queue.add(bundle(frames=24), pictures(last=11))["id"])
    frames = queue.pictures(job)
    order = ClipOrder("webm", (64, 36), 24.0, 48.0, "there and back", pixel_format="yuv444p")
    clip = ended(queue, queue.add(job.folder.bundle, order, frames=frames)["id"])
    assert clip.record.state == "done", clip.record.message
    path, _ = queue.product(clip.record.id)
    facts = facts_of(path)
    # Forth 12, back 10 without the ends, each shown twice.
    assert (facts.frames, facts.width) == (44, 64)
    assert facts.seconds == pytest.approx(22 / 24, rel=0.02)
    shown = list(pictures_in(path))
    assert np.abs(shown[0].astype(int) - shown[1]).mean() < 2
    # What it shows is there even when the job that drew it is gone.
    queue.remove(job.record.id)
    assert queue.repeat(clip.record.id)["queued"]["done"] == 12


def test_numbers_of_a_clip_follow_its_way_and_rate():
    def numbers(way, own=24.0, rate=24.0):
        return ClipOrder("mp4", (16, 16), own, rate, way).numbers(4)

    assert numbers("forwards") == [0, 1, 2, 3]
    assert numbers("backwards") == [3, 2, 1, 0]
    # Played on and on, neither end is shown twice in a row.
    assert numbers("there and back") == [0, 1, 2, 3, 2, 1]
    assert numbers("forwards", rate=12.0) == [0, 2]
    assert numbers("forwards", rate=48.0) == [0, 0, 1, 1, 2, 2, 3, 3]


def test_a_full_disk_pauses_the_job_and_loses_nothing(queue, monkeypatch):
    own, full = folders.write_whole, []

    def write(path, data):
        if full and path.name.startswith("0000") and path.suffix == ".png":
            raise OSError(errno.ENOSPC, "No space left on device")
        own(path, data)

    monkeypatch.setattr(folders, "write_whole", write)
    job_id = queue.add(bundle(), pictures(last=12))["id"]
    until_begun(queue, job_id, 2)
    full.append(True)
    job = ended(queue, job_id)
    assert job.record.state == "paused"
    assert "disk is full" in job.record.message
    assert "needed for what is missing" in job.record.message
    kept = set(files_of(job))
    assert len(kept) >= 2
    full.clear()
    queue.resume(job_id)
    assert ended(queue, job_id).record.state == "done"
    assert len(files_of(job)) == 13


def test_a_step_that_cannot_do_its_work_fails_the_job_with_its_reason(queue):
    steps = ({"step": "imported", "values": {"mesh": "0" * 64}},)
    job = ended(queue, queue.add(bundle(*steps), MeshOrder("ply", (0, 3)))["id"])
    assert job.record.state == "failed"
    assert job.record.message
    assert "not stored" in job.record.message or "Step" in job.record.message


def test_a_worker_of_another_version_makes_nothing(queue, monkeypatch):
    real = program_version()
    job_id = queue.add(bundle(), pictures(last=3))["id"]
    until_begun(queue, job_id)
    queue.pause(job_id)
    queue.get(job_id).record.program = "another 1.0"
    queue.get(job_id).record.state = "waiting"
    queue._start()
    until(lambda: "another 1.0" in queue.get(job_id).what())
    assert list(queue.refused().values()) == [real]
    # Both versions are said.
    assert real in queue.get(job_id).what()


def test_frames_of_another_version_are_not_mixed_with_these(make_queue, tmp_path):
    first = make_queue()
    job_id = first.add(bundle(), pictures(last=60))["id"]
    until_begun(first, job_id)
    first.close()
    path = tmp_path / "jobs" / job_id / "order.json"
    told = json.loads(path.read_text()) | {"program": "0.0 (older, llvm)"}
    path.write_text(json.dumps(told))
    again = make_queue()
    record = again.get(job_id).record
    assert record.state == "paused"
    assert "0.0 (older, llvm)" in record.message
    with pytest.raises(ZygomorphError, match="older"):
        again.resume(job_id)


def _nothing(*_):
    return None


MAKE_UNIT, HUNG, LET_GO = worker_tasks.make_unit, [], threading.Event()


def hang_once(run, bundle, number, states=None):
    if number == 3 and not HUNG:
        HUNG.append(number)
        LET_GO.wait(60)
    return MAKE_UNIT(run, bundle, number, states)


def test_a_unit_that_takes_far_too_long_is_made_by_another_worker(tmp_path, monkeypatch):
    """One worker hangs in a frame; the other, which has nothing left to do, makes it as well."""
    HUNG.clear()
    LET_GO.clear()
    monkeypatch.setattr(worker_tasks, "make_unit", hang_once)
    monkeypatch.setattr(dispatching, "SLOW_S", 0.2)
    queue = Queue(tmp_path / "jobs", Cluster(ClusterSettings(workers=2, apart=False)))
    try:
        job = ended(queue, queue.add(bundle(), pictures(last=7))["id"])
        assert job.record.state == "done"
        assert HUNG == [3]
        assert len(files_of(job)) == 8
    finally:
        LET_GO.set()
        queue.close()


@pytest.mark.parametrize("given_out", [True, False])
def test_a_job_that_the_program_cannot_do_fails_and_the_next_is_made(queue, monkeypatch, given_out):
    lock = threading.Lock()
    # What comes back is nothing that it knows; or it cannot be sent at all.
    monkeypatch.setattr(worker_tasks, "make_unit", _nothing if given_out else lambda *_: lock)
    wrong = ended(queue, queue.add(bundle(), pictures(last=1))["id"])
    assert wrong.record.state == "failed"
    assert "error of the program" in wrong.record.message
    monkeypatch.undo()
    assert ended(queue, queue.add(bundle(), pictures(last=1))["id"]).record.state == "done"


def test_one_program_works_on_a_folder_at_a_time(make_queue, tmp_path):
    first, second = make_queue(), make_queue()
    first.add(bundle(), pictures(last=1))
    with pytest.raises(ZygomorphError, match="Another program"):
        second.add(bundle(), pictures(last=1))
    assert second.all() == []


def test_what_cannot_be_read_is_left_alone(make_queue, tmp_path):
    wrong = tmp_path / "jobs" / "abc"
    wrong.mkdir(parents=True)
    (wrong / "order.json").write_text("{")
    (tmp_path / "jobs" / "def.part").mkdir()
    assert make_queue().all() == []
    assert wrong.exists()
    assert not (tmp_path / "jobs" / "def.part").exists()


def test_what_cannot_be_made_is_refused_at_once(queue):
    for order in (
        pictures(samples=0),
        pictures(size=(32, 100_000)),
        pictures("mp4", size=(33, 18)),
    ):
        with pytest.raises(ZygomorphError):
            queue.add(bundle(), order)
    assert queue.all() == []


@pytest.mark.parametrize(
    "order",
    [
        pictures(blur=True, clamp=0.0),
        MeshOrder("glb", (0, 3), "p", numbers="compact"),
        ClipOrder("gif", (20, 10), 24.0, 12.0),
    ],
)
def test_orders_are_the_same_after_they_were_kept(order):
    assert from_data(json.loads(json.dumps(as_data(order)))) == order


def test_an_order_of_another_version_is_told():
    with pytest.raises(ZygomorphError, match="another version"):
        from_data({"order": "hologram"})
