"""What is left of earlier pictures in final ones."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import CIRCLING, document
from tests.jobs.conftest import ended, files_of, pictures
from tests.render.scenes import need_llvm
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.bundle import write_bundle
from zygomorph.core.shared.drawn_scene import Finish
from zygomorph.jobs.queue.orders import in_loop
from zygomorph.jobs.queue.trails import Leading, leading, left_of, trail_length, with_trails

FRAMES = 12
BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 0.3}}


def made(trails: float, how: str = "lighter") -> dict:
    own = document(BALL, CIRCLING, frames=FRAMES)
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
    assert trail_length(0, 100) == 0
    assert 0.5 ** trail_length(0.5, 100) <= 0.5 / 255 < 0.5 ** (trail_length(0.5, 100) - 1)
    assert trail_length(0.999, 24) == 24


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


def test_a_still_and_a_part_of_the_loop_have_the_trails_of_the_whole(make_queue, tmp_path):
    """The picture of a moment is the same whether it is delivered alone or in the loop."""
    need_llvm()
    whole = drawn(make_queue, tmp_path / "whole", made(60))
    part = drawn(make_queue, tmp_path / "part", made(60), first=1, last=2)
    still = drawn(make_queue, tmp_path / "still", made(60), kind="still", first=2, last=2)
    plain = drawn(make_queue, tmp_path / "plain", made(0), kind="still", first=2, last=2)
    for alone in (image(part, 1), image(still, 0)):
        # What has faded to less than half a step is left out, and light is kept in halves.
        assert np.abs(alone - image(whole, 2)).max() <= 2
    assert np.abs(image(still, 0) - image(plain, 0)).max() > 40


def test_what_plays_one_way_has_no_trails_before_its_first_frame(make_queue, tmp_path):
    need_llvm()
    once = made(80)
    once["loop"] = {**once["loop"], "one_way": True}
    once = dict(check_document(once).document)
    plain = drawn(make_queue, tmp_path / "plain", made(0), last=1)
    trailed = drawn(make_queue, tmp_path / "trails", once, last=1)
    assert np.abs(image(trailed, 0) - image(plain, 0)).max() <= 1
    assert np.abs(image(trailed, 1) - image(plain, 1)).max() > 20


def test_the_pictures_of_a_job_are_told_apart_from_those_for_trails(make_queue, tmp_path):
    need_llvm()
    queue = make_queue(tmp_path / "still")
    document = made(50)
    order = with_trails(pictures("still", first=4, last=4), Study(document))
    # 2 ** -9 is the first power of a half below half a step of 255.
    assert order.trail_times == (7, 8, 9, 10, 11, 0, 1, 2, 3)
    job = ended(queue, queue.add(write_bundle(document, []), order)["id"])
    told = job.describe()["queued"]
    assert (told["total"], told["pictures"], told["frames"]) == (10, 1, [0])
    assert len(queue.pictures(job)) == 1
    with pytest.raises(ZygomorphError, match="Frame 1 is not there"):
        queue.picture(job.record.id, 1)


def test_the_same_light_gives_the_same_trails_again(make_queue, tmp_path):
    need_llvm()
    document = made(70, "mixed")
    first = drawn(make_queue, tmp_path / "a", document)
    assert drawn(make_queue, tmp_path / "b", document) == first


LOOP = Loop(frames=24)


def test_what_leads_to_a_picture():
    # Nothing was shown yet: as far as trails reach.
    assert leading(4, None, 3, LOOP) == Leading((1, 2, 3), anew=True)
    # The picture before it was shown, or one some frames ago.
    assert leading(4, 3, 3, LOOP) == Leading((), anew=False)
    assert leading(4, 2, 3, LOOP, spacing=2) == Leading((3,), anew=False)
    # That is out of reach, or was later.
    assert leading(9, 2, 3, LOOP).anew
    assert leading(2, 5, 3, LOOP).anew
    # At twice the rate they are as close as the pictures.
    assert leading(4, None, 2, LOOP, spacing=0.5) == Leading((2, 2.5, 3, 3.5), anew=True)
    assert leading(4, 3.5, 2, LOOP, spacing=0.5) == Leading((), anew=False)
    # One way there is nothing before the first frame.
    assert leading(1, None, 3, Loop(frames=24, one_way=True)) == Leading((0,), anew=True)


@given(
    rate=st.sampled_from([12, 24, 25, 30, 48, 60]),
    step=st.integers(1, 4),
    first=st.integers(0, FRAMES - 1),
    count=st.integers(1, FRAMES),
    kind=st.sampled_from(["png", "still", "sheet", "seam", "mp4"]),
    trails=st.sampled_from([10, 50, 90, 99]),
)
def test_all_that_trails_are_made_of_is_drawn_once(rate, step, first, count, kind, trails):
    study = Study(made(trails))
    last = min(first + count, FRAMES) - 1
    ask = {"rate": rate} if step == 1 else {"step": step}
    order = with_trails(pictures(kind, first=first, last=last, **ask), study)
    drawn_at = [in_loop(time, FRAMES) for time in order.drawn_times(study.loop)]
    own = len(order.times(study.loop))
    assert len(set(drawn_at[own:])) == len(drawn_at) - own
    assert not set(drawn_at[own:]) & set(drawn_at[:own])


@pytest.mark.parametrize("rate", [24, 30, 48, 60])
def test_a_whole_loop_needs_no_pictures_but_its_own(rate):
    order = with_trails(pictures("mp4", last=FRAMES - 1, rate=rate), Study(made(90)))
    assert order.trailed
    assert order.trail_times == ()


def test_trails_of_fewer_pictures_are_made_of_every_frame():
    order = with_trails(pictures("mp4", last=FRAMES - 1, step=2), Study(made(90)))
    assert sorted(order.trail_times) == [1, 3, 5, 7, 9, 11]


def test_only_what_leaves_trails_has_them():
    assert with_trails(pictures(), Study(made(50))).trailed
    assert with_trails(pictures("still"), Study(made(50))).trailed
    assert not with_trails(pictures(), Study(made(0))).trailed
