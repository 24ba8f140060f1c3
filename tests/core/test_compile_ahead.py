"""What is compiled aside: the order of need, who waits, and what happens when it is cut short."""

import json
import os
import queue
import signal
import subprocess
import sys
import threading
from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool

import numpy as np
import pytest

from tests.waiting import until
from zygomorph.core.kernels import compile_ahead, compiled
from zygomorph.core.kernels.compile_ahead import CompileAhead, by_need
from zygomorph.core.kernels.compiled import KERNELS

# Declares two kernels, begins to compile all aside, and calls the one that stands last in line.
PROGRAM = """
import json, os, sys, time
import numpy as np
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.kernels.along_directions import push
from zygomorph.core.kernels import compile_ahead
from zygomorph.core.kernels.compiled import ALONE, KERNELS, is_complete

if __name__ == "__main__":
    ahead = compile_ahead.CompileAhead(lambda done, total: None)
    if "--killed" in sys.argv:
        print(json.dumps([p.pid for q in ahead._pools for p in q._processes.values()]), flush=True)
        time.sleep(60)
    low, high, finite = box_of(np.float32([[0, 1, 2], [3, 4, 5]]))
    ahead.finished.wait()
    moved = push(np.zeros((2, 3), np.float32), np.float32([[0, 1, 0]]),
                 np.ones(2, np.float32), np.ones(1, np.float32), np.ones(1, np.float32))
    names = [k.name for k in KERNELS]
    indices = [name for _, _, files in os.walk(os.environ["NUMBA_CACHE_DIR"])
               for name in files if name.endswith(".nbi")]
    alone = sum(ALONE in name for name in indices)
    print(json.dumps({"low": low.tolist(), "high": high.tolist(), "moved": moved.tolist(),
                      "done": ahead.done, "total": ahead.total, "complete": is_complete(),
                      "kernels": len(names), "alone": alone,
                      "first": len(compile_ahead.first_of_all()),
                      "on_disk": len(indices) - alone}))
"""


def test_what_nearly_every_study_needs_comes_first():
    import zygomorph.core.formats.encode
    from zygomorph.core.values.entries import definitions

    assert definitions("step") and definitions("layer") and zygomorph.core.formats.encode
    ordered = by_need(compiled.KERNELS)
    places = [kernel.first for kernel in ordered if kernel.first is not None]
    assert len(places) > 20
    assert places == sorted(set(places))
    assert all(kernel.first is None for kernel in ordered[len(places) :])
    assert sorted(k.name for k in ordered) == sorted(k.name for k in compiled.KERNELS)


def test_each_kernel_has_a_name_of_its_own():
    names = [kernel.name for kernel in compiled.KERNELS]
    assert len(set(names)) == len(names)
    assert all(
        kernel.function.__module__.endswith(kernel.name.rpartition(".")[0])
        for kernel in compiled.KERNELS
    )


def test_a_mark_counts_for_these_sources_in_this_place_only(tmp_path, monkeypatch):
    source = tmp_path / "kernels.py"
    source.write_text("one")
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path / "cache"))
    monkeypatch.setattr(compiled, "_kernel_sources", lambda: [source])
    assert not compiled.is_complete()
    compiled.mark_complete()
    assert compiled.is_complete()
    # The same text, written again: numba's own index takes it for another.
    os.utime(source, (1, 1))
    assert not compiled.is_complete()
    compiled.mark_complete()
    monkeypatch.setattr(compiled, "PACKAGE_FOLDER", tmp_path / "another checkout")
    assert not compiled.is_complete()


@pytest.fixture
def program(tmp_path):
    """Begins the program with an empty cache of kernels."""
    path = tmp_path / "program.py"
    path.write_text(PROGRAM)
    environment = os.environ | {"ZYGOMORPH_KERNEL_CACHE": str(tmp_path / "kernels")}
    environment.pop("NUMBA_CACHE_DIR", None)

    def begin(*arguments):
        return subprocess.Popen(
            [sys.executable, str(path), *arguments],
            env=environment,
            stdout=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )

    return begin


@pytest.mark.thorough
def test_a_call_waits_for_its_kernel_and_the_rest_is_made_meanwhile(program):
    said, _ = program().communicate(timeout=200)
    found = json.loads(said)
    assert (found["low"], found["high"]) == ([0, 1, 2], [3, 4, 5])
    assert np.array_equal(found["moved"], [[0, 1, 0]] * 2)
    assert found["done"] == found["total"] == found["kernels"] + found["alone"]
    # A cache index for each kernel: the processes aside compiled, and this one only loaded.
    assert found["on_disk"] == found["kernels"]
    # Those that nearly every study needs, and perhaps another that a call waited for.
    assert found["first"] <= found["alone"] <= found["first"] + 2
    assert found["complete"]


def test_when_the_program_is_killed_its_processes_end_too(program):
    process = program("--killed")
    workers = json.loads(process.stdout.readline())
    process.send_signal(signal.SIGKILL)
    process.wait()
    until(lambda: not any(map(_lives, workers)))


def _lives(pid):
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    return True


class Named:
    def __init__(self, name, threaded=True, first=None):
        self.name = name
        self.first = first
        self.function = len
        self.threaded = threaded


class ByHand:
    """A pool whose work is ended by the test, in the order in which it was begun."""

    def __init__(self):
        self.begun = queue.Queue()

    def submit(self, _function, _module, name, alone):
        work = Future()
        self.begun.put((name, alone, work))
        return work

    def shutdown(self, **_):
        pass

    def end_next(self):
        name, alone, work = self.begun.get(timeout=10)
        work.set_result(name)
        return name, alone


