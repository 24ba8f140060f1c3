"""Systems and masks that remember are stepped once for all frames of a job."""

from __future__ import annotations

import copy
import os

import numpy as np
import pytest

from tests.conftest import document
from tests.jobs.conftest import ended, files_of, pictures, until_begun
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.core.evaluation.stepped import SteppedMask, SteppedSystem
from zygomorph.core.formats.bundle import write_bundle
from zygomorph.jobs.queue import making
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.orders import ClipOrder, MeshOrder
from zygomorph.jobs.queue.stepping import (
    SavedStates,
    adopt_states,
    is_stepped_ahead,
    stateful_pieces,
    step_through,
)
from zygomorph.store.state_shelf import StateShelf

BALL = {"step": "icosphere", "values": {"halvings": 1}}
SWINGS = {
    "step": "place",
    "values": {"move": [{"signal": "cycle", "low": -0.5, "high": 0.5}, 0, 0]},
}
SPRINGS = {"id": "s", "step": "springs", "values": {"closing": "settles"}}
REMEMBERS = {
    "id": "m",
    "step": "displace",
    "values": {"amount": 0.2},
    "where": {
        "layers": [{"id": "l", "layer": "ball", "values": {"radius": 0.6}, "memory": "stays"}]
    },
}
STEPS = {"system": (BALL, SWINGS, SPRINGS), "mask": (BALL, SWINGS, REMEMBERS)}


def made(name: str) -> dict:
    return dict(check_document(document(*STEPS[name], frames=24)).document)


def meshes(evaluator: Evaluator, study: Study, frame: float) -> np.ndarray:
    return evaluator.evaluate(study, Request("p", frame, False)).mesh.points


@pytest.mark.parametrize("name", STEPS)
def test_who_is_handed_the_states_of_a_frame_walks_nothing(name, monkeypatch):
    study = Study(made(name))
    order = MeshOrder("ply", (0, 23))
    states = dict(step_through(study, Evaluator(), order, range(24)))
    expected = {k: meshes(Evaluator(), study, float(k)) for k in (0, 7, 23)}
    assert not np.allclose(expected[7], expected[23])

    def never(*_):
        raise AssertionError("stepped again")

    monkeypatch.setattr(SteppedSystem, "advance", never)
    monkeypatch.setattr(SteppedMask, "advance", never)
    for frame, points in expected.items():
        other = Evaluator()
        adopt_states(other, states[frame])
        assert np.array_equal(meshes(other, study, float(frame)), points)


@pytest.mark.parametrize("name", STEPS)
def test_stepping_goes_on_from_the_states_of_the_frame_before(name, monkeypatch):
    study, order = Study(made(name)), MeshOrder("ply", (0, 23))
    whole = Evaluator()
    states = dict(step_through(study, whole, order, range(24)))
    stepped = []
    for sort in (SteppedSystem, SteppedMask):
        original = sort.advance

        def counted(self, known, frame, frames, walked, original=original):
            stepped.append(frame)
            return original(self, known, frame, frames, walked)

        monkeypatch.setattr(sort, "advance", counted)
    other = Evaluator()
    adopt_states(other, states[15])
    rest = dict(step_through(study, other, order, range(16, 20)))
    assert rest[19] == states[19]
    assert len(stepped) == 4


def test_pieces_with_state_are_found_and_others_are_not_stepped():
    assert stateful_pieces(Study(made("mask")), False) == {"p": "m"}
    assert is_stepped_ahead(Study(made("system")), pictures(), 6)
    assert not is_stepped_ahead(Study(made("system")), pictures(), 1)
    assert not is_stepped_ahead(Study(made("system")), MeshOrder("glb", (0, 23)), 1)
    clip = ClipOrder("gif", (16, 16), 24, 12)
    assert not is_stepped_ahead(Study(made("system")), clip, 6)
    turning = document(BALL, {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 9}}})
    assert not is_stepped_ahead(Study(check_document(turning).document), pictures(), 6)


def test_files_of_states_are_dropped_when_their_frames_are_done(tmp_path):
    saved = SavedStates(tmp_path, 20)
    assert saved.next_range(set()) == range(8)
    for number in range(8):
        saved.put(number, bytes([number]))
    assert saved.next_range(set()) == range(8, 16)
    saved.drop(3)
    saved.drop(7)
    # From the last one it is stepped on.
    assert SavedStates(tmp_path, 20).known == {0, 1, 2, 4, 5, 6, 7}
    # One that is lost is stepped again.
    (tmp_path / "states" / "000005.bin").unlink()
    assert saved.get(5) is None
    assert saved.next_range({3}) == range(5, 13)
    saved.clear()
    assert SavedStates(tmp_path, 20).known == set()


@pytest.mark.parametrize("name", STEPS)
def test_frames_of_a_job_with_state_are_those_made_directly(queue, name, monkeypatch):
    from zygomorph.render.final.picture import draw

    stepped = []
    original = SteppedSystem.advance

    def counted(self, known, frame, frames, walked):
        stepped.append(frame)
        return original(self, known, frame, frames, walked)

    monkeypatch.setattr(SteppedSystem, "advance", counted)
    data = write_bundle(made(name), [])
    order = pictures(last=11)
    job = ended(queue, queue.add(data, order)["id"])
    assert job.record.state == "done", job.record.message
    # Each frame of the run once, whoever draws it.
    assert len(stepped) == len(set(stepped))
    files = files_of(job)
    study = Study(made(name))
    for frame in (0, 11):
        drawn = draw(study, Evaluator(), float(frame), order.settings).shown(False)
        assert (shown(files, frame) == drawn).all()
    # Only the last is left, from which it would go on.
    assert len(list((job.folder.path / "states").iterdir())) <= 1


