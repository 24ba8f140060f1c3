"""The functions and constants a formula may use, over float32 arrays; angles in radians."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from zygomorph.core.kernels.noise.fractal import Pattern, fractal
from zygomorph.core.kernels.noise.lattice import octave_seed

Array = np.ndarray
# Lattice cells beyond this have lost the digits that noise is made of.
FAR = 1e6


@dataclass(frozen=True)
class Function:
    """least, most : how many arguments; help : shown while the formula is written"""

    run: Callable[..., Array]
    least: int
    most: int
    help: str


def chance(index: Array, seed: Array | float = 0.0) -> Array:
    """A number from 0 to 1 by chance, always the same for the same whole index and seed.

    Two rounds of the 32-bit hash "lowbias32" (C. Wellons, 2018, public domain; from memory).
    """
    with np.errstate(over="ignore", invalid="ignore"):
        mixed = _whole(index) ^ (_whole(seed) * np.uint32(0x9E3779B1) + np.uint32(0x1B873593))
        for shift, factor in ((16, 0x21F0AAAD), (15, 0x735A2D97)):
            mixed = (mixed ^ (mixed >> np.uint32(shift))) * np.uint32(factor)
        mixed = mixed ^ (mixed >> np.uint32(15))
    return (mixed >> np.uint32(8)).astype(np.float32) * np.float32(2.0**-24)


def _whole(value: Array | float) -> Array:
    floor = np.floor(np.asarray(value, np.float32))
    kept = np.where(np.isfinite(floor), np.clip(floor, -(2.0**62), 2.0**62), 0)
    return kept.astype(np.int64).astype(np.uint32)


def noise(x: Array, y: Array | float = 0.0, z: Array | float = 0.0) -> Array:
    """Improved gradient noise of one octave, from -1 to 1, with cells of size 1."""
    parts = np.broadcast_arrays(*(np.atleast_1d(np.asarray(v, np.float32)) for v in (x, y, z)))
    points = np.stack(parts, axis=1)
    # Undefined stays undefined; the lattice itself knows no such places.
    bad = ~np.isfinite(points).all(axis=1) | (np.abs(points) > FAR).any(axis=1)
    points[bad] = 0
    octave = np.ones(1, np.float32)
    found = fractal(points, Pattern(octaves=octave, period=np.full(1, 4096.0), seed=_SEED))
    found[bad] = np.nan
    return found


_SEED = octave_seed(7, 0) % 1000


def smooth(low: Array, high: Array, value: Array) -> Array:
    """0 below low, 1 above high, 3t² - 2t³ between."""
    t = np.clip((value - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def remap(value: Array, a: Array, b: Array, c: Array, d: Array) -> Array:
    """The value's place between a and b, as the same place between c and d."""
    return c + (value - a) / (b - a) * (d - c)


def _sign_kept_root(value: Array, degree: Array) -> Array:
    """An odd whole root of a negative number is negative; others are undefined."""
    root = np.power(np.abs(value), 1 / degree)
    odd = np.mod(degree, 2) == 1
    return np.where(value < 0, np.where(odd, -root, np.nan), root)


def _log(value: Array, base: Array | None = None) -> Array:
    return np.log(value) if base is None else np.log(value) / np.log(base)


def _smallest(*values: Array) -> Array:
    found = values[0]
    for value in values[1:]:
        found = np.minimum(found, value)
    return found


def _largest(*values: Array) -> Array:
    found = values[0]
    for value in values[1:]:
        found = np.maximum(found, value)
    return found


FUNCTIONS: dict[str, Function] = {
    "sin": Function(np.sin, 1, 1, "sine"),
    "cos": Function(np.cos, 1, 1, "cosine"),
    "tan": Function(np.tan, 1, 1, "tangent"),
    "asin": Function(np.arcsin, 1, 1, "inverse sine"),
    "acos": Function(np.arccos, 1, 1, "inverse cosine"),
    "atan": Function(np.arctan, 1, 1, "inverse tangent"),
    "atan2": Function(np.arctan2, 2, 2, "angle of the point (x, y): atan2(y, x)"),
    "sinh": Function(np.sinh, 1, 1, "hyperbolic sine"),
    "cosh": Function(np.cosh, 1, 1, "hyperbolic cosine"),
    "tanh": Function(np.tanh, 1, 1, "hyperbolic tangent"),
    "sqrt": Function(np.sqrt, 1, 1, "square root"),
    "cbrt": Function(np.cbrt, 1, 1, "cube root"),
    "root": Function(_sign_kept_root, 2, 2, "root(value, degree)"),
    "exp": Function(np.exp, 1, 1, "e to the power"),
    "log": Function(_log, 1, 2, "natural logarithm, or log(value, base)"),
    "log2": Function(np.log2, 1, 1, "logarithm to base 2"),
    "log10": Function(np.log10, 1, 1, "logarithm to base 10"),
    "pow": Function(np.power, 2, 2, "pow(value, power)"),
    "hypot": Function(np.hypot, 2, 2, "length of (x, y)"),
    "abs": Function(np.abs, 1, 1, "without the sign"),
    "sign": Function(np.sign, 1, 1, "-1, 0 or 1"),
    "floor": Function(np.floor, 1, 1, "whole number below"),
    "ceil": Function(np.ceil, 1, 1, "whole number above"),
    "round": Function(np.rint, 1, 1, "nearest whole number"),
    "min": Function(_smallest, 2, 8, "smallest"),
    "max": Function(_largest, 2, 8, "largest"),
    "mix": Function(lambda a, b, t: a + (b - a) * t, 3, 3, "mix(a, b, t): a at 0, b at 1"),
    "clamp": Function(lambda v, a, b: np.minimum(np.maximum(v, a), b), 3, 3, "clamp(v, low, high)"),
    "smooth": Function(smooth, 3, 3, "smooth(low, high, v): 0 to 1, softly"),
    "remap": Function(remap, 5, 5, "remap(v, a, b, c, d): from a..b to c..d"),
    "noise": Function(noise, 1, 3, "noise(x, y, z): -1 to 1, cells of size 1"),
    "chance": Function(chance, 1, 2, "chance(i, seed): 0 to 1 for each whole i"),
}

CONSTANTS = {"pi": np.pi, "tau": 2 * np.pi, "e": np.e}
