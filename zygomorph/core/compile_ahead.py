"""Compiles kernels aside while the program already answers.

The first start on a machine has everything to compile. Frames are asked for meanwhile: a kernel
that one of them waits for goes before all others, and the newest wish before older ones.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context, parent_process

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

Progress = Callable[[int, int], None]


def by_need(kernels: Sequence[Kernel]) -> list[Kernel]:
    """Those of FIRST, in its order, then the others in theirs."""
    rank = {name: place for place, name in enumerate(FIRST)}
    return sorted(kernels, key=lambda each: rank.get(each.name, len(FIRST)))


def compile_first(progress: Callable[[int, int, str], None] | None = None) -> None:
    """Compile what nearly every study needs, and return; ``progress(done, total, name)``."""
    if not is_complete():
        compile_side_by_side(by_need(KERNELS)[: len(FIRST)], progress)


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

    ``progress(done, total)`` is called after each, from threads of its own.
    """

    def __init__(self, progress: Progress | None = None) -> None:
        self.total = len(KERNELS)
        self.finished = threading.Event()
        self._all = True
        self._progress = progress
        self._done = {each.name: threading.Event() for each in KERNELS}
        # The next one is the last.
        self._waiting = by_need(KERNELS)[::-1]
        self._changed = threading.Lock()
        self._pool = ProcessPoolExecutor(CORES, get_context("spawn"), _end_with_parent)
        for each in KERNELS:
            each.ahead = self.wait_for
        for k in range(CORES):
            threading.Thread(target=self._feed, name=f"compile-{k}", daemon=True).start()

    @property
    def done(self) -> int:
        return sum(event.is_set() for event in self._done.values())

    def wait_for(self, kernel: Kernel) -> None:
        """Return when a kernel's code is on disk; it is the next to be compiled."""
        with self._changed:
            if kernel in self._waiting:
                self._waiting.remove(kernel)
                self._waiting.append(kernel)
        self._done[kernel.name].wait()

    def close(self) -> None:
        """Begin no other; whoever waits compiles for itself."""
        self._all = False
        with self._changed:
            left, self._waiting = self._waiting, []
        for each in left:
            self._done[each.name].set()
        # A kernel takes up to half a minute; what is compiled then is compiled again next time. The
        # executor has no public way to end its processes in Python 3.11.
        processes = list((self._pool._processes or {}).values())
        self._pool.shutdown(wait=False, cancel_futures=True)
        for process in processes:
            process.kill()

    def _feed(self) -> None:
        while True:
            with self._changed:
                if not self._waiting:
                    return
                each = self._waiting.pop()
            try:
                self._pool.submit(compile_named, each.function.__module__, each.name).result()
            except Exception:
                # A process was killed, the disk is full, or the program is closing. The kernel
                # is compiled where it is called, and whoever called hears what is wrong.
                self._all = False
            finally:
                self._done[each.name].set()
            self._told()

    def _told(self) -> None:
        done = self.done
        if self._progress:
            self._progress(done, self.total)
        if done == self.total and not self.finished.is_set():
            if self._all:
                mark_complete()
            self.finished.set()
