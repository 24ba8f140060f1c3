"""Light, tone and backdrop of the small rasteriser, as the stage has them."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from zygomorph.core.shared.drawn_scene import Lamp, RoundGradient, SunLamp
from zygomorph.core.values.gradients import parse_hex, to_linear


def irradiance(normals: np.ndarray, lamps: Iterable[Lamp]) -> np.ndarray:
    """(…, 3) linear, W/m²: the light that arrives on surfaces with normals (…, 3) on the stage.

    Of a sky, the share from above falls from 1 for a surface that faces up to 0 for one that faces
    down, linearly in the cosine.
    """
    found = np.zeros(normals.shape, np.float64)
    for lamp in lamps:
        if isinstance(lamp, SunLamp):
            share = np.clip(normals @ lamp.towards, 0, 1)[..., None]
            found += share * (to_linear(parse_hex(lamp.colour)) * lamp.strength)
        else:
            above = (0.5 + 0.5 * (normals @ lamp.up))[..., None]
            colours = to_linear(parse_hex(lamp.above)), to_linear(parse_hex(lamp.below))
            found += (colours[0] * above + colours[1] * (1 - above)) * lamp.strength
    return found


# Of the tone curve: where it begins to press together, and how fast it then takes colour away.
PRESSED_FROM = 0.8 - 0.04
FADES = 0.15


def neutral_tone(colours: np.ndarray) -> np.ndarray:
    """(…, 3) linear colours brought into 0 to 1, those below PRESSED_FROM nearly as they are.

    Khronos PBR Neutral tone mapper, which the stage has as well (KhronosGroup/ToneMapping,
    "pbrNeutral", 2024; from memory).
    """
    least = colours.min(axis=-1, keepdims=True)
    shown = colours - np.where(least < 0.08, least - 6.25 * least * least, 0.04)
    peak = shown.max(axis=-1, keepdims=True)
    room = 1.0 - PRESSED_FROM
    pressed = 1.0 - room * room / (np.maximum(peak, PRESSED_FROM) + room - PRESSED_FROM)
    scaled = shown * (pressed / np.maximum(peak, 1e-9))
    grey = 1.0 - 1.0 / (FADES * np.maximum(peak - pressed, 0) + 1.0)
    found: np.ndarray = np.where(peak < PRESSED_FROM, shown, scaled + (pressed - scaled) * grey)
    return found


def backdrop(gradient: RoundGradient, size: tuple[int, int]) -> np.ndarray:
    """(rows, columns, 3) sRGB; size : (columns, rows)"""
    columns, rows = size
    x, y = gradient.middle[0] * columns, gradient.middle[1] * rows
    far = np.hypot(max(x, columns - x), max(y, rows - y))
    across, down = np.meshgrid(np.arange(columns) + 0.5 - x, np.arange(rows) + 0.5 - y)
    share = np.hypot(across, down) / far
    at = [stop for stop, _ in gradient.stops]
    colours = np.array([parse_hex(colour) for _, colour in gradient.stops])
    return np.stack([np.interp(share, at, colours[:, k]) for k in range(3)], axis=-1)
