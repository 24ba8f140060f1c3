"""How waves spread about the direction of the wind: cos²ˢ(θ / 2).

(M. Longuet-Higgins, D. Cartwright & N. Smith, "Observations of the directional spectrum of sea
waves using the motions of a floating buoy", 1963.) Its circular standard deviation is
√(2 / (1 + s)) (A. Kuik, G. van Vledder & L. Holthuijsen, 1988).
"""

from __future__ import annotations

import numpy as np
from scipy.special import gammaln


def exponent_of(deviation: float) -> float:
    """s for a circular standard deviation in radians, at most √2, where no direction is left."""
    return max(2 / deviation**2 - 1, 0.0)


def spread_share(angle: np.ndarray, deviation: float) -> np.ndarray:
    """The share per radian of waves that run at an angle from the wind; over all it is 1."""
    s = exponent_of(deviation)
    level = (2 * s - 1) * np.log(2) - np.log(np.pi) + 2 * gammaln(s + 1) - gammaln(2 * s + 1)
    half = np.abs(np.cos(angle / 2))
    with np.errstate(divide="ignore"):
        found: np.ndarray = (
            np.exp(level + 2 * s * np.log(half)) if s > 0 else np.full_like(half, 1 / (2 * np.pi))
        )
    return found
