"""Frames that are made side by side, one core each, are those that all cores make one by one."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np

from tests.api.conftest import read_frame
from tests.api.test_fast_frames import frame_address


def blocks_of(client, state, **query):
    answer = client.get(frame_address(state, **query))
    assert answer.status_code == 200, answer.text
    return read_frame(answer.data)[1]


def test_many_at_once_are_the_same_as_one_by_one(service, client, sample):
    frames = range(0, 24, 2)
    with ThreadPoolExecutor(8) as threads:
        many = list(
            threads.map(
                # Each third is asked for with all cores in between.
                lambda f: blocks_of(client, sample, frame=f, many=str(f % 3 > 0).lower()),
                frames,
            )
        )
    service._frames._kept.clear()
    service.evaluator.cache._kept.clear()
    for frame, found in zip(frames, many, strict=True):
        alone = blocks_of(client, sample, frame=frame)
        assert found.keys() == alone.keys()
        for name in alone:
            assert np.array_equal(found[name], alone[name]), name
    assert not np.array_equal(many[0]["points"], many[3]["points"])


def test_frames_asked_for_as_many_are_made_with_one_core(service, client, sample, monkeypatch):
    taken = []
    drawn = service.evaluator.drawn

    def watch(study, request):
        taken.append(request.shared)
        return drawn(study, request)

    monkeypatch.setattr(service.evaluator, "drawn", watch)
    monkeypatch.setattr("zygomorph.api.service.KEPT_FROM_S", 0.0)
    blocks_of(client, sample, frame=5, many="true")
    blocks_of(client, sample, frame=6)
    # Known by now, however it is asked for.
    blocks_of(client, sample, frame=6, many="true")
    assert taken == [True, False]


def test_only_frames_that_took_long_are_kept(service, client, sample, monkeypatch):
    monkeypatch.setattr("zygomorph.api.service.KEPT_FROM_S", 1e9)
    first = blocks_of(client, sample, frame=5)
    assert len(service._frames) == 0
    monkeypatch.setattr("zygomorph.api.service.KEPT_FROM_S", 0.0)
    second = blocks_of(client, sample, frame=5)
    assert len(service._frames) == 1
    third = blocks_of(client, sample, frame=5)
    for found in (second, third):
        assert np.array_equal(found["points"], first["points"])
