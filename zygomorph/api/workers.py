"""Threads that do work for others, with as little between asking and beginning as there can be.

A frame takes about as long as a few wakings of threads, so that the futures of the standard
library, which serve more purposes, would cost a tenth of it.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from queue import SimpleQueue
from typing import Generic, TypeVar

T = TypeVar("T")


class Task(Generic[T]):
    """Work that one of several threads does: whichever comes to it first."""

    def __init__(self, work: Callable[[], T]) -> None:
        self._work: Callable[[], T] | None = work
        self._result: T | None = None
        self._error: BaseException | None = None
        self._free = threading.Lock()
        self._done = threading.Lock()
        self._done.acquire()

    def do(self) -> None:
        """Do the work, unless another thread has begun it."""
        if not self._free.acquire(blocking=False):
            return
        assert self._work is not None  # only the thread that came first gets here
        try:
            self._result = self._work()
        except BaseException as error:
            self._error = error
        # It may lie in a second queue for long; what the work holds is not kept that long.
        self._work = None
        self._done.release()

    @property
    def begun(self) -> bool:
        return self._free.locked()

    def wait(self, seconds: float = -1) -> bool:
        """Whether it is done, at the latest after so many seconds; without, when it is done."""
        done = self._done.acquire(timeout=seconds)
        if done:
            self._done.release()
        return done

    def result(self) -> T:
        """What the work returned, when it is done; what it raised is raised here."""
        self._done.acquire()
        if self._error is not None:
            try:
                raise self._error
            finally:
                # The error's traceback holds this frame, which would hold the error.
                self._error = None
        return self._result  # type: ignore[return-value]


class Workers:
    """A number of threads; ``run`` has one of them do something and waits for it."""

    def __init__(self, count: int, name: str) -> None:
        self._tasks: SimpleQueue[Task] = SimpleQueue()
        for number in range(count):
            thread = threading.Thread(target=self._serve, name=f"{name}-{number}", daemon=True)
            thread.start()

    def _serve(self) -> None:
        while True:
            self._tasks.get().do()

    def give(self, task: Task) -> None:
        self._tasks.put(task)

    def run(self, work: Callable[[], T]) -> T:
        """What ``work`` returns; what it raises is raised here."""
        task = Task(work)
        self._tasks.put(task)
        return task.result()
