"""Sums of octaves of gradient noise over many points, plain or ridged, looping in time.

Two ways to move the pattern, both of which return exactly:

rise
    The lattice wraps after a whole number of cells along one axis and scrolls by whole wraps;
    each octave has a whole period of its own.
evolve
    cos θ · A + sin θ · B of two independent fields: the variance stays constant (for fields of
    equal variance, cos² + sin² = 1).

Ridged octaves are (1 - |n|)², after Musgrave's ridged multifractal (Ebert et al., "Texturing and
Modeling", 3rd ed., chapter 16; from memory), without its feedback between octaves.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numba import float32, int32, prange, types, uint32

from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.noise.gradient import gradient_noise
from zygomorph.core.noise.lattice import floor_to_int, octave_offset, octave_seed
from zygomorph.core.triples import apart

AXIS_ORDER = {"x": (0, 1, 2), "y": (1, 2, 0), "z": (2, 0, 1)}
MAX_OCTAVES = 12

_SEEDS = types.Array(types.uint32, 2, "C", readonly=True)
_OFFSETS = types.Array(types.float32, 3, "C", readonly=True)


@kernel(types.void(F2, F2, F1, F1, F1, F1, F2, _SEEDS, _OFFSETS, types.boolean, F1W))
def _fractal(points, matrix, inverse_size, phase, cosine, sine, table, seeds, offsets, ridged, out):  # type: ignore[no-untyped-def]
    """The first row of ``matrix`` gives the coordinate that wraps.

    table : rows of frequency, cells after which the lattice wraps, and share of each octave
    """
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    m00, m01, m02, m03 = matrix[0, 0], matrix[0, 1], matrix[0, 2], matrix[0, 3]
    m10, m11, m12, m13 = matrix[1, 0], matrix[1, 1], matrix[1, 2], matrix[1, 3]
    m20, m21, m22, m23 = matrix[2, 0], matrix[2, 1], matrix[2, 2], matrix[2, 3]
    for chunk in prange(CHUNKS):
        work = np.empty((7, BLOCK), np.float32)
        x, y, z, travel, wave = work[0], work[1], work[2], work[3], work[4]
        weights = work[5:]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            # Slices: an index like lo + i might be negative for all the compiler knows.
            result = out[lo : lo + m]
            load(phase, lo, m, travel)
            load(cosine, lo, m, weights[0])
            load(sine, lo, m, weights[1])
            load(inverse_size, lo, m, wave)
            apart(flat, lo, m, x, y, z)
            for i in range(m):
                a = m00 * x[i] + m01 * y[i] + m02 * z[i] + m03
                b = m10 * x[i] + m11 * y[i] + m12 * z[i] + m13
                c = m20 * x[i] + m21 * y[i] + m22 * z[i] + m23
                x[i], y[i], z[i] = wave[i] * a, wave[i] * b, wave[i] * c
            for i in range(m):
                result[i] = float32(0.0)
            for octave in range(seeds.shape[1]):
                frequency = table[0, octave]
                span = table[1, octave]
                per_span = float32(1.0) / span
                share = table[2, octave]
                for i in range(m):
                    wave[i] = float32(0.0)
                for which in range(seeds.shape[0]):
                    seed = uint32(seeds[which, octave])
                    ox = offsets[which, octave, 0]
                    oy = offsets[which, octave, 1]
                    oz = offsets[which, octave, 2]
                    weight = weights[which]
                    for i in range(m):
                        u = x[i] * frequency + ox - travel[i] * span
                        v = y[i] * frequency + oy
                        w = z[i] * frequency + oz
                        ix = floor_to_int(u)
                        iy = floor_to_int(v)
                        iz = floor_to_int(w)
                        cell = float32(ix)
                        # Half a cell keeps the product away from whole numbers, where rounding
                        # of the reciprocal would put a cell on the wrong side.
                        turns = float32(floor_to_int((cell + float32(0.5)) * per_span))
                        start = cell - span * turns
                        end = start + float32(1.0)
                        end = end if end < span else float32(0.0)
                        value = gradient_noise(
                            int32(start),
                            iy,
                            iz,
                            int32(end),
                            int32(iy + int32(1)),
                            int32(iz + int32(1)),
                            u - cell,
                            v - float32(iy),
                            w - float32(iz),
                            seed,
                        )
                        wave[i] += weight[i] * value
                if ridged:
                    for i in range(m):
                        ridge = float32(1.0) - abs(wave[i])
                        wave[i] = float32(2.0) * ridge * ridge - float32(1.0)
                for i in range(m):
                    result[i] += share * wave[i]


def _ones(value: float) -> np.ndarray:
    return np.array([value], np.float32)


@dataclass
class Pattern:
    """What a fractal pattern is made of; arrays have length 1 or one entry for each point.

    size : metres for one cell of the first octave
    phase : share of a whole wrap that the pattern has travelled, in cycles
    period : cells of the first octave after which the pattern repeats along ``axis``
    evolve : cycles, or None where the pattern does not evolve
    octaves : a fraction fades the last octave in

    Values for each point cost nothing more for size, phase and evolve; for octaves, gain,
    lacunarity and period the points are grouped by value.
    """

    size: np.ndarray = field(default_factory=lambda: _ones(1.0))
    phase: np.ndarray = field(default_factory=lambda: _ones(0.0))
    period: np.ndarray = field(default_factory=lambda: _ones(64.0))
    evolve: np.ndarray | None = None
    octaves: np.ndarray = field(default_factory=lambda: _ones(4.0))
    gain: np.ndarray = field(default_factory=lambda: _ones(0.5))
    lacunarity: np.ndarray = field(default_factory=lambda: _ones(2.0))
    stretch: np.ndarray = field(default_factory=lambda: np.ones(3))
    axis: str = "y"
    seed: int = 0
    ridged: bool = False


@lru_cache(maxsize=1024)
def _lattices(seed: int, fields: int, octaves: int) -> tuple[np.ndarray, np.ndarray]:
    """Hash seed, (fields, octaves) uint32, and offset, (fields, octaves, 3) float32, of each
    octave's lattice."""
    keys = [(seed * 2 + k, o) for k in range(fields) for o in range(octaves)]
    seeds = np.array([octave_seed(*key) for key in keys], np.uint32)
    offsets = np.stack([octave_offset(*key) for key in keys])
    return seeds.reshape(fields, octaves), offsets.reshape(fields, octaves, 3)


