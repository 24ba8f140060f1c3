"""A backdrop as pixels, as the pages have it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.images import Images
from zygomorph.core.shared.drawn_scene import Backdrop
from zygomorph.core.values.gradients import parse_hex

# Pixels of a square that stands for nothing.
SQUARE = 12


def backdrop(behind: Backdrop, size: tuple[int, int], images: Images | None = None) -> np.ndarray:
    """(rows, columns, 3) sRGB; size : (columns, rows). What is clear is white and grey squares.

    images : where its picture is; one that is not there is left out
    """
    columns, rows = size
    if behind.kind == "picture":
        return _pictured(behind, columns, rows, images or Images())
    across, down = np.meshgrid(np.arange(columns) + 0.5, np.arange(rows) + 0.5)
    if behind.kind == "clear":
        light = (across // SQUARE + down // SQUARE) % 2
        squares: np.ndarray = np.repeat((0.78 + 0.14 * light)[..., None], 3, axis=2)
        return squares
    if behind.kind == "round":
        x, y = behind.middle[0] * columns, behind.middle[1] * rows
        far = np.hypot(max(x, columns - x), max(y, rows - y))
        share = np.hypot(across - x, down - y) / far
    else:
        angle = np.radians(behind.angle)
        way = np.array([np.cos(angle), -np.sin(angle)])
        # As CSS has it: its ends are where the corners are that lie farthest along it.
        length = abs(columns * way[0]) + abs(rows * way[1])
        along = (across - columns / 2) * way[0] + (down - rows / 2) * way[1]
        share = 0.5 + along / length
    at = [stop for stop, _ in behind.stops]
    colours = np.array([parse_hex(colour) for _, colour in behind.stops])
    return np.stack([np.interp(share, at, colours[:, k]) for k in range(3)], axis=-1)


def _pictured(behind: Backdrop, columns: int, rows: int, images: Images) -> np.ndarray:
    """Fitted as CSS's background-size does: "cover", "contain" or to both sides."""
    beside = parse_hex(behind.stops[0][1])
    try:
        shown = images.colours(behind.picture)
    except ZygomorphError:
        return np.broadcast_to(beside, (rows, columns, 3)).copy()
    high, wide = shown.pixels.shape[:2]
    # What is finer than the pixels that are made would flicker.
    finest = max(0.0, 0.4 / columns - 0.4 / wide)
    shown = shown.softened(max(behind.soft, finest), "rim")
    across, up = columns / wide, rows / high
    if behind.fit != "stretch":
        across = up = max(across, up) if behind.fit == "cover" else min(across, up)
    u = (np.arange(columns) + 0.5 - columns / 2) / (across * wide) + 0.5
    v = 0.5 - (np.arange(rows) + 0.5 - rows / 2) / (up * high)
    at_u, at_v = (each.ravel() for each in np.meshgrid(u, v))
    found = shown.at(at_u, at_v, "rim").reshape(rows, columns, 4).astype(np.float64)
    outside = ((at_u < 0) | (at_u > 1) | (at_v < 0) | (at_v > 1)).reshape(rows, columns, 1)
    share = np.where(outside, 0.0, found[..., 3:])
    made: np.ndarray = beside + (found[..., :3] - beside) * share
    return made
