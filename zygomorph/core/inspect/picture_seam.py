"""How far the last picture of a loop is from its first: what an eye sees of the seam, a camera that
travels included."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# Steps of 8 bits at which the heat is full, and the colours that it goes through.
FULL = 32.0
COLOURS = np.array([[18, 16, 26], [120, 30, 60], [226, 96, 40], [255, 214, 92], [255, 255, 240]])


@dataclass(frozen=True)
class PictureSeam:
    """largest, mean : difference of a colour, in steps of 8 bits
    share : of the pixels that differ by more than one step
    heat : (rows, columns, 3) uint8
    """

    largest: int
    mean: float
    share: float
    heat: np.ndarray


def picture_seam(first: np.ndarray, last: np.ndarray) -> PictureSeam:
    """Compare two pictures, (rows, columns, 4) uint8 with straight alpha; what is clear in both is
    the same, whatever its colour."""
    apart = np.abs(_over(first) - _over(last)).max(axis=-1)
    at = np.clip(apart / FULL, 0, 1) * (len(COLOURS) - 1)
    heat = np.stack(
        [np.interp(at, np.arange(len(COLOURS)), COLOURS[:, k]) for k in range(3)], axis=-1
    )
    return PictureSeam(
        round(float(apart.max())),
        float(apart.mean()),
        float((apart > 1).mean()),
        np.round(heat).astype(np.uint8),
    )


def _over(picture: np.ndarray) -> np.ndarray:
    """(rows, columns, 4): colours as much as they are seen, and how much that is."""
    alpha = picture[..., 3:].astype(np.float64)
    return np.concatenate([picture[..., :3] * (alpha / 255), alpha], axis=-1)
