"""Results kept by content key, within a limit of bytes; the least recently used go first."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Generic, TypeVar

from zygomorph.core.weighing import held_arrays

T = TypeVar("T")


class BoundedCache(Generic[T]):
    def __init__(self, limit_bytes: int) -> None:
        self.limit_bytes = limit_bytes
        self.used_bytes = 0
        self.hits = 0
        self.misses = 0
        self._kept: OrderedDict[str, tuple[T, int]] = OrderedDict()
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

    def __len__(self) -> int:
        return len(self._kept)


@dataclass
class _Entry(Generic[T]):
    value: T
    arrays: tuple[int, ...]


class ArrayCache(Generic[T]):
    """Keeps what holds arrays, each of which counts once however many entries share it.

    Entries grow when something is derived of what they hold and kept with it, as the neighbours
    of points with their topology: :meth:`recount` counts that, and is called when work is done.
    """

    def __init__(self, limit_bytes: int) -> None:
        self.limit_bytes = limit_bytes
        self.used_bytes = 0
        self.hits = 0
        self.misses = 0
        self._kept: OrderedDict[str, _Entry[T]] = OrderedDict()
        # Of each array, by its identity: how many entries hold it, and the bytes that are counted
        # for it. What was derived may be dropped by its owner and its identity be another's then,
        # so that what is taken off again is what was added.
        self._holders: dict[int, tuple[int, int]] = {}
        self._fresh: set[str] = set()
        self._lock = threading.Lock()

    def get(self, key: str) -> T | None:
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                self.misses += 1
                return None
            self.hits += 1
            self._kept.move_to_end(key)
            return found.value

    def put(self, key: str, value: T) -> None:
        """Keep a value; one that is larger than the whole cache is not kept."""
        with self._lock:
            self._drop(key)
            self._add(key, value)
            self._fresh.add(key)
            self._make_room()

    def recount(self) -> None:
        """Count what was derived of the entries that are new since the last time."""
        if not self._fresh:
            return
        with self._lock:
            for key in self._fresh & self._kept.keys():
                value = self._kept[key].value
                self._drop(key)
                self._add(key, value)
            self._fresh.clear()
            self._make_room()

    def _add(self, key: str, value: T) -> None:
        arrays = dict(held_arrays(value))
        for each, size in arrays.items():
            holders, counted = self._holders.get(each, (0, size))
            self._holders[each] = (holders + 1, counted)
            if holders == 0:
                self.used_bytes += size
        self._kept[key] = _Entry(value, tuple(arrays))

    def _drop(self, key: str) -> None:
        entry = self._kept.pop(key, None)
        if entry is None:
            return
        for each in entry.arrays:
            holders, counted = self._holders.pop(each)
            if holders > 1:
                self._holders[each] = (holders - 1, counted)
            else:
                self.used_bytes -= counted

    def _make_room(self) -> None:
        while self.used_bytes > self.limit_bytes and self._kept:
            self._drop(next(iter(self._kept)))

    def __len__(self) -> int:
        return len(self._kept)
