"""How fast waves of a length run over water of a depth: linear (Airy) theory.

ω² = g k tanh(k d). (H. Lamb, "Hydrodynamics", 6th ed. 1932, § 229.)
"""

from __future__ import annotations

import numpy as np

GRAVITY = 9.80665
# From here on tanh(k d) is 1 in float64.
DEEP = 20.0


def angular_frequency(wavenumber: np.ndarray, depth: float) -> np.ndarray:
    """ω in rad/s of waves with a wavenumber in rad/m; float64."""
    found: np.ndarray = np.sqrt(GRAVITY * wavenumber * np.tanh(wavenumber * depth))
    return found


def group_velocity(wavenumber: np.ndarray, depth: float) -> np.ndarray:
    """dω/dk in m/s, of wavenumbers above 0; float64."""
    kd = np.minimum(wavenumber * depth, DEEP)
    phase = angular_frequency(wavenumber, depth) / wavenumber
    found: np.ndarray = 0.5 * phase * (1 + 2 * kd / np.sinh(2 * kd))
    return found


def wavenumber_of(frequency: float, depth: float) -> float:
    """k in rad/m of waves with an angular frequency in rad/s, by Newton's method."""
    deep = frequency**2 / GRAVITY
    # Exact in deep water; in shallow water within a tenth (C. Eckart, "The propagation of gravity
    # waves from deep to shallow water", 1952).
    k = deep / np.sqrt(np.tanh(deep * depth)) if deep > 0 else 0.0
    for _ in range(8 if k > 0 else 0):
        at = np.array([k])
        k -= (angular_frequency(at, depth)[0] - frequency) / group_velocity(at, depth)[0]
    return float(k)
