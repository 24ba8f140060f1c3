"""Compiles kernels aside while the program already answers.

The first start on a machine has everything to compile. Frames are asked for meanwhile: a kernel
that one of them waits for goes before all others, and the newest wish before older ones. What
nearly every study needs is compiled for one thread first, which takes half the time, and stands in
until the whole is there. Its results differ from those of the whole in the last bit, so that
deliveries wait for the whole.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context, parent_process
from typing import NamedTuple

from zygomorph.core.compiled import (
    CORES,
    KERNELS,
    Kernel,
    compile_named,
    compile_side_by_side,
    is_complete,
    mark_complete,
)

# What nearly every study needs, in the order in which a frame asks for it.
FIRST = (
    "box._box",
    "gradient_fractal.gradient_fractal",
    "layers._lay",
    "pushing._push",
    "rings._walk",
    "normals._ring_normals",
    "encode._encode_points",
    "encode._encode_normals",
    "rings._gather",
    "linear._behind",
    "ball._inside",
    "place._carried",
    "twist._twist",
    "taper._taper",
    "curl_fractal.curl_fractal",
    "pushing._carry",
    "grid_normals._grid_normals",
    "bend._bend",
    "encode._encode_mask",
    "rings._rings",
    "normals._vector_areas",
    "normals._sum_around",
    # Takes longest of all, and is first asked for when a study that evolves is played.
    "gradient_flow.gradient_flow",
)

# Says that what nearly every study needs is on disk.
MARK = "first"

Progress = Callable[[int, int], None]


class Work(NamedTuple):
    kernel: Kernel
    # Only what stands in for it.
    alone: bool


def by_need(kernels: Sequence[Kernel]) -> list[Kernel]:
    """Those of FIRST, in its order, then the others in theirs."""
    rank = {name: place for place, name in enumerate(FIRST)}
    return sorted(kernels, key=lambda each: rank.get(each.name, len(FIRST)))


def first_of_all() -> list[Kernel]:
    """What nearly every study needs, of what is declared."""
    return [each for each in by_need(KERNELS) if each.name in FIRST]


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
        self._begun_alone: set[str] = set()
        self._changed = threading.Lock()
        self._pool = ProcessPoolExecutor(CORES, get_context("spawn"), _end_with_parent)
        for each in KERNELS:
            each.ahead = self.wait_for
        for k in range(CORES):
            threading.Thread(target=self._feed, name=f"compile-{k}", daemon=True).start()

    def wait_for(self, kernel: Kernel) -> bool:
        """Return when a kernel's code is on disk, or that of what stands in for it; it is the next
        to be compiled. Whether it is the whole."""
        with self._changed:
            if not self._usable[kernel.name].is_set():
                self._next(kernel)
        self._usable[kernel.name].wait()
        return self._whole[kernel.name].is_set()

    def _next(self, kernel: Kernel) -> None:
        whole, alone = Work(kernel, alone=False), Work(kernel, alone=True)
        if whole not in self._waiting or kernel.name in self._begun_alone:
            # It is compiled at this moment.
            return
        if kernel.threaded and alone not in self._waiting:
            self._waiting.append(alone)
            self.total += 1
        wanted = alone if alone in self._waiting else whole
        self._waiting.remove(wanted)
        self._waiting.append(wanted)

    def close(self) -> None:
        """Begin no other; whoever waits compiles for itself."""
        self._all = False
        with self._changed:
            left, self._waiting = self._waiting, []
        for each in left:
            # Whoever waits for it is told that it is there, and compiles it.
            self._now_on_disk(each._replace(alone=False))
        # A kernel takes up to half a minute; what is compiled then is compiled again next time. The
        # executor has no public way to end its processes in Python 3.11.
        processes = list((self._pool._processes or {}).values())
        self._pool.shutdown(wait=False, cancel_futures=True)
        for process in processes:
            process.kill()
        # Nobody waits any longer for more.
        self.finished.set()

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
            self.finished.set()

    def _feed(self) -> None:
        while True:
            with self._changed:
                if not self._waiting:
                    return
                work = self._waiting.pop()
                if work.alone:
                    self._begun_alone.add(work.kernel.name)
            module, name = work.kernel.function.__module__, work.kernel.name
            try:
                self._pool.submit(compile_named, module, name, work.alone).result()
            except Exception:
                # A process was killed, the disk is full, or the program is closing. The kernel
                # is compiled where it is called, and whoever called hears what is wrong.
                self._all = False
            finally:
                self._end(work)
