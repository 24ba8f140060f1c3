"""Pictures of lit balls, by which surfaces can be shaded: what faces a way has the colour that the
ball has there. Each is worked out here from a few lights, so that nothing is stored."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zygomorph.core.geometry.image import ColourImage

SIDE = 256
SPHERES = {
    "porcelain": "porcelain",
    "bronze": "bronze",
    "ember": "ember",
    "ink": "ink",
}


def _unit(*way: float) -> np.ndarray:
    found = np.array(way)
    return found / np.linalg.norm(found)


def _normals() -> np.ndarray:
    """(SIDE, SIDE, 3) towards the viewer along z; beyond the ball as at its rim."""
    steps = (np.arange(SIDE) + 0.5) / SIDE * 2 - 1
    x, y = np.meshgrid(steps, -steps)
    far = np.maximum(np.hypot(x, y), 1.0)
    x, y = x / far, y / far
    return np.stack([x, y, np.sqrt(np.maximum(1 - x * x - y * y, 0))], axis=-1)


def _diffuse(n: np.ndarray, way: np.ndarray, wrap: float = 0.0) -> np.ndarray:
    """Lambert's cosine, which reaches round the ball by a share."""
    return np.clip((n @ way + wrap) / (1 + wrap), 0, 1)[..., None]


def _shine(n: np.ndarray, way: np.ndarray, power: float) -> np.ndarray:
    """Highlight of a light by the half vector (J. Blinn, SIGGRAPH 1977)."""
    half = _unit(*(way + np.array([0.0, 0.0, 1.0])))
    return (np.clip(n @ half, 0, 1) ** power)[..., None]


def _rim(n: np.ndarray, power: float) -> np.ndarray:
    return ((1 - n[..., 2]) ** power)[..., None]


KEY, FILL, BELOW = _unit(-0.5, 0.7, 0.55), _unit(0.8, 0.1, 0.4), _unit(0.2, -0.9, 0.1)


def _porcelain(n: np.ndarray) -> np.ndarray:
    lit = 0.16 * np.array([0.75, 0.8, 1.0]) + 0.72 * _diffuse(n, KEY, 0.25) * [1.0, 0.95, 0.88]
    return (
        lit
        + 0.16 * _diffuse(n, FILL, 0.3) * [0.6, 0.75, 1.0]
        + 0.5 * _shine(n, KEY, 90)
        + 0.22 * _rim(n, 3.5) * [0.8, 0.88, 1.0]
    )


def _bronze(n: np.ndarray) -> np.ndarray:
    metal = np.array([0.62, 0.33, 0.14])
    return (
        metal * (0.06 + 0.5 * _diffuse(n, KEY) ** 2)
        + 1.1 * metal * _shine(n, KEY, 14)
        + 0.9 * np.array([1.0, 0.78, 0.5]) * _shine(n, KEY, 120)
        + 0.5 * metal * _shine(n, FILL, 30)
        + 0.35 * _rim(n, 3.0) * [0.95, 0.62, 0.34]
    )


def _ember(n: np.ndarray) -> np.ndarray:
    return (
        np.array([0.05, 0.012, 0.008])
        + 1.25 * _rim(n, 1.7) * [1.0, 0.28, 0.05]
        + 0.55 * _rim(n, 5.0) * [1.0, 0.75, 0.4]
        + 0.12 * _diffuse(n, BELOW, 0.2) * [1.0, 0.35, 0.1]
    )


def _ink(n: np.ndarray) -> np.ndarray:
    return (
        np.array([0.006, 0.008, 0.02])
        + 0.06 * _diffuse(n, KEY, 0.2) * [0.35, 0.45, 1.0]
        + 0.7 * _rim(n, 4.0) * [0.35, 0.6, 1.0]
        + 0.8 * _shine(n, KEY, 60) * [0.8, 0.9, 1.0]
    )


_MADE = {"porcelain": _porcelain, "bronze": _bronze, "ember": _ember, "ink": _ink}


@lru_cache(maxsize=len(_MADE))
def lit_sphere(name: str) -> ColourImage:
    """One of ``SPHERES``."""
    light = np.clip(_MADE[name](_normals()), 0, 1)
    # The screen's curve, IEC 61966-2-1.
    shown = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    pixels = np.full((SIDE, SIDE, 4), 255, np.uint8)
    pixels[..., :3] = np.rint(shown * 255)
    return ColourImage(pixels)
