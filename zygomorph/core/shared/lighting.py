"""How much light arrives on surfaces, and the tone that the screen has, as the stage has them."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.images import Images
from zygomorph.core.shared.dome_light import arriving, coefficients
from zygomorph.core.shared.drawn_scene import (
    AreaLamp,
    DomeLamp,
    Lamp,
    PointLamp,
    SkyLamp,
    SpotLamp,
    SunLamp,
)
from zygomorph.core.values.gradients import parse_hex, to_linear


def irradiance(
    normals: np.ndarray, points: np.ndarray, lamps: Iterable[Lamp], images: Images | None = None
) -> np.ndarray:
    """(…, 3) linear, W/m²: the light that arrives on surfaces with normals (…, 3) at points (…, 3)
    on the stage; nothing is in its way.

    Of a sky, the share from above falls from 1 for a surface that faces up to 0 for one that faces
    down, linearly in the cosine. Of an area light, what its middle would send if all of it were
    there.

    images : where the pictures of domes are
    """
    found = np.zeros(normals.shape, np.float64)
    for lamp in lamps:
        if isinstance(lamp, SkyLamp):
            above = (0.5 + 0.5 * (normals @ lamp.up))[..., None]
            colours = to_linear(parse_hex(lamp.above)), to_linear(parse_hex(lamp.below))
            found += (colours[0] * above + colours[1] * (1 - above)) * lamp.strength
            continue
        if isinstance(lamp, DomeLamp):
            found += arriving(coefficients(lamp, images or Images()), normals)
            continue
        colour = to_linear(parse_hex(lamp.colour))
        if isinstance(lamp, SunLamp):
            share = np.clip(normals @ lamp.towards, 0, 1)[..., None] * lamp.strength
        else:
            share = _from_near(lamp, normals, points)[..., None]
        found += share * colour
    return found


def _from_near(
    lamp: PointLamp | SpotLamp | AreaLamp, normals: np.ndarray, points: np.ndarray
) -> np.ndarray:
    """(…) W/m² on surfaces from a lamp that has a place."""
    way = lamp.position - points
    far = np.maximum((way * way).sum(axis=-1), 1e-6)
    way = way / np.sqrt(far)[..., None]
    share = np.clip((normals * way).sum(axis=-1), 0, 1) / far
    to_all_sides: np.ndarray = share * (lamp.strength / (4 * np.pi))
    if isinstance(lamp, PointLamp):
        return to_all_sides
    along = -(way @ unit(lamp.target - lamp.position))
    if isinstance(lamp, AreaLamp):
        ahead: np.ndarray = share * np.clip(along, 0, 1) * (lamp.strength / np.pi)
        return ahead
    dark, full = lamp.cosines
    edge = np.clip((along - dark) / max(full - dark, 1e-9), 0, 1)
    within: np.ndarray = to_all_sides * edge * edge * (3 - 2 * edge)
    return within


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
