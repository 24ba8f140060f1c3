"""Where things are between two whole frames of which places and speeds are known."""

from __future__ import annotations

import numpy as np


def between(
    part: float | np.floating,
    seconds: float,
    before: tuple[np.ndarray, np.ndarray],
    after: tuple[np.ndarray, np.ndarray],
) -> np.ndarray:
    """Places on the cubic curves that have these places and speeds at both ends (C. Hermite; any
    textbook of numerical analysis); float32.

    part : of the way from one frame to the next, 0 to 1; seconds : that it takes
    before, after : places in metres and speeds in m/s, arrays of one shape
    """
    (place, speed), (next_place, next_speed) = before, after
    t, back = np.float32(part), np.float32(1 - part)
    rise = next_place - place
    leaves, arrives = np.float32(seconds) * speed, np.float32(seconds) * next_speed
    found = place + t * rise + t * back * (back * (leaves - rise) - t * (arrives - rise))
    return np.asarray(found, np.float32)
