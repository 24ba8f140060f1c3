"""Skies and domes as one environment map."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.domes import directions
from zygomorph.core.geometry.images import Images
from zygomorph.core.shared.dome_light import levelled, shrunk
from zygomorph.core.shared.drawn_scene import DomeLamp, Lamp, SkyLamp
from zygomorph.core.values.gradients import parse_hex, to_linear

# Pixels of what is made of skies alone, and at most.
SKY = (64, 128)
MOST = (512, 1024)


def radiance_around(lamps: Sequence[Lamp], images: Images) -> np.ndarray | None:
    """(rows, columns, 3) float32 radiance, W/m²/sr, from the directions of
    :func:`zygomorph.core.geometry.domes.directions`; None without skies and domes.

    A sky has one radiance above and one below its horizon, so that surfaces receive the irradiance
    of :class:`SkyLamp`: from a hemisphere of radiance L, a surface at an angle θ to its axis
    receives π L (1 + cos θ) / 2. A dome whose picture is missing has the same radiance everywhere.
    """
    domes = [lamp for lamp in lamps if isinstance(lamp, DomeLamp)]
    skies = [lamp for lamp in lamps if isinstance(lamp, SkyLamp)]
    if not (any(lamp.strength > 0 for lamp in domes) or any(lamp.strength > 0 for lamp in skies)):
        return None
    pictures = [_picture(lamp, images) for lamp in domes]
    sizes = [SKY, *(picture.shape[:2] for picture in pictures)]
    rows, columns = max(size[0] for size in sizes), max(size[1] for size in sizes)
    way = directions(rows, columns)
    found = np.zeros((rows, columns, 3))
    for sky in skies:
        above = np.clip((way @ sky.up)[..., None] * rows / np.pi + 0.5, 0, 1)
        colours = [to_linear(parse_hex(colour)) for colour in (sky.above, sky.below)]
        found += (colours[0] * above + colours[1] * (1 - above)) * (sky.strength / np.pi)
    for dome, picture in zip(domes, pictures, strict=True):
        found += looked_up(picture, way @ dome.axes) * dome.strength
    return found.astype(np.float32)


def _picture(lamp: DomeLamp, images: Images) -> np.ndarray:
    try:
        light = images.radiance(lamp.picture)
    except ZygomorphError:
        return np.full((2, 4, 3), 1 / np.pi, np.float32)
    if light.shape[0] > MOST[0] or light.shape[1] > MOST[1]:
        light = shrunk(light, *MOST)
    return levelled(light)


def looked_up(picture: np.ndarray, way: np.ndarray) -> np.ndarray:
    """(…, 3) radiance of an environment map in directions (…, 3), interpolated bilinearly."""
    rows, columns = picture.shape[:2]
    across = (np.arctan2(way[..., 0], -way[..., 2]) / (2 * np.pi) + 0.5) * columns - 0.5
    down = (0.5 - np.arcsin(np.clip(way[..., 1], -1, 1)) / np.pi) * rows - 0.5
    left, top = np.floor(across).astype(int), np.floor(down).astype(int)
    x, y = (across - left)[..., None], (down - top)[..., None]
    found = np.zeros((*way.shape[:-1], 3))
    for dy, weight_y in ((0, 1 - y), (1, y)):
        row = np.clip(top + dy, 0, rows - 1)
        for dx, weight_x in ((0, 1 - x), (1, x)):
            found += picture[row, (left + dx) % columns] * (weight_x * weight_y)
    return found
