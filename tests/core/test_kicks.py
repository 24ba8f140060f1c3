"""Kicks: jolts of one frame, at frames that are written or by chance."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError
from zygomorph.core.values.entries import definitions

LOOP = Loop(frames=30)


def kicks(times=None, **given) -> np.ndarray:
    definition = definitions("signal")["kicks"]
    values = {name: spec.default for name, spec in definition.values.items()} | given
    return definition.apply(values, np.arange(31.0) if times is None else times, LOOP)


@given(st.integers(0, 40), st.integers(0, 99))
def test_as_many_frames_are_kicked_as_are_asked_for(count, seed):
    found = kicks(count=count, seed=seed, value=2.0, size=0.5)
    assert np.isin(found, [2.0, 2.5]).all()
    assert (found[:30] == 2.5).sum() == min(count, 30)
    assert found[30] == found[0]


@given(st.integers(0, 99))
def test_both_ways_and_sizes_by_chance_stay_within_the_size(seed):
    found = kicks(count=20, seed=seed, ways="both", varies=50.0)[:30]
    sizes = np.abs(found[found != 0])
    assert len(sizes) == 20
    assert ((sizes >= 0.5) & (sizes <= 1)).all()
    assert (found < 0).any() and (found > 0).any()


def test_frames_beyond_the_loop_begin_again():
    assert np.flatnonzero(kicks(by="hand", frames="3 34,3")[:30]).tolist() == [3, 4]


def test_each_element_may_have_its_own_number_of_kicks():
    many = kicks(np.full(2, 5.0), count=np.array([0.0, 30.0]))
    assert many.tolist() == [0, 1]


@pytest.mark.parametrize("text", ["3, x", "-1", "2.5", "1e9", " ".join(["1"] * 201)])
def test_what_is_no_frame_is_told_with_its_place(text):
    signal = {"signal": "kicks", "by": "hand", "frames": text}
    with pytest.raises(DocumentError) as caught:
        check_document(document({"step": "box", "values": {"size": [signal, 1.0, 1.0]}}))
    assert caught.value.problems[0][0].endswith("/size/0/frames")
