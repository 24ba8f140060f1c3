"""How much of the height of wind waves is at which frequency: S(ω) in m² s / rad.

The significant height Hs = 4 √m₀ is that of the highest third of the waves, from trough to crest;
m₀ = ∫ S dω is the variance of the surface.

- Pierson & Moskowitz, "A proposed spectral form for fully developed wind seas", J. Geophys. Res.
  69 (1964): what a wind makes of the open sea after days
- JONSWAP, K. Hasselmann et al., "Measurements of wind-wave growth and swell decay", 1973: what it
  makes over a fetch, with a sharper peak
- TMA, E. Bouws et al., "Similarity of the wind wave spectrum in finite depth water", J. Geophys.
  Res. 90 (1985): JONSWAP times a share that falls off in shallow water
- Phillips's spectrum as in J. Tessendorf, "Simulating Ocean Water", 2001: k⁻⁴, without the waves
  that are longer than the wind makes. Its constant is chosen so that short waves are those of
  Pierson & Moskowitz.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.sea.dispersion import (
    DEEP,
    GRAVITY,
    angular_frequency,
    group_velocity,
    wavenumber_of,
)

# Phillips's constant, and the other one of Pierson & Moskowitz, for the wind 19.5 m above the sea.
ALPHA, BETA = 8.1e-3, 0.74
# From the wind at 10 m to that at 19.5 m, in neutral air.
AT_19_5 = 1.026
# How much sharper JONSWAP's peak is, and how wide on its two sides.
PEAK, BELOW, ABOVE = 3.3, 0.07, 0.09
# What has come from far away is left with a narrow peak (Y. Goda, "Random Seas and Design of
# Maritime Structures", 1985: 3 to 10).
SWELL_PEAK = 7.0


def pierson_moskowitz(frequency: np.ndarray, wind_19_5: float) -> np.ndarray:
    """wind_19_5 : m/s, 19.5 m above the sea"""
    low = GRAVITY / wind_19_5
    found: np.ndarray = (
        ALPHA * GRAVITY**2 * frequency**-5.0 * np.exp(-BETA * (low / frequency) ** 4)
    )
    return found


def jonswap_peak(wind: float, fetch: float) -> float:
    """The angular frequency at the peak, rad/s; wind : m/s at 10 m; fetch : metres"""
    found: float = 22 * (GRAVITY**2 / (wind * fetch)) ** (1 / 3)
    return found


def jonswap(frequency: np.ndarray, wind: float, fetch: float) -> np.ndarray:
    """wind : m/s at 10 m; fetch : metres over which it blows"""
    alpha = 0.076 * (wind**2 / (fetch * GRAVITY)) ** 0.22
    return alpha * GRAVITY**2 * _peaked(frequency, jonswap_peak(wind, fetch), PEAK)


def _peaked(frequency: np.ndarray, peak: float, sharper: float) -> np.ndarray:
    width = np.where(frequency <= peak, BELOW, ABOVE)
    at_peak = np.exp(-0.5 * ((frequency / peak - 1) / width) ** 2)
    found: np.ndarray = frequency**-5.0 * np.exp(-1.25 * (peak / frequency) ** 4) * sharper**at_peak
    return found


def swell(frequency: np.ndarray, height: float, period: float) -> np.ndarray:
    """JONSWAP's form with a significant height in metres and a period at its peak in seconds."""
    peak = 2 * np.pi / period
    # The form alone decides its integral, but for the scale of frequency.
    at = peak * np.geomspace(0.3, 30, 4000)
    form = np.trapezoid(_peaked(at, peak, SWELL_PEAK), at)
    found: np.ndarray = (height / 4) ** 2 / form * _peaked(frequency, peak, SWELL_PEAK)
    return found


def phillips(wavenumber: np.ndarray, wind: float) -> np.ndarray:
    """Per wavenumber, m³/rad; wind : m/s at 10 m"""
    longest = wind**2 / GRAVITY
    found: np.ndarray = 0.5 * ALPHA * wavenumber**-3.0 * np.exp(-1 / (wavenumber * longest) ** 2)
    return found


def shallow_share(wavenumber: np.ndarray, depth: float) -> np.ndarray:
    """What TMA leaves of a spectrum, from 0 to 1: tanh² kd / (1 + 2kd / sinh 2kd)."""
    kd = np.minimum(wavenumber * depth, DEEP)
    found: np.ndarray = np.tanh(kd) ** 2 / (1 + 2 * kd / np.sinh(2 * kd))
    return found


def wind_waves(
    wavenumber: np.ndarray, spectrum: str, wind: float, fetch: float, depth: float
) -> np.ndarray:
    """Variance of the height per wavenumber, m³/rad, of waves whichever way they run.

    wavenumber : rad/m, above 0; spectrum : "jonswap", "pierson_moskowitz" or "phillips"
    wind : m/s at 10 m; fetch, depth : metres
    """
    if wind <= 0:
        return np.zeros_like(wavenumber)
    if spectrum == "phillips":
        return phillips(wavenumber, wind)
    frequency = angular_frequency(wavenumber, depth)
    if spectrum == "jonswap":
        density = jonswap(frequency, wind, fetch) * shallow_share(wavenumber, depth)
    else:
        density = pierson_moskowitz(frequency, AT_19_5 * wind)
    found: np.ndarray = density * group_velocity(wavenumber, depth)
    return found


def swell_waves(wavenumber: np.ndarray, height: float, period: float, depth: float) -> np.ndarray:
    """The same of swell."""
    frequency = angular_frequency(wavenumber, depth)
    found: np.ndarray = swell(frequency, height, period) * group_velocity(wavenumber, depth)
    return found


def peak_length(spectrum: str, wind: float, fetch: float, depth: float) -> float:
    """The length of the highest waves, metres."""
    if spectrum == "phillips":
        # Where the density per frequency is highest: k L = √(2 / 5 · ...), close to Pierson &
        # Moskowitz's peak for the same wind.
        spectrum = "pierson_moskowitz"
    if spectrum == "jonswap":
        peak = jonswap_peak(wind, fetch)
    else:
        peak = (BETA / 1.25) ** 0.25 * GRAVITY / (AT_19_5 * wind)
    return 2 * float(np.pi) / wavenumber_of(peak, depth)
