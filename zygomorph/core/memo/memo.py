"""The one way in which what was made is kept: within a limit of bytes, oldest use goes first."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, Generic, NamedTuple, ParamSpec, TypeVar

from zygomorph.core.memo.held import held_arrays

P = ParamSpec("P")
T = TypeVar("T")
# What an entry counts for that holds no arrays, and of which nothing is told.
PLAIN_BYTES = 500


class _Entry(NamedTuple):
    """arrays : identities of those that it holds; own : bytes that it counts for besides them"""

    value: Any
    arrays: tuple[int, ...]
    own: int


class Memo(Generic[T]):
    """Results by their keys, bounded in bytes and counted; may be used from several threads.

    Each array counts once however many entries share it. Entries grow when something is derived
    of what they hold and kept with it, as the neighbours of points with their topology:
    :meth:`recount` counts that, and is called when work is done.

    A general cache library knows neither; so the counting is done here.
    """

    def __init__(self, limit_bytes: int) -> None:
        self.limit_bytes = limit_bytes
        self.used_bytes = 0
        self.hits = 0
        self.misses = 0
        self._kept: OrderedDict[Hashable, _Entry] = OrderedDict()
        # Of each array, by its identity: how many entries hold it, and the bytes that are counted
        # for it. What was derived may be dropped by its owner and its identity be another's then,
        # so that what is taken off again is what was added.
        self._holders: dict[int, tuple[int, int]] = {}
        self._fresh: set[Hashable] = set()
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._kept)

    def get(self, key: Hashable) -> T | None:
        """What is kept under a key."""
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                self.misses += 1
                return None
            self.hits += 1
            self._kept.move_to_end(key)
            value: T = found.value
            return value

    def put(self, key: Hashable, value: T, size: int | None = None) -> None:
        """Keep a value; one that is larger than the limit is not kept, since all others would make
        room for it in vain.

        size : bytes it counts for; None for those of the arrays that it holds
        """
        with self._lock:
            self._drop(key)
            self._add(key, value, size)
            if size is None:
                self._fresh.add(key)
            self._make_room()

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """What is kept under a key, made where it is not there."""
        found = self.get(key)
        if found is None:
            found = make()
            if found is not None:
                self.put(key, found)
        return found

    def recount(self) -> None:
        """Count what was derived of the entries that are new since the last time."""
        if not self._fresh:
            return
        with self._lock:
            for key in self._fresh & self._kept.keys():
                value = self._kept[key].value
                self._drop(key)
                self._add(key, value, None)
            self._fresh.clear()
            self._make_room()

    def _add(self, key: Hashable, value: T, size: int | None) -> None:
        arrays = dict(held_arrays(value)) if size is None else {}
        own = size if size is not None else (0 if arrays else PLAIN_BYTES)
        if own + sum(arrays.values()) > self.limit_bytes:
            return
        for each, nbytes in arrays.items():
            holders, counted = self._holders.get(each, (0, nbytes))
            self._holders[each] = (holders + 1, counted)
            if holders == 0:
                self.used_bytes += nbytes
        self.used_bytes += own
        self._kept[key] = _Entry(value, tuple(arrays), own)

    def _drop(self, key: Hashable) -> None:
        entry = self._kept.pop(key, None)
        if entry is None:
            return
        self.used_bytes -= entry.own
        for each in entry.arrays:
            holders, counted = self._holders.pop(each)
            if holders > 1:
                self._holders[each] = (holders - 1, counted)
            else:
                self.used_bytes -= counted

    def _make_room(self) -> None:
        while self.used_bytes > self.limit_bytes and self._kept:
            self._drop(next(iter(self._kept)))


def called(memo: Memo[Any], function: Callable[P, T], *arguments: P.args, **named: P.kwargs) -> T:
    """What a function gives for arguments that alone decide it, kept in a memo."""
    key = (function.__module__, function.__qualname__, arguments, tuple(sorted(named.items())))
    found: T = memo.once(key, lambda: function(*arguments, **named))
    return found
