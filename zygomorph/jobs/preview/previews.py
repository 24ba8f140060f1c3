"""Preview renders: one for each window, drawn in turns by one process.

The process is started with the first preview and ended when there has been none for a while. If it
dies, the next preview starts another.
"""

from __future__ import annotations

import itertools
import multiprocessing
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.preview.asked import Asked, Begin, CalledOff, CannotDraw, Drawn, Forget, GoOn
from zygomorph.jobs.preview.process import main

# A preview that no window has asked for a picture of for so long is dropped.
LEFT_S = 20.0
# The process is kept for so long without work, because it takes seconds to start.
KEPT_S = 180.0
TURN_S = 0.2


@dataclass
class Preview:
    """A preview of one window.

    serial : its number in the process; number : of pictures that were drawn
    begun : whether the process has it; over : whether its last picture was drawn, or it failed
    looked : time.monotonic() of the last request for a picture; waiting : requests that wait now
    """

    id: str
    serial: int
    asked: Asked
    number: int = 0
    drawn: Drawn | None = None
    error: CannotDraw | None = None
    begun: bool = False
    over: bool = False
    looked: float = field(default_factory=time.monotonic)
    waiting: int = 0


class Previews:
    """database : of the studies, which the process reads as well"""

    def __init__(self, database: Path) -> None:
        self._database = database
        self._of_window: dict[str, Preview] = {}
        self._serials = itertools.count(1)
        self._changed = threading.Condition()
        self._context = multiprocessing.get_context("spawn")
        self._called_off = self._context.Value("q", 0)
        self._process: Any = None
        self._connection: Any = None
        self._thread: threading.Thread | None = None
        self._closing = False
        self._idle_since = time.monotonic()
        self._last = 0
        self._forgotten: list[int] = []

    def begin(self, window: str, asked: Asked) -> str:
        """Begin a preview for a window, which replaces the one that it had. Returns its id."""
        with self._changed:
            self._leave(window)
            serial = next(self._serials)
            made = Preview(f"{window[:40]}.{serial}", serial, asked)
            self._of_window[window] = made
            if self._thread is None and not self._closing:
                self._thread = threading.Thread(target=self._run, name="previews", daemon=True)
                self._thread.start()
            self._changed.notify_all()
            return made.id

    def end(self, preview: str) -> None:
        with self._changed:
            for window, own in list(self._of_window.items()):
                if own.id == preview:
                    self._leave(window)
            self._changed.notify_all()

    def _leave(self, window: str) -> None:
        former = self._of_window.pop(window, None)
        if former is not None:
            self._called_off.value = former.serial
            self._forgotten.append(former.serial)

    def picture(self, preview: str, after: int, patience_s: float) -> tuple[int, Drawn] | None:
        """Wait for a picture whose number is greater than ``after``; returns its number and itself,
        or None when the patience is over.

        Raises ZygomorphError if it cannot be drawn, or was replaced or dropped.
        """
        until = time.monotonic() + patience_s
        with self._changed:
            while True:
                own = next((p for p in self._of_window.values() if p.id == preview), None)
                if own is None:
                    raise ZygomorphError("This preview was left for another one.", "Ask again.")
                own.looked = time.monotonic()
                if own.error is not None:
                    raise ZygomorphError(own.error.message, own.error.hint)
                if own.drawn is not None and own.number > after:
                    return own.number, own.drawn
                left = until - time.monotonic()
                if left <= 0 or self._closing:
                    return None
                own.waiting += 1
                self._changed.wait(left)
                own.waiting -= 1

    def close(self) -> None:
        with self._changed:
            self._closing = True
            self._of_window.clear()
            self._changed.notify_all()
        if self._thread is not None:
            self._thread.join(5)
        self._stop()

    # The thread

    def _run(self) -> None:
        while True:
            with self._changed:
                if self._closing:
                    return
                own = self._next()
                if own is None:
                    if self._process and time.monotonic() - self._idle_since > KEPT_S:
                        self._stop()
                    self._changed.wait(TURN_S if self._process else None)
                    continue
            self._idle_since = time.monotonic()
            try:
                self._draw(own)
            except (EOFError, OSError):
                # It was killed or has crashed; the next preview starts another.
                self._stop()
                message = "The process that draws ended unexpectedly."
                self._take(own, CannotDraw(own.serial, message, "Change the view to try again."))

    def _next(self) -> Preview | None:
        """The preview whose next picture is to be drawn, in turns."""
        now = time.monotonic()
        for window, own in list(self._of_window.items()):
            if not own.over and not own.waiting and now - own.looked > LEFT_S:
                self._leave(window)
        wanting = [p for p in self._of_window.values() if not p.over]
        later = [p for p in wanting if p.serial > self._last]
        found = min(later or wanting, key=lambda p: p.serial, default=None)
        self._last = found.serial if found else 0
        return found

    def _draw(self, own: Preview) -> None:
        self._start()
        while self._forgotten:
            self._asked(Forget(self._forgotten.pop()))
        answer = self._asked(GoOn(own.serial) if own.begun else Begin(own.serial, own.asked))
        own.begun = True
        self._take(own, answer)

    def _asked(self, question: Begin | GoOn | Forget) -> Drawn | CannotDraw | CalledOff:
        self._connection.send(question)
        while not self._connection.poll(TURN_S):
            if not self._process.is_alive():
                raise EOFError
        answer: Drawn | CannotDraw | CalledOff = self._connection.recv()
        return answer

    def _take(self, own: Preview, answer: Drawn | CannotDraw | CalledOff) -> None:
        with self._changed:
            if isinstance(answer, Drawn):
                own.drawn, own.number, own.over = answer, own.number + 1, answer.done
            elif isinstance(answer, CannotDraw):
                own.error, own.over = answer, True
            else:
                # The process keeps few previews open; this one is begun again.
                own.begun = False
            self._changed.notify_all()

    def _start(self) -> None:
        if self._process is not None and self._process.is_alive():
            return
        for own in self._of_window.values():
            own.begun = False
        self._connection, theirs = self._context.Pipe()
        arguments = (theirs, str(self._database), self._called_off)
        self._process = self._context.Process(target=main, args=arguments, daemon=True)
        self._process.start()
        theirs.close()

    def _stop(self) -> None:
        if self._process is not None:
            self._connection.close()
            self._process.terminate()
            self._process.join(5)
            self._process = None
