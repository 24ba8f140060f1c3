"""The colour of a glowing body by its temperature.

Planck's law through the colour matching functions of the CIE 1931 observer, in the analytic fit of
C. Wyman, P. Sloan and P. Shirley, "Simple Analytic Approximations to the CIE XYZ Color Matching
Functions", JCGT 2 (2), 2013; XYZ to linear sRGB by IEC 61966-2-1.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zygomorph.core.values.gradients import to_srgb

# Second radiation constant h·c/k, nm·K (CODATA 2018).
C2 = 1.438776877e7
WAVELENGTHS = np.arange(360.0, 831.0, 5.0)
# Of each lobe: height, middle in nm, and 1 / width on its short and on its long side.
LOBES = (
    (
        (1.056, 599.8, 0.0264, 0.0323),
        (0.362, 442.0, 0.0624, 0.0374),
        (-0.065, 501.1, 0.049, 0.0382),
    ),
    ((0.821, 568.8, 0.0213, 0.0247), (0.286, 530.9, 0.0613, 0.0322)),
    ((1.217, 437.0, 0.0845, 0.0278), (0.681, 459.0, 0.0385, 0.0725)),
)
TO_SRGB = np.array(
    [
        [3.2406, -1.5372, -0.4986],
        [-0.9689, 1.8758, 0.0415],
        [0.0557, -0.2040, 1.0570],
    ]
)


def matching_functions() -> np.ndarray:
    """(3, n) x, y and z of the CIE 1931 observer at WAVELENGTHS."""
    found = np.zeros((3, len(WAVELENGTHS)))
    for row, lobes in zip(found, LOBES, strict=True):
        for height, middle, short, long in lobes:
            apart = WAVELENGTHS - middle
            row += height * np.exp(-0.5 * (apart * np.where(apart < 0, short, long)) ** 2)
    return found


def chromaticity(kelvin: float) -> tuple[float, float]:
    """x and y of the CIE 1931 diagram."""
    total = _tristimulus(kelvin)
    return float(total[0] / total.sum()), float(total[1] / total.sum())


def _tristimulus(kelvin: float) -> np.ndarray:
    radiance = WAVELENGTHS**-5.0 / np.expm1(C2 / (WAVELENGTHS * kelvin))
    return matching_functions() @ (radiance / radiance.max())


@lru_cache(maxsize=256)
def colour_of_kelvin(kelvin: float) -> str:
    """ "#rrggbb" of which the strongest component is full, and none below 0."""
    linear = np.clip(TO_SRGB @ _tristimulus(kelvin), 0, None)
    srgb = to_srgb(linear / linear.max())
    return "#" + bytes(np.round(srgb * 255).astype(np.uint8)).hex()
