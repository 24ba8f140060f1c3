"""What is left of earlier pictures in final ones."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from tests.conftest import document
from tests.jobs.conftest import ended, files_of, pictures
from tests.render.scenes import need_llvm
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.formats.bundle import write_bundle
from zygomorph.core.shared.drawn_scene import Finish
from zygomorph.jobs.queue.trailing import has_trails, left_of, length_of, with_trails

FRAMES = 12
BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 0.3}}
ROUND = {
    "step": "place",
    "values": {
        "move": [
            {"signal": "cycle", "low": -0.8, "high": 0.8},
            {"signal": "cycle", "low": -0.8, "high": 0.8, "phase": 0.25},
            0,
        ]
    },
}


def made(trails: float, how: str = "lighter") -> dict:
    own = document(BALL, ROUND, frames=FRAMES)
    own["finish"] = {"values": {"trails": trails, "trails_as": how}}
    return dict(check_document(own).document)


def finish(trails: float, how="lighter") -> Finish:
    return Finish(1.0, 0.0, 0.0, 1.0, 0.5, 0.0, 0.1, 0.0, trails, how)


def test_what_is_left_fades_by_its_share_each_frame():
    before, now = np.full((2, 2, 4), 0.8, np.float32), np.full((2, 2, 4), 0.1, np.float32)
    assert left_of(before, now, finish(0.5), 1) == pytest.approx(0.4)
    # Over two frames it fades twice.
    assert left_of(before, now, finish(0.5), 2) == pytest.approx(0.2)
    # Mixed it is a mean.
    assert left_of(before, now, finish(0.25, "mixed"), 1) == pytest.approx(0.1 + 0.7 * 0.25)


def test_a_picture_is_gone_when_half_a_step_of_255_is_left():
    assert length_of(0, 100) == 0
    assert 0.5 ** length_of(0.5, 100) <= 0.5 / 255 < 0.5 ** (length_of(0.5, 100) - 1)
    assert length_of(0.999, 24) == 24


def image(files, number) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(files[f"{number:06d}.png"])).convert("RGB")).astype(int)


def drawn(make_queue, folder, document, last=FRAMES - 1, **more):
    queue = make_queue(folder)
    study = Study(document)
    order = with_trails(pictures(last=last, **more), study)
    job = ended(queue, queue.add(write_bundle(document, []), order)["id"])
    assert job.record.state == "done", job.record.message
    return files_of(job)


def test_final_pictures_have_trails_and_the_loop_begins_with_those_of_its_end(make_queue, tmp_path):
    need_llvm()
    plain = drawn(make_queue, tmp_path / "plain", made(0))
    assert not any(name.endswith(".exr") for name in plain)
    trailed = drawn(make_queue, tmp_path / "trails", made(80))
    lit = [np.abs(image(trailed, k) - image(plain, k)).max(axis=-1) > 8 for k in range(FRAMES)]
    # In each frame something is left where the ball was before, also in the first.
    assert min(each.sum() for each in lit) > 20
    # What is left of frame 5 in frame 6 is where the ball was in frame 5.
    was = np.abs(image(plain, 5) - image(plain, 0)).max(axis=-1) > 40
    assert (lit[6] & was).sum() > 0.3 * (
        was & ~(np.abs(image(plain, 6) - image(plain, 0)).max(axis=-1) > 40)
    ).sum()
    # A part of the loop begins without.
    part = drawn(make_queue, tmp_path / "part", made(80), last=3)
    # Light is kept in halves, which have 11 bits.
    assert np.abs(image(part, 0) - image(plain, 0)).max() <= 1
    assert np.abs(image(part, 3) - image(plain, 3)).max() > 20


def test_the_same_light_gives_the_same_trails_again(make_queue, tmp_path):
    need_llvm()
    document = made(70, "mixed")
    first = drawn(make_queue, tmp_path / "a", document)
    assert drawn(make_queue, tmp_path / "b", document) == first


def test_only_pictures_that_follow_one_another_have_trails():
    study = Study(made(50))
    assert has_trails(study, pictures())
    assert not has_trails(study, pictures("still"))
    assert not has_trails(Study(made(0)), pictures())