@lru_cache(maxsize=1024)
def _octave_table(octaves: float, gain: float, lacunarity: float, period: float) -> np.ndarray:
    """Frequency, whole period in cells, and share of the sum for each octave; (3, O) float32."""
    order = np.arange(int(np.clip(np.ceil(octaves), 1, MAX_OCTAVES)))
    frequency = lacunarity**order
    share = np.clip(octaves - order, 0.0, 1.0) * gain**order
    span = np.maximum(np.round(period * frequency), 1.0)
    return np.stack([frequency, span, share / max(share.sum(), 1e-6)]).astype(np.float32)


@lru_cache(maxsize=256)
def _rows(axis: str, stretch: tuple[float, ...], transform: bytes | None) -> np.ndarray:
    """(3, 4) float32 from points to unscaled cells, the axis that wraps first."""
    matrix = np.eye(4) if transform is None else np.frombuffer(transform).reshape(4, 4)
    order = list(AXIS_ORDER[axis])
    return np.ascontiguousarray(matrix[order] / np.array(stretch)[order, None], np.float32)


def fractal(
    points: np.ndarray,
    pattern: Pattern,
    transform: np.ndarray | None = None,
    out: np.ndarray | None = None,
) -> np.ndarray:
    """Evaluate a pattern.

    points : (P, 3) float32, metres
    transform : (4, 4) applied to the points first (a piece's place), or None
    out : (P,) float32 to write to, or None for a new array
    returns (P,) float32, about -1 to 1: the sum divided by the octaves' amplitudes
    """
    place = None if transform is None else np.asarray(transform, np.float64).tobytes()
    rows = _rows(pattern.axis, tuple(np.asarray(pattern.stretch, float).tolist()), place)
    # In float64 before the kernel: a phase of exactly one cycle becomes exactly zero.
    phase = np.asarray(pattern.phase, np.float64)
    theta = np.zeros(1) if pattern.evolve is None else np.asarray(pattern.evolve, np.float64)
    theta = 2 * np.pi * (theta - np.floor(theta))
    each = {
        "inverse_size": 1.0 / np.asarray(pattern.size, np.float64),
        "phase": phase - np.floor(phase),
        "cosine": np.cos(theta),
        "sine": np.sin(theta),
    }
    parts = {name: value.astype(np.float32) for name, value in each.items()}
    fields = 2 if np.any(theta) else 1

    def run(
        where: np.ndarray | None, shape: Sequence[float], into: np.ndarray | None
    ) -> np.ndarray:
        table = _octave_table(*shape)
        seeds, offsets = _lattices(pattern.seed, fields, table.shape[1])
        chosen = points if where is None else points[where]
        result = np.empty(len(chosen), np.float32) if into is None else into
        values = (v if where is None or len(v) == 1 else v[where] for v in parts.values())
        _fractal(
            chosen,
            rows,
            *values,
            table,
            seeds,
            offsets,
            pattern.ridged,
            result,
        )
        return result

    built = (pattern.octaves, pattern.gain, pattern.lacunarity, pattern.period)
    if all(len(v) == 1 for v in built):
        return run(None, [float(v[0]) for v in built], out)
    shape_of = np.broadcast_arrays(*built)
    # Points whose octaves are built differently are done in groups that share one table.
    groups, member = np.unique(np.stack(shape_of, axis=1), axis=0, return_inverse=True)
    out = np.empty(len(points), np.float32) if out is None else out
    for index, group in enumerate(groups):
        where = np.flatnonzero(member.ravel() == index)
        out[where] = run(where, group.tolist(), None)
    return out
