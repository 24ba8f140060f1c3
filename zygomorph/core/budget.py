"""How much memory a form or step may ask for, told before it is taken.

A number of cells that is allowed may still be more than a machine has: what runs out of memory
takes the whole program with it.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from zygomorph.core.errors import ZygomorphError

# Of a point of a surface: itself, its rest shape and its normal, the corners, triangles and edges
# around it, and what is packed for the wire (measured; rounded up). Of a loose point or one of a
# curve much less.
SURFACE_BYTES = 250
LOOSE_BYTES = 70
# Of a point of a loop that is delivered as one animation: its positions at every frame, the shapes
# that are found of them, and their normals.
DELIVERED_BYTES = 60
SETTING = "ZYGOMORPH_BUDGET_MB"
DEFAULT_MB = 2000


def _setting() -> int:
    try:
        return max(1, int(os.environ.get(SETTING, DEFAULT_MB))) * 1_000_000
    except ValueError:
        return DEFAULT_MB * 1_000_000


_budget: ContextVar[int | None] = ContextVar("budget", default=None)


@contextmanager
def budget(most: int) -> Iterator[None]:
    """Hold what is made inside to so many bytes, or to the setting where that is less."""
    before = _budget.set(min(most, _setting()))
    try:
        yield
    finally:
        _budget.reset(before)


def within_budget(
    points: int,
    each: int = SURFACE_BYTES,
    what: str = "That would be",
    hint: str = "Choose fewer cells, points or halvings",
    unit: str = "points",
) -> None:
    """Raise ZygomorphError where so many points would take more memory than is allowed.

    each : bytes of a point; what, hint : words before the number, and what helps
    unit : what is counted, where it is not points
    """
    most = _budget.get() or _setting()
    if points * each > most:
        raise ZygomorphError(
            f"{what} {points:,} {unit}, about {points * each / 1e9:.1f} GB; the limit is "
            f"{most / 1e9:.1f} GB, {most // each:,} {unit}.",
            f"{hint}; the limit is the setting {SETTING} of the program.",
        )
