"""Calling off long work from inside: whoever starts it says when nobody waits any more.

Loops that may take seconds, in steps, masks and forms, ask between their rounds.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from zygomorph.core.errors import Cancelled

_asked: ContextVar[Callable[[], bool] | None] = ContextVar("asked", default=None)


@contextmanager
def cancelled_when(nobody_waits: Callable[[], bool]) -> Iterator[None]:
    """What is done inside ends with Cancelled soon after ``nobody_waits`` says so."""
    before = _asked.set(nobody_waits)
    try:
        yield
    finally:
        _asked.reset(before)


def go_on() -> None:
    """Raise Cancelled where nobody waits for what is being done."""
    asked = _asked.get()
    if asked is not None and asked():
        raise Cancelled
