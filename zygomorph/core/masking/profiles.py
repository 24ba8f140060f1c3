"""A profile that the artist draws: a monotone cubic through knots, which never overshoots them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from zygomorph.core.geometry.monotone_cubic import distinct, monotone_curve

TABLE = 256


def profile_table(knots: Sequence[Sequence[float]]) -> np.ndarray:
    """The curve at TABLE + 1 even places from 0 to 1, (257,) float32 from 0 to 1.

    knots : (x, y) of each, in any order; beyond the first and last the curve is level
    """
    return _table(tuple((float(x), float(y)) for x, y in knots))


@lru_cache(maxsize=256)
def _table(knots: tuple[tuple[float, float], ...]) -> np.ndarray:
    ordered = distinct(*zip(*knots, strict=True))
    t, v = np.array(ordered, np.float64).T
    at = np.linspace(0, 1, TABLE + 1)
    if len(t) == 1:
        return np.full(TABLE + 1, v[0], np.float32)
    found = monotone_curve(t, v)(np.clip(at, t[0], t[-1]))
    return np.clip(found, 0, 1).astype(np.float32)
