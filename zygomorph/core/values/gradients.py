"""Bundled gradients, and how the stops of a gradient are joined.

Colours between stops are interpolated in OKLab, where equal steps look equal (B. Ottosson, "A
perceptual color space for image processing", 2020), so that no grey band appears in the middle, or,
where it is wanted, in linear light.
sRGB's transfer curve is that of IEC 61966-2-1.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import numpy as np

# Stops: (place from 0 to 1, sRGB). Made for the demo's night garden.
STOPS: dict[str, tuple[tuple[float, str], ...]] = {
    "ember": (
        (0.0, "#1d0714"),
        (0.3, "#7a1420"),
        (0.55, "#e0491b"),
        (0.8, "#ffb02e"),
        (1.0, "#fff3c4"),
    ),
    "petal": ((0.0, "#35123f"), (0.35, "#8e2c6f"), (0.7, "#ee8fa0"), (1.0, "#ffeede")),
    "moss": ((0.0, "#0d1f16"), (0.4, "#2f6b39"), (0.75, "#a9c85a"), (1.0, "#f7f3c6")),
    "dusk": ((0.0, "#141436"), (0.35, "#40408f"), (0.65, "#c67a9d"), (1.0, "#ffe1b8")),
    "lagoon": ((0.0, "#04202c"), (0.4, "#0f6b78"), (0.75, "#63c6b4"), (1.0, "#f0fbe4")),
    "brass": ((0.0, "#1c140d"), (0.4, "#7d5322"), (0.75, "#d8ab52"), (1.0, "#fff6da")),
    "frost": ((0.0, "#16203a"), (0.5, "#6f9ccb"), (0.8, "#cfe6f2"), (1.0, "#ffffff")),
    "ink": ((0.0, "#15131c"), (1.0, "#f3eee3")),
    "lamplight": ((0.0, "#100c08"), (0.35, "#5b3210"), (0.7, "#f2a33c"), (1.0, "#fffbe8")),
    "orchid": ((0.0, "#1b1033"), (0.4, "#6a35a8"), (0.75, "#d88be0"), (1.0, "#fdf0ff")),
    "verdigris": ((0.0, "#0b1a1c"), (0.45, "#24706a"), (0.8, "#8fd3b6"), (1.0, "#f1efd2")),
    "aurora": (
        (0.0, "#0b1030"),
        (0.3, "#1d5f7a"),
        (0.55, "#4fc48a"),
        (0.8, "#c9e06a"),
        (1.0, "#fff4c9"),
    ),
    "wheel": (
        (0.0, "#d1495b"),
        (0.2, "#d9a13b"),
        (0.4, "#6fae52"),
        (0.6, "#3fa3b5"),
        (0.8, "#7a63c7"),
        (1.0, "#d1495b"),
    ),
}
LABELS = {name: name for name in STOPS}
TABLE_LENGTH = 256

_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


def to_linear(srgb: np.ndarray) -> np.ndarray:
    """sRGB components from 0 to 1 to linear light."""
    return np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)


def to_srgb(linear: np.ndarray) -> np.ndarray:
    """Linear light from 0 to 1 to sRGB components."""
    linear = np.clip(linear, 0.0, 1.0)
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)


def to_oklab(srgb: np.ndarray) -> np.ndarray:
    """(..., 3) sRGB to OKLab."""
    return np.cbrt(to_linear(srgb) @ _TO_LMS.T) @ _TO_LAB.T


def from_oklab(lab: np.ndarray) -> np.ndarray:
    """(..., 3) OKLab to sRGB, clipped to what a screen can show."""
    return to_srgb((lab @ np.linalg.inv(_TO_LAB).T) ** 3 @ np.linalg.inv(_TO_LMS).T)


def parse_hex(text: str) -> np.ndarray:
    """(3,) sRGB from 0 to 1 of ``#rrggbb``."""
    return np.array([int(text[k : k + 2], 16) for k in (1, 3, 5)]) / 255.0


Gradient = str | Mapping[str, Any]


def gradient_table(gradient: Gradient) -> np.ndarray:
    """(TABLE_LENGTH, 4) uint8 sRGB with full opacity, from the first colour to the last.

    gradient : the name of a bundled one, or stops as :class:`.kinds.gradients.OwnGradient` has them
    """
    if isinstance(gradient, str):
        return _table(STOPS[gradient], False, True)
    stops = sorted((stop["at"], stop["colour"]) for stop in gradient["stops"])
    held = gradient.get("join", "smooth") == "held"
    return _table(tuple(stops), held, gradient.get("mix", "perceptual") == "perceptual")


@lru_cache(maxsize=256)
def _table(stops: tuple[tuple[float, str], ...], held: bool, perceptual: bool) -> np.ndarray:
    places = np.array([place for place, _ in stops])
    srgb = np.stack([parse_hex(text) for _, text in stops])
    at = np.linspace(0.0, 1.0, TABLE_LENGTH)
    if held:
        mixed = srgb[np.clip(np.searchsorted(places, at, "right") - 1, 0, None)]
    elif perceptual:
        mixed = from_oklab(_between(at, places, to_oklab(srgb)))
    else:
        mixed = to_srgb(_between(at, places, to_linear(srgb)))
    table = np.full((TABLE_LENGTH, 4), 255, np.uint8)
    table[:, :3] = np.round(mixed * 255)
    table.flags.writeable = False
    return table


def _between(at: np.ndarray, places: np.ndarray, colours: np.ndarray) -> np.ndarray:
    """(n, 3) colours at places; beyond the first and last stop it is theirs."""
    return np.stack([np.interp(at, places, colours[:, k]) for k in range(3)], axis=1)


def colour_in(gradient: Gradient, share: float) -> str:
    """ "#rrggbb" at a share of the way through a gradient, of the nearest place in its table."""
    at = round(min(max(share, 0.0), 1.0) * (TABLE_LENGTH - 1))
    return "#" + bytes(gradient_table(gradient)[at, :3]).hex()


def stops_along(gradient: Gradient) -> tuple[tuple[float, str], ...]:
    """Stops so close that it does not matter what is mixed between them."""
    table = gradient_table(gradient)
    every = np.unique(np.round(np.linspace(0, TABLE_LENGTH - 1, 33)).astype(int))
    return tuple((float(k / (TABLE_LENGTH - 1)), "#" + bytes(table[k, :3]).hex()) for k in every)


def describe_gradients() -> list[dict[str, Any]]:
    """Name, stops and colours of each bundled gradient, for pictures and for changing it."""
    return [
        {
            "key": name,
            "stops": [{"at": at, "colour": colour} for at, colour in STOPS[name]],
            "colours": colours_of(name),
        }
        for name in STOPS
    ]


def colours_of(gradient: Gradient) -> list[str]:
    """Colours along a gradient, close enough for a picture of it."""
    table = gradient_table(gradient)
    return ["#" + bytes(c[:3]).hex() for c in (*table[:: TABLE_LENGTH // 16], table[-1])]
