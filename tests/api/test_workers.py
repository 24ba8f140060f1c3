"""Work that is handed to other threads comes back whole, and errors with it."""

import gc
import threading
import weakref
from concurrent.futures import ThreadPoolExecutor

import pytest

from zygomorph.api.workers import Workers


def test_each_who_asks_gets_its_own_answer():
    workers = Workers(3, "w")
    with ThreadPoolExecutor(16) as askers:
        found = list(askers.map(lambda k: workers.run(lambda: k * k), range(500)))
    assert found == [k * k for k in range(500)]


def test_one_worker_does_one_thing_at_a_time_and_always_the_same_thread():
    workers = Workers(1, "alone")
    busy = threading.Lock()
    seen = set()

    def work() -> None:
        assert busy.acquire(blocking=False), "two at once"
        seen.add(threading.current_thread().name)
        busy.release()

    with ThreadPoolExecutor(8) as askers:
        list(askers.map(lambda _: workers.run(work), range(200)))
    assert seen == {"alone-0"}


def test_as_many_things_at_once_as_there_are_workers():
    workers = Workers(3, "w")
    together = threading.Barrier(3, timeout=10)
    with ThreadPoolExecutor(3) as askers:
        # Each waits for the other two: with fewer at once the barrier breaks.
        assert len(list(askers.map(lambda _: workers.run(together.wait), range(3)))) == 3


def test_an_error_reaches_who_asked_and_the_worker_lives_on():
    workers = Workers(1, "w")

    def fail() -> None:
        raise ValueError("limits meet")

    for _ in range(3):
        with pytest.raises(ValueError, match="limits meet"):
            workers.run(fail)
    assert workers.run(lambda: 7) == 7


def test_what_was_computed_is_not_held_on_to():
    class Large:
        pass

    workers = Workers(1, "w")
    kept = workers.run(Large)
    # The worker forgets a task when it takes the next.
    workers.run(lambda: None)
    gone = weakref.ref(kept)
    del kept
    gc.collect()
    assert gone() is None