@pytest.fixture
def by_hand(monkeypatch):
    """Begins to compile kernels of these names, one at a time."""
    pool = ByHand()
    monkeypatch.setattr(compile_ahead, "ProcessPoolExecutor", lambda *_: pool)
    monkeypatch.setattr(compile_ahead, "CORES", 1)
    marked = set()
    monkeypatch.setattr(compile_ahead, "is_complete", lambda of="complete": of in marked)
    monkeypatch.setattr(compile_ahead, "mark_complete", lambda of="complete": marked.add(of))

    def begin(kernels, first, first_is_there=False):
        for kernel in kernels:
            kernel.first = first.index(kernel.name) if kernel.name in first else None
        monkeypatch.setattr(compile_ahead, "KERNELS", kernels)
        if first_is_there:
            marked.add(compile_ahead.MARK)
        return compile_ahead.CompileAhead(), pool

    return begin


def test_what_is_needed_first_is_there_alone_before_anything_is_there_whole(by_hand):
    one, two, other = Named("a.one"), Named("a.two"), Named("a.other")
    ahead, pool = by_hand([other, two, one], ("a.one", "a.two"))
    assert pool.end_next() == ("a.one", True)
    assert ahead.wait_for(one) is False
    assert [pool.end_next() for _ in range(4)] == [
        ("a.two", True),
        ("a.one", False),
        ("a.two", False),
        ("a.other", False),
    ]
    assert ahead.finished.wait(timeout=10)
    assert all(ahead.wait_for(each) for each in (one, two, other))


def test_what_a_call_waits_for_is_begun_at_once_beside_what_takes_long(by_hand):
    kernels = [Named(f"a.k{k}") for k in range(3)] + [Named("a.single", threaded=False)]
    ahead, pool = by_hand(kernels, ())
    long_one = pool.begun.get(timeout=10)
    assert long_one[:2] == ("a.k0", False)
    answers = queue.Queue()

    def call(kernel):
        answers.put((kernel.name, ahead.wait_for(kernel)))

    # Also what is compiled whole at that moment is made alone, which is there sooner.
    wanted = {kernels[2]: True, kernels[3]: False, kernels[0]: True}
    for kernel, alone in wanted.items():
        threading.Thread(target=call, args=(kernel,), daemon=True).start()
        assert pool.end_next() == (kernel.name, alone)
        assert answers.get(timeout=10) == (kernel.name, not alone)
    # Twice wanted is once made.
    assert ahead.wait_for(kernels[2]) is False
    long_one[2].set_result("a.k0")
    assert [pool.end_next() for _ in range(2)] == [("a.k1", False), ("a.k2", False)]
    assert ahead.finished.wait(timeout=10)
    assert ahead.done == ahead.total == 6


def test_what_was_compiled_at_install_is_neither_made_again_nor_waited_for(by_hand):
    one, other = Named("a.one"), Named("a.other")
    ahead, pool = by_hand([one, other], ("a.one",), first_is_there=True)
    assert ahead.wait_for(one) is True
    assert (ahead.done, ahead.total) == (0, 1)
    assert pool.end_next() == ("a.other", False)
    assert ahead.finished.wait(timeout=10)


def test_what_stands_in_gives_what_the_whole_kernel_gives():
    points = np.random.default_rng(3).normal(size=(5000, 3)).astype(np.float32)
    nothing, all_of_it = np.zeros(1, np.float32), np.ones(1, np.float32)
    moved = []
    push = next(k for k in KERNELS if k.name == "kernels.along_directions._push")
    for compiled_push in (push.compile(), push.compile_alone()):
        out = np.empty_like(points)
        height = points[:, 0].copy()
        compiled_push(points, points, height, all_of_it, all_of_it, nothing, all_of_it, out)
        moved.append(out)
    assert np.allclose(*moved, atol=1e-6)
    assert not np.allclose(moved[0], points)
    assert push.compile() is not push.compile_alone()


@pytest.mark.parametrize("error", [BrokenProcessPool("killed"), OSError(28, "No space left")])
def test_a_pool_that_fails_leaves_the_work_to_the_caller(error, monkeypatch):
    class Broken:
        def submit(self, *_):
            raise error

        def shutdown(self, **_):
            pass

    kernels = [Named("a.one"), Named("a.two")]
    monkeypatch.setattr(compile_ahead, "KERNELS", kernels)
    monkeypatch.setattr(compile_ahead, "ProcessPoolExecutor", lambda *_: Broken())
    monkeypatch.setattr(compile_ahead, "is_complete", lambda *_: False)
    marked = []
    monkeypatch.setattr(compile_ahead, "mark_complete", lambda *_: marked.append(True))
    ahead = compile_ahead.CompileAhead()
    for each in kernels:
        ahead.wait_for(each)
    assert ahead.finished.wait(timeout=30)
    assert ahead.done == ahead.total == 2
    # The next start looks again for what is missing.
    assert marked == []


def test_whoever_calls_a_kernel_after_the_end_compiles_it_alone():
    """The program goes on in tests, and in whatever else uses it as a library."""
    known = [(each, each.ahead) for each in KERNELS]
    ahead = CompileAhead()
    ahead.close()
    try:
        waiting = threading.Thread(target=lambda: [ahead.wait_for(k) for k in KERNELS], daemon=True)
        waiting.start()
        waiting.join(20)
        assert not waiting.is_alive()
        assert ahead.finished.is_set()
    finally:
        for each, before in known:
            each.ahead = before
