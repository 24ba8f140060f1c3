"""Compiles kernels aside while the program already answers.

The first start on a machine has everything to compile. Frames are asked for meanwhile: a kernel
that one of them waits for goes before all others, and the newest request before older ones, in a
process that is kept for it, so that it is not behind a kernel that takes long. The other processes
give way to the program and the browser.

What nearly every study needs, and whatever is waited for, is compiled for one thread first, which
takes half the time, and stands in until the whole is there. Its results differ from those of the
whole in the last bit, so that deliveries wait for the whole.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from math import inf
from multiprocessing import get_context, parent_process
from typing import NamedTuple

from zygomorph.core.kernels.compiled import (
    CORES,
    KERNELS,
    Kernel,
    compile_named,
    compile_side_by_side,
    is_complete,
    mark_complete,
)

# Says that what nearly every study needs is on disk.
MARK = "first"
# As a shell's `nice` has it.
ASIDE_NICENESS = 10

Progress = Callable[[int, int], None]


class Work(NamedTuple):
    kernel: Kernel
    # Only what stands in for it.
    alone: bool


def by_need(kernels: Sequence[Kernel]) -> list[Kernel]:
    """What nearly every study needs, in the order in which a frame asks for it, then the others."""
    return sorted(kernels, key=lambda each: inf if each.first is None else each.first)


def first_of_all() -> list[Kernel]:
    """What nearly every study needs, of what is declared."""
    return [each for each in by_need(KERNELS) if each.first is not None]


def compile_first(progress: Callable[[int, int, str], None] | None = None) -> None:
    """Compile what nearly every study needs, and return; ``progress(done, total, name)``."""
    if not is_complete():
        compile_side_by_side(first_of_all(), progress)
        mark_complete(MARK)


def _end_with_parent() -> None:
    """A process that is killed cannot close its pool: each worker looks after itself."""

    def look() -> None:
        parent = parent_process()
        if parent is not None:
            parent.join()
            os._exit(1)

    threading.Thread(target=look, daemon=True).start()


def _give_way() -> None:
    """What is compiled in advance takes no time from frames that are made and drawn."""
    _end_with_parent()
    os.nice(ASIDE_NICENESS)


class CompileAhead:
    """Compiles all declared kernels in a process for each core, from the moment it is made.

    ``progress(done, total)`` is called after each piece of work, from threads of its own; what
    stands in for a kernel is a piece of work besides it.
    """

    def __init__(self, progress: Progress | None = None) -> None:
        self.finished = threading.Event()
        # How many pieces of work there are, and how many have ended.
        self.total = self.done = 0
        self._all = True
        self._progress = progress
        # Whether a kernel, or what stands in for it, may be found on disk.
        self._whole = {each.name: threading.Event() for each in KERNELS}
        self._usable = {each.name: threading.Event() for each in KERNELS}
        first = first_of_all()
        if is_complete(MARK):
            for each in first:
                self._now_on_disk(Work(each, alone=False))
            first = []
        standing_in = [Work(k, alone=True) for k in first if k.threaded]
        left = [k for k in by_need(KERNELS) if not self._whole[k.name].is_set()]
        # The next one is the last.
        self._waiting = [*standing_in, *(Work(k, alone=False) for k in left)][::-1]
        self.total = len(self._waiting)
        # What somebody waits for; the next one is the last.
        self._wanted: list[Work] = []
        self._begun: set[Work] = set()
        self._changed = threading.Condition()
        spawn = get_context("spawn")
        self._pools = [
            ProcessPoolExecutor(CORES, spawn, _give_way),
            # Its process is begun when it is needed.
            ProcessPoolExecutor(1, spawn, _end_with_parent),
        ]
        for each in KERNELS:
            each.ahead = self.wait_for
        feeders = [(f"compile-{k}", self._pools[0], False) for k in range(CORES)]
        for name, *given in [*feeders, ("compile-wanted", self._pools[1], True)]:
            threading.Thread(target=self._feed, args=given, name=name, daemon=True).start()

    def wait_for(self, kernel: Kernel) -> bool:
        """Return when a kernel's code is on disk, or that of what stands in for it; it is the next
        to be compiled. Whether it is the whole."""
        with self._changed:
            if not self._usable[kernel.name].is_set():
                self._next(kernel)
        self._usable[kernel.name].wait()
        return self._whole[kernel.name].is_set()

    def _next(self, kernel: Kernel) -> None:
        wanted = Work(kernel, alone=kernel.threaded)
        if wanted in self._begun:
            return
        for line in (self._waiting, self._wanted):
            if wanted in line:
                line.remove(wanted)
                break
        else:
            self.total += 1
        self._wanted.append(wanted)
        self._changed.notify_all()

    def close(self) -> None:
        """Begin no other; whoever waits compiles for itself."""
        self._all = False
        with self._changed:
            left = [*self._waiting, *self._wanted]
            self._waiting, self._wanted = [], []
        for each in left:
            # Whoever waits for it is told that it is there, and compiles it.
            self._now_on_disk(each._replace(alone=False))
        # A kernel takes up to half a minute; what is compiled then is compiled again next time. The
        # executor has no public way to end its processes in Python 3.11.
        for pool in self._pools:
            processes = list((pool._processes or {}).values())
            pool.shutdown(wait=False, cancel_futures=True)
            for process in processes:
                process.kill()
        self._finish()

    def _now_on_disk(self, work: Work) -> None:
        if not work.alone:
            self._whole[work.kernel.name].set()
        self._usable[work.kernel.name].set()

    def _end(self, work: Work) -> None:
        self._now_on_disk(work)
        with self._changed:
            self.done += 1
            done, total = self.done, self.total
        if self._progress:
            self._progress(done, total)
        # There is one piece of work after which none is left.
        if done == total:
            if self._all:
                mark_complete()
            for pool in self._pools:
                pool.shutdown(wait=False)
            self._finish()

    def _finish(self) -> None:
        """Nobody waits any longer for more."""
        with self._changed:
            self.finished.set()
            self._changed.notify_all()

    def _take(self, only_wanted: bool) -> Work | None:
        """The next piece of work; None where there will be none."""
        with self._changed:
            while not (self._wanted or self.finished.is_set() or not only_wanted):
                self._changed.wait()
            line = self._wanted or ([] if only_wanted else self._waiting)
            if not line:
                return None
            work = line.pop()
            self._begun.add(work)
            return work

    def _feed(self, pool: ProcessPoolExecutor, only_wanted: bool) -> None:
        while (work := self._take(only_wanted)) is not None:
            module, name = work.kernel.function.__module__, work.kernel.name
            try:
                pool.submit(compile_named, module, name, work.alone).result()
            except Exception:
                # A process was killed, the disk is full, or the program is closing. The kernel
                # is compiled where it is called, and whoever called hears what is wrong.
                self._all = False
            finally:
                self._end(work)
