"""What is kept is counted, with what was derived of it."""

import resource
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document
from zygomorph.api.frames import FrameOptions
from zygomorph.api.service import Service
from zygomorph.core.document.beginnings import completed
from zygomorph.core.geometry.grid import grid_topology
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.held import held_bytes
from zygomorph.core.memo.memo import Memo


def _resident() -> int:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize()


def _sheet(columns: int) -> dict:
    return document(
        {"step": "sheet", "values": {"columns": columns, "rows": 100}},
        {"step": "smooth", "values": {"times": 2}},
        {"step": "displace", "where": {"layers": [{"id": "rim", "layer": "border"}]}},
    )


@pytest.mark.thorough
def test_dragging_a_form_through_many_counts_keeps_no_more_than_the_limit(tmp_path):
    limit = 30_000_000
    service = Service(tmp_path, cache_bytes=limit)
    last = None
    for k in range(80):
        study = service.study(completed(_sheet(260 + k)))
        piece = study.pieces[0]["id"]
        service.preview(study, piece, FrameOptions(0.0), None, ("w", "s", piece), k)
        if k == 15:
            # What threads, caches of the system and kernels take has been taken by now.
            last = _resident()
    assert last is not None
    assert _resident() - last < 200_000_000
    assert service.evaluator.cache.used_bytes <= limit
    # One such sheet holds far more than its points: what was derived was counted.
    structures = service.evaluator.structures
    assert structures.used_bytes <= structures.limit_bytes


def _mesh(columns: int) -> Mesh:
    topology, _ = grid_topology(columns, 4)
    return Mesh(np.zeros((topology.point_count, 3), np.float32), topology)


def test_what_is_derived_later_is_counted():
    mesh = _mesh(50)
    cache: Memo[Mesh] = Memo(10_000_000)
    cache.put("a", mesh)
    before = cache.used_bytes
    assert before == held_bytes(mesh)
    _ = mesh.topology.neighbours, mesh.topology.digest
    assert held_bytes(mesh) > before
    cache.recount()
    assert cache.used_bytes == held_bytes(mesh)


def test_what_several_share_counts_once():
    mesh = _mesh(50)
    cache: Memo[Mesh] = Memo(10_000_000)
    for k in range(5):
        cache.put(str(k), mesh.moved(mesh.points + np.float32(k)))
    alone = held_bytes(mesh.topology)
    assert cache.used_bytes == alone + 5 * mesh.points.nbytes


@given(
    st.lists(st.tuples(st.sampled_from("abcdef"), st.integers(0, 5), st.integers(0, 30))),
    st.integers(100, 2000),
)
def test_the_count_is_that_of_what_is_held(puts, limit):
    shared = [np.zeros(each * 10, np.uint8) for each in range(6)]
    cache: Memo[tuple] = Memo(limit)
    for key, number, own in puts:
        cache.put(key, (shared[number], np.zeros(own * 10, np.uint8)))
        if own % 3 == 0:
            cache.recount()
    held = [entry.value for entry in cache._kept.values()]
    assert cache.used_bytes == held_bytes(held) <= limit
    for key in list(cache._kept):
        cache._drop(key)
    assert cache.used_bytes == 0
    assert not cache._holders


def test_what_is_larger_than_the_whole_cache_does_not_drive_out_the_rest():
    cache: Memo[np.ndarray] = Memo(1000)
    cache.put("small", np.zeros(300, np.uint8))
    cache.put("large", np.zeros(1001, np.uint8))
    assert cache.get("large") is None
    assert cache.get("small") is not None
