"""Pictures: their brightness as heights, or their colours, at any place of them."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
import scipy

# How the picture goes on beyond its rims, and what SciPy calls that.
BEYOND = {"repeat": "grid-wrap", "mirror": "reflect", "rim": "nearest"}


@dataclass(frozen=True)
class HeightImage:
    """pixels : (rows, columns) float32 from 0 to 1, the first row at the top"""

    pixels: np.ndarray
    _made: dict[Any, Any] = field(default_factory=dict, repr=False, compare=False)

    def softened(self, share: float, beyond: str) -> np.ndarray:
        """The pixels, smoothed by a Gaussian whose deviation is a share of the picture's width."""
        sigma = round(share * self.pixels.shape[1], 3)
        if sigma < 0.05:
            return self.pixels
        key = (sigma, beyond)
        if key not in self._made:
            # One is kept: a value that is dragged would leave hundreds behind.
            self._made.clear()
            self._made[key] = scipy.ndimage.gaussian_filter(self.pixels, sigma, mode=BEYOND[beyond])
        found: np.ndarray = self._made[key]
        return found

    def at(self, u: np.ndarray, v: np.ndarray, beyond: str, soft: float = 0.0) -> np.ndarray:
        """Brightness between the pixels, (n,) float32, linear from centre to centre.

        u, v : (n,) across and upwards; the picture reaches from 0 to 1 both ways
        beyond : of ``BEYOND``, or "nothing", where it is 0
        """
        rows, columns = self.pixels.shape
        places = np.stack([(1 - v) * rows - 0.5, u * columns - 0.5])
        rim = "rim" if beyond == "nothing" else beyond
        found = scipy.ndimage.map_coordinates(
            self.softened(soft, rim), places, np.float32, order=1, mode=BEYOND[rim]
        )
        if beyond == "nothing":
            found[(u < 0) | (u > 1) | (v < 0) | (v > 1)] = 0
        return found


@dataclass(frozen=True)
class ColourImage:
    """pixels : (rows, columns, 4) uint8: sRGB, and opacity that they are not multiplied by; the
    first row at the top"""

    pixels: np.ndarray
    _planes: dict[str, list[HeightImage]] = field(default_factory=dict, repr=False, compare=False)

    def planes(self) -> list[HeightImage]:
        """Its colours times their opacity, and the opacity, each as heights."""
        if "all" not in self._planes:
            share = self.pixels.astype(np.float32) / np.float32(255)
            share[..., :3] *= share[..., 3:]
            self._planes["all"] = [HeightImage(share[..., k].copy()) for k in range(4)]
        return self._planes["all"]

    def at(self, u: np.ndarray, v: np.ndarray, beyond: str, soft: float = 0.0) -> np.ndarray:
        """(n, 4) float32 from 0 to 1, as :meth:`HeightImage.at` has it; "nothing" is clear."""
        found = np.stack([plane.at(u, v, beyond, soft) for plane in self.planes()], axis=1)
        opacity = found[:, 3:]
        found[:, :3] /= np.maximum(opacity, np.float32(1e-6))
        return found

    def softened(self, share: float, beyond: str) -> ColourImage:
        """Smoothed by a Gaussian whose deviation is a share of its width."""
        if share * self.pixels.shape[1] < 0.05:
            return self
        rim = "rim" if beyond == "nothing" else beyond
        found = np.stack([plane.softened(share, rim) for plane in self.planes()], axis=-1)
        found[..., :3] /= np.maximum(found[..., 3:], np.float32(1e-6))
        return ColourImage(np.rint(np.clip(found, 0, 1) * 255).astype(np.uint8))


@lru_cache(maxsize=1)
def woven(side: int = 128) -> HeightImage:
    """A basket weave, for where no picture is chosen yet; it goes on seamlessly."""
    y, x = np.mgrid[0:side, 0:side].astype(np.float32) * np.float32(4 / side)
    across = np.abs(np.sin(np.pi * x)) * (0.55 + 0.45 * np.abs(np.cos(np.pi * y / 2)))
    along = np.abs(np.sin(np.pi * y)) * (0.55 + 0.45 * np.abs(np.cos(np.pi * x / 2)))
    over = (np.floor(x) + np.floor(y)) % 2 == 0
    return HeightImage(np.where(over, across, along).astype(np.float32))
