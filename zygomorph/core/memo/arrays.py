"""A cache of what holds arrays, which are counted by themselves."""

from __future__ import annotations

from typing import TypeVar

from zygomorph.core.memo.bounded import RecentlyUsed
from zygomorph.core.memo.held_bytes import held_arrays

T = TypeVar("T")


class ArrayCache(RecentlyUsed[T, tuple[int, ...]]):
    """Each array counts once however many entries share it.

    Entries grow when something is derived of what they hold and kept with it, as the neighbours
    of points with their topology: :meth:`recount` counts that, and is called when work is done.
    """

    def __init__(self, limit_bytes: int) -> None:
        super().__init__(limit_bytes)
        # Of each array, by its identity: how many entries hold it, and the bytes that are counted
        # for it. What was derived may be dropped by its owner and its identity be another's then,
        # so that what is taken off again is what was added.
        self._holders: dict[int, tuple[int, int]] = {}
        self._fresh: set[str] = set()

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
                value, _ = self._kept[key]
                self._drop(key)
                self._add(key, value)
            self._fresh.clear()
            self._make_room()

    def _add(self, key: str, value: T) -> None:
        arrays = dict(held_arrays(value))
        if sum(arrays.values()) > self.limit_bytes:
            # All others would make room for it in vain.
            return
        for each, size in arrays.items():
            holders, counted = self._holders.get(each, (0, size))
            self._holders[each] = (holders + 1, counted)
            if holders == 0:
                self.used_bytes += size
        self._kept[key] = (value, tuple(arrays))

    def _drop(self, key: str) -> None:
        _, arrays = self._kept.pop(key, (None, ()))
        for each in arrays:
            holders, counted = self._holders.pop(each)
            if holders > 1:
                self._holders[each] = (holders - 1, counted)
            else:
                self.used_bytes -= counted

    def _make_room(self) -> None:
        while self.used_bytes > self.limit_bytes and self._kept:
            self._drop(next(iter(self._kept)))
