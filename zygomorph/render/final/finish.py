"""Post-processing in the order and with the numbers of the stage (web/src/stage/finish.ts): bloom,
exposure, tone mapping, sRGB transfer curve, contrast and vignette."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import gaussian_filter1d

from zygomorph.core.shared.drawn_scene import Finish
from zygomorph.core.shared.lighting import neutral_tone
from zygomorph.core.values.gradients import to_srgb
from zygomorph.render.final.surface_weights import LUMINANCE

# Of three.js's UnrealBloomPass: rounds, each half as large as the one before, with a blur of so
# many pixels each way and so much of the whole.
BLURS = (6, 10, 14, 18, 22)
SHARES = (1.0, 0.8, 0.6, 0.4, 0.2)
TIMES = 3.0
# Over so much light it begins.
SOFT = 0.01


def on_screen(light: np.ndarray, alpha: np.ndarray, finish: Finish) -> np.ndarray:
    """(rows, columns, 4) float32 sRGB from 0 to 1, colours multiplied by their opacity.

    light : (rows, columns, 3) radiance, multiplied by its opacity; alpha : (rows, columns)
    """
    if finish.bloom > 0:
        bloom = bloom_of(light, finish)
        light, alpha = light + bloom, alpha + bloom.max(axis=-1)
    straight = light / np.maximum(alpha, 1e-4)[..., None]
    alpha = np.clip(alpha, 0, 1)
    shown = to_srgb(np.clip(neutral_tone(straight * finish.exposure), 0, 1))
    shown = _contrast(shown, finish.contrast) * alpha[..., None]
    if finish.vignette > 0:
        dark = _vignette(light.shape[0], light.shape[1], finish.vignette)
        shown = shown * dark[..., None]
        alpha = 1 - (1 - alpha) * dark
    return np.concatenate([shown, alpha[..., None]], axis=-1).astype(np.float32)


def bloom_of(light: np.ndarray, finish: Finish) -> np.ndarray:
    """(rows, columns, 3) light that bright pixels spread around them."""
    level = light @ np.array(LUMINANCE, np.float32)
    begins = finish.bloom_from / finish.exposure
    share = np.clip((level - begins) / SOFT, 0, 1)
    bright = light * (share * share * (3 - 2 * share))[..., None]
    found = np.zeros_like(light)
    for radius, own in zip(BLURS, SHARES, strict=True):
        bright = _halved(bright)
        for axis in (1, 0):
            bright = gaussian_filter1d(
                bright, radius / 3, axis=axis, mode="nearest", radius=radius - 1
            )
        weight = own + (1.2 - 2 * own) * finish.bloom_size
        found += _as_large(bright, light.shape[:2]) * np.float32(weight)
    scaled: np.ndarray = found * np.float32(TIMES * finish.bloom)
    return scaled


def _halved(picture: np.ndarray) -> np.ndarray:
    """Half the size by 2 × 2 means; an odd last row or column counts twice."""
    for axis in (0, 1):
        if picture.shape[axis] % 2 and picture.shape[axis] > 1:
            last = picture[-1:] if axis == 0 else picture[:, -1:]
            picture = np.concatenate([picture, last], axis=axis)
    rows, columns = max(1, picture.shape[0] // 2), max(1, picture.shape[1] // 2)
    down, across = picture.shape[0] // rows, picture.shape[1] // columns
    found: np.ndarray = picture.reshape(rows, down, columns, across, 3).mean(axis=(1, 3))
    return found


def _as_large(picture: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Occlusion the middles of pixels linearly, as graphics cards look pictures up."""
    for axis in (1, 0):
        few, many = picture.shape[axis], size[axis]
        at = np.clip((np.arange(many) + 0.5) * (few / many) - 0.5, 0, few - 1)
        below = np.minimum(at.astype(np.intp), max(few - 2, 0))
        share = (at - below).astype(np.float32)
        share = share[:, None, None] if axis == 0 else share[None, :, None]
        lower = picture.take(below, axis=axis)
        upper = picture.take(np.minimum(below + 1, few - 1), axis=axis)
        upper -= lower
        upper *= share
        upper += lower
        picture = upper
    return picture


def _contrast(shown: np.ndarray, amount: float) -> np.ndarray:
    """An S-curve about mid-grey; its inverse for negative amounts."""
    if amount > 0:
        return shown + (shown * shown * (3 - 2 * shown) - shown) * amount
    return shown + (0.5 - shown) * (-amount * 0.5)


def _vignette(rows: int, columns: int, amount: float) -> np.ndarray:
    y = (np.arange(rows) + 0.5) / rows - 0.5
    x = (np.arange(columns) + 0.5) / columns - 0.5
    corner = np.hypot(*np.meshgrid(x, y)) * 1.4142
    share = np.clip((corner - 0.35) / (1.1 - 0.35), 0, 1)
    return 1 - amount * share * share * (3 - 2 * share)
