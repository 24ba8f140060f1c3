"""The surface of a tile of sea at a moment."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import scipy.fft

from zygomorph.core.geometry.sea.amplitudes import Waves
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.kernels.sea import interleaved, squeezed, surface_at, transform_of

# The Jacobian at which water is all foam, and from which on there is none.
ALL_FOAM, NO_FOAM = 0.0, 0.6


def fields_at(waves: Waves, moment: float, foam: bool) -> np.ndarray:
    """(3 or 6, N, N) float32 on the grid, rows along z: height, motion along x and z for
    choppiness 1, and for foam how far these stretch the water.

    moment : in periods of the waves
    The first three are made for cubic B-splines: these have the very height at the crossings.
    """
    cells = waves.cells
    transform = np.empty((6 if foam else 3, cells, cells // 2 + 1), np.complex64)
    step = np.float32(2 * np.pi / waves.tile)
    transform_of(
        waves.forward, waves.backward, waves.turns, waves.sideways, moment, step, foam, transform
    )
    found: np.ndarray = scipy.fft.irfft2(
        transform, (cells, cells), norm="forward", workers=GATE.cores, overwrite_x=True
    )
    return found


def jacobian(stretch: np.ndarray, choppiness: float) -> np.ndarray:
    """(N, N) float32: how large level patches are against what they were; below 0 the surface has
    turned over. stretch : the last three of :func:`fields_at`"""
    out = np.empty(stretch.shape[1:], np.float32)
    squeezed(np.ascontiguousarray(stretch), np.float32(choppiness), out)
    return out


def crests(stretch: np.ndarray, choppiness: float, more: float) -> np.ndarray:
    """(N, N) float32: foam from 0 to 1 where water is squeezed together.

    more : raises the squeeze from which on there is foam
    """
    squeeze = jacobian(stretch, choppiness)
    return np.clip((NO_FOAM + more - squeeze) / (NO_FOAM - ALL_FOAM), 0, 1).astype(np.float32)


def lingering(
    now: np.ndarray, before: Callable[[int], np.ndarray], frame: float, lasts: float
) -> np.ndarray:
    """Foam that fades away in ``lasts`` frames: the most of what was there since.

    before : foam that came at a whole frame
    """
    found = now
    first = int(np.floor(frame - lasts)) + 1
    for each in range(first, int(np.ceil(frame))):
        found = np.maximum(found, before(each) * np.float32(1 - (frame - each) / lasts))
    return found


@dataclass(frozen=True)
class Surface:
    """grid : as :func:`~zygomorph.core.kernels.sea.interleaved` makes it
    per_tile : 1 / metres
    """

    grid: np.ndarray
    per_tile: float

    def at(self, points: np.ndarray) -> np.ndarray:
        """(P, 4) float32 at the x and z of points, (P, 3): height, motion along x and z for
        choppiness 1, metres, and foam from 0 to 1."""
        out = np.empty((len(points), 4), np.float32)
        surface_at(points, self.grid, self.per_tile, out, np.empty((0, 6), np.float32))
        return out

    def sloped(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The same, and (P, 6) float32: how height and motions change along x, and then along z."""
        out = np.empty((len(points), 4), np.float32)
        slopes = np.empty((len(points), 6), np.float32)
        surface_at(points, self.grid, self.per_tile, out, slopes)
        return out, slopes


def surface_of(fields: np.ndarray, foam: np.ndarray | None, tile: float) -> Surface:
    """fields : height and motions, (3 or more, N, N); foam : (N, N), or None where there is none"""
    cells = fields.shape[1]
    grid = np.empty((cells + 3, cells + 3, 4), np.float32)
    known = np.zeros((cells, cells), np.float32) if foam is None else foam
    interleaved(np.ascontiguousarray(fields[:3]), np.ascontiguousarray(known), grid)
    return Surface(grid, 1 / tile)
