"""Whether somebody waits for frames just now, so that work nobody waits for can stand back."""

from __future__ import annotations

import threading
import time as clock

QUIET_S = 1.0
# Work that is never let through would never be done, as when a loop plays all day.
PATIENCE_S = 20.0


class Debounce:
    def __init__(self, quiet: float = QUIET_S, patience: float = PATIENCE_S) -> None:
        """quiet, patience : seconds without a request for a frame; longest wait for them"""
        self._quiet = quiet
        self._patience = patience
        self._asked = -quiet
        self._closed = threading.Event()

    def asked(self) -> None:
        """Somebody asks for a frame."""
        self._asked = clock.monotonic()

    def wait(self) -> None:
        """Return when nobody has asked for a while."""
        until = clock.monotonic() + self._patience
        while not self._closed.is_set():
            now = clock.monotonic()
            left = min(self._asked + self._quiet, until) - now
            if left <= 0:
                return
            self._closed.wait(left)

    def close(self) -> None:
        """Let everybody through."""
        self._closed.set()
