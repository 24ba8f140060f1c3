"""The waves of a tile of sea: how high each is, and where its crests are at the beginning.

Each wave that fits into the tile a whole number of times along both its sides gets an amplitude by
chance, of which the spectrum says the mean square. (J. Tessendorf, "Simulating Ocean Water", 2001.)
Chance goes by the number of the wave, not by the grid, so that a finer grid has the same waves and
more of them.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.geometry.sea.dispersion import angular_frequency
from zygomorph.core.geometry.sea.spectra import swell_waves, wind_waves
from zygomorph.core.geometry.sea.spreading import spread_share


@dataclass(frozen=True)
class Weather:
    """What makes a sea.

    spectrum : "jonswap", "pierson_moskowitz" or "phillips"
    wind : m/s at 10 m; fetch, depth : metres
    towards, spread : of the wind, radians from the x axis towards the z axis
    swell_height, swell_period : metres and seconds; swell_towards, swell_spread : radians
    smallest : length of the shortest waves, metres
    """

    spectrum: str = "jonswap"
    wind: float = 6.0
    fetch: float = 5000.0
    depth: float = 100.0
    towards: float = 0.0
    spread: float = 0.5
    swell_height: float = 0.0
    swell_period: float = 6.0
    swell_towards: float = 0.0
    swell_spread: float = 0.2
    smallest: float = 0.0


@dataclass(frozen=True)
class Waves:
    """The half of a tile's waves that a real transform needs, (N, N // 2 + 1) each.

    forward : complex64, amplitudes of waves with these wavenumbers, metres; backward : conjugates
        of those of the opposite ones
    turns : float64, whole or broken cycles of each in one period
    period : seconds
    tile : metres
    sideways : float32, motion to the sides against that up and down
    """

    forward: np.ndarray
    backward: np.ndarray
    turns: np.ndarray
    period: float
    tile: float
    sideways: np.ndarray

    @property
    def cells(self) -> int:
        return len(self.forward)


def wave_numbers(cells: int, tile: float) -> tuple[np.ndarray, np.ndarray]:
    """Wavenumbers of a grid's waves along z and x, (cells, 1) and (1, cells), rad/m."""
    k = np.fft.fftfreq(cells, 1 / cells) * (2 * np.pi / tile)
    return k[:, None], k[None, :]


def _chance(kx: np.ndarray, kz: np.ndarray, seed: int) -> np.ndarray:
    """Complex numbers of variance 1 by whole wavenumbers, as the Box-Muller transform has them."""
    x, z = (np.broadcast_to(k, (kz.size, kx.size)).astype(np.int64) for k in (kx, kz))
    # Above 0, so that it has a logarithm.
    first = by_chance(seed, x, z, 0) + 2.0**-54
    second = by_chance(seed, x, z, 1)
    found: np.ndarray = np.sqrt(-np.log(first)) * np.exp(2j * np.pi * second)
    return found


def mean_squares(weather: Weather, cells: int, tile: float) -> np.ndarray:
    """(cells, cells) float64: the mean square of the height of each wave, m²; together they are
    the variance of the surface."""
    kz, kx = wave_numbers(cells, tile)
    k = np.hypot(kx, kz)
    inner = np.maximum(k, np.pi / tile)
    angle = np.arctan2(kz, kx)
    density = wind_waves(inner, weather.spectrum, weather.wind, weather.fetch, weather.depth)
    density = density * spread_share(angle - weather.towards, weather.spread)
    if weather.swell_height > 0:
        own = swell_waves(inner, weather.swell_height, weather.swell_period, weather.depth)
        density = density + own * spread_share(angle - weather.swell_towards, weather.swell_spread)
    # From k dk dθ to dkx dkz.
    found = density / inner * (2 * np.pi / tile) ** 2
    if weather.smallest > 0:
        found = found * np.exp(-((k * weather.smallest / (2 * np.pi)) ** 4))
    found[k == 0] = 0
    # The shortest wave along a side has no opposite on the grid.
    found[cells // 2, :] = found[:, cells // 2] = 0
    return found


def waves_of(
    weather: Weather, cells: int, tile: float, seed: int, period: float, whole: bool
) -> Waves:
    """cells : an even number along each side; tile : metres
    period : seconds; whole : whether each wave has whole cycles in it, so that the sea repeats
    """
    kz, kx = wave_numbers(cells, tile)
    k = np.hypot(kx, kz)
    step = tile / (2 * np.pi)
    amplitude = np.sqrt(2 * mean_squares(weather, cells, tile)) * _chance(
        np.rint(kx * step), np.rint(kz * step), seed
    )
    turns = angular_frequency(k, weather.depth) * (period / (2 * np.pi))
    if whole:
        # The longest ones go once at least: a wave that stood still would be seen to.
        turns = np.maximum(np.rint(turns), 1)
    half = cells // 2 + 1
    opposite = np.roll(amplitude[::-1, ::-1], 1, (0, 1))
    with np.errstate(divide="ignore"):
        sideways = 1 / np.tanh(np.maximum(k, np.pi / tile) * weather.depth)
    return Waves(
        np.ascontiguousarray(amplitude[:, :half], np.complex64),
        np.ascontiguousarray(np.conj(opposite[:, :half]), np.complex64),
        np.ascontiguousarray(turns[:, :half]),
        period,
        tile,
        np.ascontiguousarray(sideways[:, :half], np.float32),
    )
