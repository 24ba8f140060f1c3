"""What long work is at, told from inside to whoever wants to show it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

# Called with the id of the step that is being made, and how much of it is done, from 0 to 1.
Tell = Callable[[str, float], None]

_tell: ContextVar[Tell | None] = ContextVar("tell", default=None)
_step: ContextVar[str] = ContextVar("step", default="")


@contextmanager
def telling(tell: Tell) -> Iterator[None]:
    """What is done inside tells how far it is."""
    before = _tell.set(tell)
    try:
        yield
    finally:
        _tell.reset(before)


def step_begins(step_id: str) -> None:
    tell = _tell.get()
    if tell is not None:
        _step.set(step_id)
        tell(step_id, 0.0)


def share_is_done(share: float) -> None:
    """share : of the step that was begun last, from 0 to 1"""
    tell = _tell.get()
    if tell is not None:
        tell(_step.get(), share)
