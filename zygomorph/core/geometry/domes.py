"""Surroundings all round that light a scene, as radiance over the directions. Two come with the
program, worked out here from a few lights and windows, so that nothing is stored."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

DOMES = {
    "glasshouse": "a glasshouse at dusk",
    "studio": "a studio with two windows",
}
ROWS, COLUMNS = 128, 256


def directions(rows: int, columns: int) -> np.ndarray:
    """(rows, columns, 3) unit: of each pixel of a picture all round.

    Its middle is ahead, along -z, its right half is to the right, and its top is above.
    """
    across = ((np.arange(columns) + 0.5) / columns - 0.5) * 2 * np.pi
    up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
    level = np.cos(up)[:, None]
    height = np.broadcast_to(np.sin(up)[:, None], (rows, columns))
    return np.stack([level * np.sin(across), height, -level * np.cos(across)], axis=-1)


def solid_angles(rows: int, columns: int) -> np.ndarray:
    """(rows, 1) steradians of each pixel; all together are 4π."""
    ends = np.sin((0.5 - np.arange(rows + 1) / rows) * np.pi)
    found: np.ndarray = (ends[:-1] - ends[1:])[:, None] * (2 * np.pi / columns)
    return found


def _step(x: np.ndarray, low: float, high: float) -> np.ndarray:
    t = np.clip((x - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def _window(way: np.ndarray, turn: float, height: float, wide: float, high: float) -> np.ndarray:
    """1 inside of an upright rectangle at a turn to the right and a height, degrees, with soft
    edges."""
    across = np.degrees(np.arctan2(way[..., 0], -way[..., 2])) - turn
    across = np.abs((across + 180) % 360 - 180)
    up = np.abs(np.degrees(np.arcsin(np.clip(way[..., 1], -1, 1))) - height)
    inside = (1 - _step(across, wide - 1.5, wide + 1.5)) * (1 - _step(up, high - 1.5, high + 1.5))
    return inside[..., None]


def _glasshouse(way: np.ndarray) -> np.ndarray:
    """An indigo sky behind panes, a warm band where the sun went down, dark plants below."""
    up = np.clip(way[..., 1:2], -1, 1)
    sky = np.array([0.15, 0.17, 0.29]) + 0.2 * _step(up, 0.0, 0.9) * np.array([0.02, 0.06, 0.24])
    west = (way @ np.array([-0.8, 0.0, -0.6]))[..., None]
    band = np.exp(-((up - 0.04) ** 2) / 0.02) * _step(west, -0.2, 1.0)
    sky = sky + 3.2 * band * np.array([1.0, 0.46, 0.16])
    across = np.degrees(np.arctan2(way[..., 0], way[..., 2]))[..., None]
    # Bars every 15 degrees, and rafters every 15 degrees up.
    bars = 1 - 0.75 * (np.abs((across + 7.5) % 15 - 7.5) < 0.8)
    rafters = 1 - 0.75 * (np.abs((np.degrees(np.arcsin(up)) + 7.5) % 15 - 7.5) < 0.8)
    plants = np.array([0.020, 0.034, 0.026]) * (1 + 0.5 * np.sin(np.radians(across) * 11))
    lamp = 26.0 * _window(way, 118, 34, 3.2, 3.2) * np.array([1.0, 0.80, 0.52])
    return np.where(up > 0, sky * bars * rafters, plants) + lamp


def _studio(way: np.ndarray) -> np.ndarray:
    """A grey room with a large window on the left, a tall one on the right, and a pale floor."""
    up = way[..., 1:2]
    room = 0.10 + 0.06 * _step(up, -0.2, 0.9) + 0.10 * (1 - _step(up, -0.9, -0.1))
    room = room * np.array([1.0, 0.98, 0.95])
    left = 7.5 * _window(way, -62, 32, 24, 18) * np.array([0.86, 0.93, 1.0])
    right = 4.0 * _window(way, 96, 18, 7, 34) * np.array([1.0, 0.90, 0.78])
    return room + left + right


_MADE = {"glasshouse": _glasshouse, "studio": _studio}


@lru_cache(maxsize=len(_MADE))
def dome(name: str) -> np.ndarray:
    """(ROWS, COLUMNS, 3) float32 radiance of one of ``DOMES``, relative."""
    return _MADE[name](directions(ROWS, COLUMNS)).astype(np.float32)
