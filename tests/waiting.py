"""Waiting for what another thread or process brings about."""

from __future__ import annotations

import time
from collections.abc import Callable

# Only a test that fails waits so long: however busy a machine is, it is not the time that is tested.
PATIENCE_S = 240.0


def until(holds: Callable[[], object], told: Callable[[], object] = lambda: "") -> None:
    """Return once ``holds()`` is true.

    Raises AssertionError with ``told()`` after ``PATIENCE_S``.
    """
    end = time.monotonic() + PATIENCE_S
    while not holds():
        assert time.monotonic() < end, told()
        time.sleep(0.01)
