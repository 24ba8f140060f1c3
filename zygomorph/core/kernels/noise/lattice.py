"""Integer lattice helpers: seeds mixed into the hash, every octave a lattice of its own.

A seed that was added to a cell's coordinates would only shift the pattern; here it takes part
in the mixing, so no seed is a shifted copy of another. All integer arithmetic is cast back to
32 bits and no helper branches, so that loops over points become SIMD.

What is used many times in one kernel is written as instructions: each use of an inlined function is
typed and lowered anew, which took most of the time of compiling a noise.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from llvmlite import ir
from numba import float32, int32, types, uint32
from numba.extending import intrinsic

from zygomorph.core.kernels.compiled import inline


def word(value: int) -> ir.Constant:
    """A constant of 32 bits in generated code."""
    return ir.Constant(ir.IntType(32), value)


@intrinsic
def float_bits(context: Any, value: Any) -> Any:
    """The 32 bits of a float32 as uint32."""

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        return builder.bitcast(arguments[0], ir.IntType(32))

    return types.uint32(types.float32), generate


@intrinsic
def bits_float(context: Any, value: Any) -> Any:
    """The float32 that has these 32 bits."""

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        return builder.bitcast(arguments[0], ir.FloatType())

    return types.float32(types.uint32), generate


@intrinsic
def cell_hash(context: Any, x: Any, y: Any, z: Any, seed: Any) -> Any:
    """Hash of the lattice point (x, y, z), int32 each; the upper bits are the good ones.

    One odd multiplier for each axis, joined by exclusive or, then one multiply-xorshift round
    with constants of the "lowbias32" hash (C. Wellons, 2018, public domain; from memory)::

        h = x * 0x9E3779B1 ^ y * 0x85EBCA77 ^ (z * 0xC2B2AE3D + seed)
        h = (h ^ h >> 15) * 0x7FEB352D
    """

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        x, y, z, seed = arguments
        columns = builder.mul(x, word(0x9E3779B1))
        rows = builder.mul(y, word(0x85EBCA77))
        layers = builder.add(builder.mul(z, word(0xC2B2AE3D)), seed)
        h = builder.xor(builder.xor(columns, rows), layers)
        h = builder.xor(h, builder.lshr(h, word(15)))
        return builder.mul(h, word(0x7FEB352D))

    return types.uint32(types.int32, types.int32, types.int32, types.uint32), generate


@inline
def mixed(h):  # type: ignore[no-untyped-def]
    """One more round, after which all 32 bits of a hash are good."""
    h = uint32(h ^ uint32(h >> uint32(16)))
    h = uint32(h * uint32(0x21F0AAAD))
    return uint32(h ^ uint32(h >> uint32(15)))


@inline
def signed_unit(h):  # type: ignore[no-untyped-def]
    """A hash as a number from -1 up to, but not including, 1."""
    return float32(int32(h)) * float32(1.0 / 2147483648.0)


@inline
def floor_to_int(v):  # type: ignore[no-untyped-def]
    """Floor as int32, without a library call."""
    i = int32(v)
    return int32(i - int32(v < float32(i)))


@inline
def fade(t):  # type: ignore[no-untyped-def]
    """6t⁵ - 15t⁴ + 10t³ (Perlin 2002)."""
    return t * t * t * (t * (t * float32(6.0) - float32(15.0)) + float32(10.0))


@inline
def lerp(a, b, t):  # type: ignore[no-untyped-def]
    return a + t * (b - a)


def octave_seed(seed: int, octave: int) -> int:
    """The 32-bit seed of one octave of one pattern."""
    h = (seed * 0x9E3779B1 + octave * 0x632BE5AB + 0x1B873593) & 0xFFFFFFFF
    for shift, factor in ((16, 0x21F0AAAD), (15, 0x735A2D97), (15, 1)):
        h = ((h ^ (h >> shift)) * factor) & 0xFFFFFFFF
    return h


# Of the circle that the lattice of evolving noise sways round, in cells.
SWAY = 0.25


def octave_sway(seed: int, octave: int) -> np.ndarray:
    """Two perpendicular radii of the circle on which an octave's lattice sways, (6,) float32 in
    cells; their plane is random."""
    random = np.random.default_rng(octave_seed(seed ^ 0x2545F491, octave))
    plane, _ = np.linalg.qr(random.normal(size=(3, 3)))
    return (SWAY * plane[:, :2].T).astype(np.float32).ravel()


def octave_offset(seed: int, octave: int) -> np.ndarray:
    """Offset of an octave's lattice in cells, (3,) float32 in [0, 1).

    Gradient noise is zero at every lattice point; with an offset of its own for each octave the
    zeros do not pile up at the origin.
    """
    h = octave_seed(seed ^ 0x5BD1E995, octave)
    parts = [(h >> shift) & 0x3FF for shift in (0, 10, 20)]
    return np.array(parts, np.float32) / np.float32(1024)
