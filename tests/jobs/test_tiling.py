"""Large frames are cut into tiles, and look as if they were not."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from tests.jobs.conftest import bundle, ended, files_of, pictures
from tests.render.scenes import need_llvm
from zygomorph.jobs.queue import tiling as tilings
from zygomorph.jobs.queue.folder import JobFolder
from zygomorph.jobs.queue.making import TRACED
from zygomorph.jobs.queue.orders import FinalOrder
from zygomorph.jobs.queue.tiling import FEW_FRAMES, MOST_TILES, Tiling, tiles_of
from zygomorph.render.final.picture import Raw
from zygomorph.render.final.traced import Traced


@pytest.fixture
def cut(monkeypatch):
    need_llvm()
    monkeypatch.setattr(tilings, "PATHS", 300)


def order(**more) -> FinalOrder:
    return pictures(last=1, **{"noise_removal": True, **more})


@given(some.integers(1, 4000), some.integers(1, 4000), some.integers(1, 4096))
def test_tiles_are_all_rows_each_once(columns, rows, samples):
    made = FinalOrder("still", (columns, rows), 0, 0, samples=samples)
    tiles = tiles_of(made, 1)
    assert len(tiles) <= MOST_TILES
    if tiles:
        assert [row for tile in tiles for row in tile] == list(range(rows))
        assert all(len(tile) for tile in tiles)
    # Of many frames each worker has one of its own.
    assert tiles_of(made, FEW_FRAMES + 1) == []


@pytest.mark.parametrize("more", [{}, {"layers": ("depth", "pieces", "shadow"), "kind": "exr"}])
def test_a_frame_of_tiles_has_the_bytes_of_one_that_was_not_cut(
    make_queue, tmp_path, cut, monkeypatch, more
):
    asked = order(**more)
    tiled = make_queue(tmp_path / "tiled")
    job = ended(tiled, tiled.add(bundle(), asked)["id"])
    assert job.record.state == "done", job.record.message
    assert job.tiling is not None and len(job.tiling.rows) > 2
    monkeypatch.setattr(tilings, "PATHS", 10**9)
    whole = make_queue(tmp_path / "whole")
    other = ended(whole, whole.add(bundle(), asked)["id"])
    assert other.tiling is None
    assert files_of(job) == files_of(other)
    # Nothing but the frames is left, and each cost something.
    assert not list((job.folder.path / "tiles").iterdir())
    assert all(cost > 0 for cost in job.describe()["queued"]["costs"])


def test_a_job_of_tiles_goes_on_with_those_that_are_missing(make_queue, tmp_path, cut, monkeypatch):
    first = make_queue(tmp_path / "jobs")
    job_id = first.add(bundle(), order())["id"]
    expected = files_of(ended(first, job_id))
    again = first.repeat(job_id)["id"]
    first.pause(again)
    first.close()
    folder = JobFolder.open(tmp_path / "jobs" / again)
    # One tile is there, and one is damaged, as a crash of the disk may leave it.
    tiling = Tiling(folder.path, tiles_of(order(), 2))
    for k in range(len(tiling.rows)):
        tiling.put(0, k, b"not what was traced")
    second = make_queue(tmp_path / "jobs")
    second.resume(again)
    assert files_of(ended(second, again)) == expected


def test_what_was_traced_is_the_same_after_it_was_packed():
    rng = np.random.default_rng(1)
    shapes = ((3, 4, 3), (3, 4), (3, 4, 3), (3, 4, 3), (3, 4, 2, 4))
    arrays = [rng.random(shape, np.float32) for shape in shapes]
    raw = Raw(Traced(*arrays), {"mask-a-1": rng.random((3, 4, 1), np.float32)}, ("a", "b"))
    back = Raw.unpacked(raw.packed())
    assert back.pieces == raw.pieces
    assert np.array_equal(back.seen["mask-a-1"], raw.seen["mask-a-1"])
    assert np.array_equal(back.traced.pieces, raw.traced.pieces)
    both = Raw.below_each_other([raw, back])
    assert both.traced.light.shape == (6, 4, 3)
    assert TRACED not in both.seen
