"""How many bytes of arrays something holds, with what was derived of it and kept with it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np


def held_arrays(thing: Any) -> Iterator[tuple[int, int]]:
    """The arrays that something holds: for each its identity and its bytes, each array once.

    Containers and objects of this package are looked into, but for those of classes that declare
    ``HOLDS_NO_ARRAYS``: parts of documents and declarations, which are large and hold none. A view
    counts as the array whose memory it shows, because it keeps the whole of it.
    """
    seen: set[int] = set()
    waiting = [thing]
    while waiting:
        each = waiting.pop()
        if isinstance(each, np.ndarray):
            while isinstance(each.base, np.ndarray):
                each = each.base
            if id(each) not in seen:
                seen.add(id(each))
                yield id(each), each.nbytes
            continue
        if isinstance(each, bytes | memoryview):
            whole = each.obj if isinstance(each, memoryview) else each
            if id(whole) not in seen:
                seen.add(id(whole))
                yield id(whole), memoryview(each).nbytes
            continue
        if isinstance(each, (str, int, float, bool, type(None))) or id(each) in seen:
            continue
        seen.add(id(each))
        if getattr(type(each), "HOLDS_NO_ARRAYS", False):
            continue
        if isinstance(each, Mapping):
            waiting += list(each.values())
        elif isinstance(each, (tuple, list)):
            waiting += each
        elif type(each).__module__.startswith("zygomorph."):
            # Another thread may be adding to it.
            waiting += list(getattr(each, "__dict__", {}).values())


def held_bytes(thing: Any) -> int:
    """Bytes of all arrays that something holds."""
    return sum(size for _, size in held_arrays(thing))
