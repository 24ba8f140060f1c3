"""Cubic B-splines between the crossings of a regular grid."""

from __future__ import annotations

from numba import float32

from zygomorph.core.kernels.compiled import inline


@inline
def spline_weights(f):  # type: ignore[no-untyped-def]
    """Weights of four crossings at a share ``f`` of a cell after the second."""
    g = float32(1.0) - f
    sixth = float32(1.0 / 6.0)
    one = g * g * g * sixth
    two = (float32(4.0) - float32(6.0) * f * f + float32(3.0) * f * f * f) * sixth
    three = (float32(4.0) - float32(6.0) * g * g + float32(3.0) * g * g * g) * sixth
    return one, two, three, f * f * f * sixth


@inline
def spline_slopes(f):  # type: ignore[no-untyped-def]
    """Derivatives of the same by ``f``."""
    g = float32(1.0) - f
    half = float32(0.5)
    one = -half * g * g
    two = float32(1.5) * f * f - float32(2.0) * f
    three = float32(2.0) * g - float32(1.5) * g * g
    return one, two, three, half * f * f
