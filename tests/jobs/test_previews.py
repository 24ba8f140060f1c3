"""Previews by path tracing: finer and finer, one for each window, by a process of their own."""

from __future__ import annotations

import io
import os
import signal

import numpy as np
import pytest
from PIL import Image

from tests.conftest import document
from tests.render.scenes import need_llvm
from tests.waiting import until
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.jobs.pictures.order import Eye
from zygomorph.jobs.preview.asked import SAMPLES, Asked
from zygomorph.jobs.preview.previews import Previews
from zygomorph.render.final.picture import draw
from zygomorph.render.final.refined import refined
from zygomorph.render.final.settings import FinalSettings
from zygomorph.store.database import open_engine

MADE = dict(
    check_document(
        document(
            {"step": "icosphere", "values": {"halvings": 3}},
            {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 60}}},
        )
    ).document
)
WRONG = dict(check_document(document({"step": "imported", "values": {"mesh": "0" * 64}})).document)


@pytest.fixture(scope="module")
def previews(tmp_path_factory):
    need_llvm()
    database = tmp_path_factory.mktemp("studies") / "zygomorph.sqlite3"
    open_engine(database).dispose()
    made = Previews(database)
    yield made
    made.close()


def asked(frame: float = 3.0, size=(40, 30), **more) -> Asked:
    return Asked(MADE, frame, size, **more)


def picture(drawn) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(drawn.data)))


def test_a_preview_becomes_what_the_final_picture_is():
    study = Study(MADE)
    settings = FinalSettings((40, 30), 4)
    found = list(refined(study, Evaluator(), 3.0, settings))
    assert [samples for samples, _ in found] == [0, 1, 2, 4]
    whole = draw(study, Evaluator(), 3.0, settings, final=False).shown(False)
    last = found[-1][1].astype(int)
    assert last.shape == whole.shape
    assert np.abs(last - whole).max() <= 1
    # The first look is already of the same thing.
    assert np.abs(found[0][1].astype(int) - whole).mean() < 12


def test_a_preview_is_left_where_it_is_called_off():
    calls = iter([False, False, False, False, True])
    with pytest.raises(Cancelled):
        list(
            refined(
                Study(MADE),
                Evaluator(),
                3.0,
                FinalSettings((40, 30), 64),
                cancelled=lambda: next(calls, True),
            )
        )


def test_pictures_come_finer_and_finer_until_the_last(previews):
    name = previews.begin("one", asked())
    samples, number = [], 0
    while not samples or samples[-1] < SAMPLES:
        number, drawn = previews.picture(name, number, 60)
        assert picture(drawn).shape == (30, 40, 3)
        samples.append(drawn.samples)
    assert (samples == sorted(samples) and samples[0] == 0) or len(samples) > 2
    # There is none after the last, and it can be had again.
    assert previews.picture(name, number, 0.05) is None
    assert previews.picture(name, 0, 0)[1].samples == SAMPLES


def test_windows_take_turns_and_a_new_one_of_a_window_ends_the_former(previews):
    first = previews.begin("a", asked(size=(300, 200)))
    second = previews.begin("b", asked(8.0, size=(300, 200)))
    for name in (first, second):
        previews.picture(name, 0, 60)
    replaced = previews.begin("a", asked(5.0))
    assert previews.picture(replaced, 0, 60)[1].samples >= 0
    with pytest.raises(ZygomorphError, match="left"):
        previews.picture(first, 0, 1)
    previews.end(second)
    with pytest.raises(ZygomorphError, match="left"):
        previews.picture(second, 0, 1)


def test_it_is_seen_from_where_the_window_looks(previews):
    def seen(eye):
        number, found = 0, None
        name = previews.begin("eye", asked(eye=eye))
        while found is None or found.samples < 16:
            number, found = previews.picture(name, number, 60)
        return picture(found).astype(int)

    near = seen(Eye((0.0, 0.0, 3.0), (0.0, 0.0, 0.0), 40.0))
    aside = seen(Eye((0.0, 0.0, 3.0), (0.9, 0.0, 0.0), 40.0))
    assert np.abs(near - aside).mean() > 5


def test_what_is_wrong_with_the_study_is_told(previews):
    name = previews.begin("wrong", Asked(WRONG, 0.0, (40, 30)))
    with pytest.raises(ZygomorphError, match="not stored"):
        previews.picture(name, 0, 60)


def test_after_the_process_was_killed_the_next_preview_has_another(previews):
    name = previews.begin("killed", asked(size=(900, 600)))
    previews.picture(name, 0, 60)
    os.kill(previews._process.pid, signal.SIGKILL)
    # Another process goes on with it at once, or it is told.
    try:
        previews.picture(name, 1, 60)
    except ZygomorphError as error:
        assert "ended unexpectedly" in error.message
    again = previews.begin("killed", asked(4.0))
    assert previews.picture(again, 0, 60) is not None


def test_who_waits_still_looks_however_long_it_takes(previews, monkeypatch):
    name = previews.begin("waits", asked(size=(600, 400)))
    monkeypatch.setattr("zygomorph.jobs.preview.previews.LEFT_S", 0.0)
    # A hundredth picture takes a while, and there is none.
    assert previews.picture(name, 99, 1.0) is None


def test_who_does_not_look_any_more_is_not_drawn_for(previews, monkeypatch):
    name = previews.begin("gone", asked(size=(600, 400)))
    previews.picture(name, 0, 60)
    monkeypatch.setattr("zygomorph.jobs.preview.previews.LEFT_S", 0.2)
    until(lambda: "gone" not in previews._of_window)
