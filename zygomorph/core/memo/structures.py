"""Structures that forms make from counts alone, kept for the frames that ask for the same again.

A counted limit, because a value that is dragged makes one after the other, and each holds what
was derived of it besides itself.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from zygomorph.core.memo.held_bytes import held_bytes

P = ParamSpec("P")
R = TypeVar("R")
LIMIT_BYTES = 96_000_000
# Each is weighed when one is added.
MOST = 32


class Structures:
    """Results by who made them from what; the least recently used go first, the latest stays."""

    def __init__(self, limit_bytes: int) -> None:
        self._limit = limit_bytes
        self._kept: OrderedDict[Hashable, Any] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Any:
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def put(self, key: Hashable, made: Any) -> None:
        with self._lock:
            self._kept[key] = made
            sizes = {each: held_bytes(held) for each, held in self._kept.items()}
            used = sum(sizes.values())
            while (used > self._limit and len(self._kept) > 1) or len(self._kept) > MOST:
                oldest, _ = self._kept.popitem(last=False)
                used -= sizes[oldest]

    @property
    def used_bytes(self) -> int:
        with self._lock:
            return sum(held_bytes(held) for held in self._kept.values())


STRUCTURES = Structures(LIMIT_BYTES)


def kept(make: Callable[P, R]) -> Callable[P, R]:
    """Keep what a function of counts makes, among that of all others."""

    @wraps(make)
    def found(*arguments: P.args, **named: P.kwargs) -> R:
        key = (make.__module__, make.__name__, arguments, tuple(sorted(named.items())))
        made = STRUCTURES.get(key)
        if made is None:
            made = make(*arguments, **named)
            STRUCTURES.put(key, made)
        return made

    return found