def shown(files: dict[str, bytes], frame: int) -> np.ndarray:
    import io

    from PIL import Image

    data = next(d for name, d in files.items() if name.endswith(f"{frame:06d}.png"))
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def test_a_job_with_state_goes_on_after_it_was_cut_off(make_queue, tmp_path):
    data, order = write_bundle(made("system"), []), pictures(last=23)
    whole = make_queue(tmp_path / "whole")
    expected = files_of(ended(whole, whole.add(data, order)["id"]))
    first = make_queue(tmp_path / "cut")
    job_id = first.add(data, order)["id"]
    until_begun(first, job_id, 3)
    first.close()
    second = make_queue(tmp_path / "cut")
    assert files_of(ended(second, job_id)) == expected


@pytest.mark.parametrize("name", STEPS)
def test_a_simulation_cache_is_found_by_whoever_evaluates_the_same(
    name, make_queue, tmp_path, monkeypatch
):
    shelf = StateShelf(tmp_path / "states")
    queue = make_queue(tmp_path / "jobs", keep_states=shelf.put)
    order = MeshOrder("cache", (0, 23))
    job = ended(queue, queue.add(write_bundle(made(name), []), order)["id"])
    assert job.record.state == "done", job.record.message
    assert job.record.details == [{"frames": 24, "bytes": job.record.details[0]["bytes"]}]
    assert job.describe()["share"] == 1
    study = Study(made(name))
    expected = meshes(Evaluator(), study, 17.0)

    def never(*_):
        raise AssertionError("stepped again")

    monkeypatch.setattr(SteppedSystem, "advance", never)
    monkeypatch.setattr(SteppedMask, "advance", never)
    found = Evaluator(shelf=StateShelf(tmp_path / "states"))
    assert np.array_equal(meshes(found, study, 17.0), expected)
    # Another study, or another program, does not know them.
    other = copy.deepcopy(made(name))
    other["pieces"][0]["recipe"][0]["values"]["radius"] = 0.77
    with pytest.raises(AssertionError, match="stepped again"):
        meshes(found, Study(other), 17.0)
    monkeypatch.setattr("zygomorph.store.state_shelf.program_digest", lambda: "another")
    newer = StateShelf(tmp_path / "states")
    assert newer.states("any") is None
    newer.clear_former()
    assert list((tmp_path / "states").iterdir()) == []


@pytest.mark.parametrize("name", STEPS)
def test_final_pictures_are_drawn_from_a_simulation_cache(name, make_queue, tmp_path, monkeypatch):
    making._open.clear()
    data = write_bundle(made(name), [])
    plain = make_queue(tmp_path / "plain")
    expected = files_of(ended(plain, plain.add(data, pictures())["id"]))
    shelf = StateShelf(tmp_path / "states")
    queue = make_queue(tmp_path / "jobs", keep_states=shelf.put)
    ended(queue, queue.add(data, MeshOrder("cache", (0, 23)))["id"])
    making._open.clear()

    def never(*_):
        raise AssertionError("stepped again")

    monkeypatch.setenv(making.STATES_NAMED, str(tmp_path / "states"))
    monkeypatch.setattr(SteppedSystem, "advance", never)
    monkeypatch.setattr(SteppedMask, "advance", never)
    assert files_of(ended(queue, queue.add(data, pictures())["id"])) == expected


def test_workers_of_this_machine_are_told_where_simulation_caches_are(tmp_path):
    cluster = Cluster(ClusterSettings(workers=1, states=tmp_path))
    try:
        found = cluster.client().submit(os.getenv, making.STATES_NAMED).result(60)
    finally:
        cluster.close()
    assert found == str(tmp_path)


def test_a_simulation_cache_goes_on_after_it_was_cut_off(make_queue, tmp_path):
    shelf = StateShelf(tmp_path / "states")
    order = MeshOrder("cache", (0, 23))
    first = make_queue(tmp_path / "jobs", keep_states=shelf.put)
    job_id = first.add(write_bundle(made("system"), []), order)["id"]
    until_begun(first, job_id, 8)
    first.close()
    second = make_queue(tmp_path / "jobs", keep_states=shelf.put)
    assert len(second.get(job_id).done) >= 8 or second.get(job_id).record.state == "done"
    assert ended(second, job_id).record.state == "done"


def test_a_study_without_state_has_no_simulation_cache(queue):
    data = write_bundle(document(BALL, frames=24), [])
    with pytest.raises(ZygomorphError, match="no system and no memory mask"):
        queue.add(data, MeshOrder("cache", (0, 23)))


def test_what_is_damaged_on_the_shelf_is_stepped_again(tmp_path):
    study, shelf = Study(made("system")), StateShelf(tmp_path)
    order = MeshOrder("cache", (0, 5))
    for _, states in step_through(study, Evaluator(), order, range(6)):
        shelf.put(HandedStates.unpacked(states))
    for path in tmp_path.rglob("*"):
        if path.is_file():
            path.write_bytes(path.read_bytes()[:10])
    expected = meshes(Evaluator(), study, 5.0)
    assert np.array_equal(meshes(Evaluator(shelf=shelf), study, 5.0), expected)
