"""The unit of work that a job is divided into, and a unit that a worker was given."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from distributed import Future


@dataclass(frozen=True)
class WorkUnit:
    """A frame or file of a job, a tile of a frame, or a range of frames to step state through.

    number : of the frame or file, from 0; the first of ``stepped``
    tile : its number within the frame, from the top; None for the whole frame
    stepped : frames whose states are computed, without drawing them; otherwise None
    """

    number: int
    tile: int | None = None
    stepped: range | None = None


@dataclass
class Attempt:
    """A unit that was submitted to a worker.

    worker : address of the worker
    started : time.monotonic() when it was submitted
    speculative : whether another worker was working on the same unit already
    """

    unit: WorkUnit
    worker: str
    future: Future
    started: float
    speculative: bool = False
