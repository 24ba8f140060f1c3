"""Which thread may use how many cores."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

import zygomorph.core.kernels.compiled as compiled

# Handing a part of the work to a second thread and waiting for it takes some microseconds on a
# quiet machine and milliseconds on a busy one. Up to so many points a kernel is done by then
# (`zygomorph bench --only small_`).
SMALL = 4096


class Gate:
    """Shares the cores between frames.

    One frame that is wanted soon takes all cores (``wide``); many frames take one core each
    (``narrow``). Without the gate, eight callers would start eight teams of threads. A frame that
    has waited for its patience goes on with one core beside those that hold the gate, so that a
    heavy frame does not hold up light ones.
    """

    def __init__(self, cores: int) -> None:
        self._cores = cores
        self._free = cores
        self._wide_waiting = 0
        self._changed = threading.Condition()
        self._own = threading.local()

    @contextmanager
    def wide(self, patience: float | None = None) -> Iterator[None]:
        """All cores; patience : seconds to wait for them, or None for as long as it takes"""
        with self._changed:
            self._wide_waiting += 1
            got = self._changed.wait_for(lambda: self._free == self._cores, patience)
            self._wide_waiting -= 1
            if got:
                self._free = 0
            else:
                self._changed.notify_all()
        with self._using(self._cores if got else 1):
            try:
                yield
            finally:
                if got:
                    self._give_back(self._cores)

    @contextmanager
    def narrow(self, patience: float | None = None) -> Iterator[None]:
        """One core; patience : seconds to wait for it, or None for as long as it takes"""
        with self._changed:
            got = self._changed.wait_for(
                lambda: self._free > 0 and self._wide_waiting == 0, patience
            )
            if got:
                self._free -= 1
        with self._using(1):
            try:
                yield
            finally:
                if got:
                    self._give_back(1)

    def _give_back(self, cores: int) -> None:
        with self._changed:
            self._free += cores
            self._changed.notify_all()

    @contextmanager
    def _using(self, cores: int) -> Iterator[None]:
        before = getattr(self._own, "cores", self._cores)
        self._own.cores = cores
        self._set(cores)
        try:
            yield
        finally:
            self._own.cores = before
            self._set(before)

    @property
    def cores(self) -> int:
        """How many this thread may use now."""
        return getattr(self._own, "cores", self._cores)

    def suit(self, points: int) -> None:
        """Let the kernels that follow on this thread use the cores it has, or only its own one
        where there are so few points that a second would be waited for in vain."""
        wanted = 1 if points <= SMALL else self.cores
        if getattr(self._own, "threads", 0) != wanted:
            self._set(wanted)

    def _set(self, threads: int) -> None:
        compiled.numba.set_num_threads(threads)
        self._own.threads = threads


GATE = Gate(compiled.CORES)
