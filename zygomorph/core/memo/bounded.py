"""Results kept by content key, within a limit of bytes; the least recently used go first."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Generic, TypeVar

T = TypeVar("T")
# What is noted beside a value to know how many bytes it counts for.
N = TypeVar("N")


class RecentlyUsed(Generic[T, N]):
    """What all caches with a limit share; how bytes are counted is their own."""

    def __init__(self, limit_bytes: int) -> None:
        self.limit_bytes = limit_bytes
        self.used_bytes = 0
        self.hits = 0
        self.misses = 0
        self._kept: OrderedDict[str, tuple[T, N]] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: str) -> T | None:
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                self.misses += 1
                return None
            self.hits += 1
            self._kept.move_to_end(key)
            return found[0]

    def __len__(self) -> int:
        return len(self._kept)


class BoundedCache(RecentlyUsed[T, int]):
    """Keeps values whose size is told."""

    def put(self, key: str, value: T, size: int) -> None:
        """Keep a value; one that is larger than the whole cache is not kept."""
        with self._lock:
            old = self._kept.pop(key, None)
            if old is not None:
                self.used_bytes -= old[1]
            if size > self.limit_bytes:
                return
            self._kept[key] = (value, size)
            self.used_bytes += size
            while self.used_bytes > self.limit_bytes:
                _, (_, dropped) = self._kept.popitem(last=False)
                self.used_bytes -= dropped
