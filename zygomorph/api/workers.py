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


class _Task(Generic[T]):
    def __init__(self, work: Callable[[], T]) -> None:
        self._work = work
        self._result: T | None = None
        self._error: BaseException | None = None
        self._done = threading.Lock()
        self._done.acquire()

    def do(self) -> None:
        try:
            self._result = self._work()
        except BaseException as error:
            self._error = error
        self._done.release()

    def wait(self) -> T:
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
        self._tasks: SimpleQueue[_Task] = SimpleQueue()
        for number in range(count):
            thread = threading.Thread(target=self._serve, name=f"{name}-{number}", daemon=True)
            thread.start()

    def _serve(self) -> None:
        while True:
            self._tasks.get().do()

    def run(self, work: Callable[[], T]) -> T:
        """What ``work`` returns; what it raises is raised here."""
        task = _Task(work)
        self._tasks.put(task)
        return task.wait()
