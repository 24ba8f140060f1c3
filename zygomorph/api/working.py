"""Frames that are being made: which step each is at, and how they are stopped."""

from __future__ import annotations

import threading
import time as clock
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from zygomorph.core.errors import Cancelled, StepError
from zygomorph.core.progress import telling

HINT = "Change a value, or take the step out of use."


@dataclass
class Making:
    """A frame of a piece that is being made.

    step : id of the step it is at; share : how much of that is done
    """

    study: str
    piece: str
    step: str = ""
    share: float = 0.0
    since: float = field(default_factory=clock.monotonic)
    stopped: bool = False

    def tell(self, step: str, share: float) -> None:
        if step != self.step:
            self.since = clock.monotonic()
        self.step, self.share = step, share

    def stop_error(self) -> StepError:
        return StepError(self.step, "It was stopped before it was done.", HINT)


class Working:
    """All that is being made now, and what was stopped and is not begun again by itself."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._making: list[Making] = []
        # Of a piece the content key at which it was stopped, and the step it was at.
        self._stopped: dict[tuple[str, str], tuple[str, StepError]] = {}

    def refuse_stopped(self, study: str, piece: str, key: str) -> None:
        """Raise StepError where this very content was stopped; another one may be made."""
        with self._lock:
            known = self._stopped.get((study, piece))
            if known is None:
                return
            if known[0] == key:
                raise known[1]
            del self._stopped[study, piece]

    @contextmanager
    def making(self, study: str, piece: str, key: str = "") -> Iterator[Making]:
        """key : the content key, or "" of what is not stored. Raises StepError where it is stopped
        meanwhile."""
        mine = Making(study, piece)
        with self._lock:
            self._making.append(mine)
        try:
            with telling(mine.tell):
                yield mine
        except Cancelled:
            if not mine.stopped:
                raise
            error = mine.stop_error()
            if key:
                with self._lock:
                    self._stopped[study, piece] = key, error
            raise error from None
        finally:
            with self._lock:
                self._making.remove(mine)

    def of_study(self, study: str) -> list[Making]:
        with self._lock:
            return [each for each in self._making if each.study == study and each.step]

    def stop(self, study: str, piece: str) -> int:
        """Stop what is being made of a piece; gives how many frames that were."""
        with self._lock:
            mine = [e for e in self._making if (e.study, e.piece) == (study, piece)]
            for each in mine:
                each.stopped = True
            return len(mine)
