"""The ``zygomorph`` command."""

from __future__ import annotations

import signal
import sys
import threading
from collections.abc import Sequence
from typing import Any

from zygomorph.cli.exits import FAILED


def _interrupt(_signal: int, _frame: Any) -> None:
    raise KeyboardInterrupt


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command and return its exit code.

    Everything else is imported in here: that takes a second and more, and Ctrl-C during it ends the
    command like Ctrl-C during its work.
    """
    # SIGTERM cleans up like Ctrl-C, so that no half-written output stays.
    if threading.current_thread() is threading.main_thread():
        signal.signal(signal.SIGTERM, _interrupt)
    try:
        from zygomorph.cli.dispatch import dispatch

        return dispatch(argv)
    except KeyboardInterrupt:
        print("Stopped.", file=sys.stderr)
        return FAILED
