"""Sums of octaves of noise over many points, looping in time.

Two ways to move the pattern, both of which return exactly:

rise
    The lattice wraps after a whole number of cells along one axis and scrolls by whole wraps;
    each octave has a whole period of its own.
evolve
    Flow noise: what stands at each lattice point turns by whole cycles of its own
    (:mod:`zygomorph.core.kernels.noise.turning`).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache, partial

import numpy as np

from zygomorph.core.kernels.compiled import Kernel
from zygomorph.core.kernels.noise.cellular_fractal import MEASURES, cellular_fractal
from zygomorph.core.kernels.noise.curl_flow import curl_flow
from zygomorph.core.kernels.noise.curl_fractal import curl_fractal
from zygomorph.core.kernels.noise.gradient_flow import gradient_flow
from zygomorph.core.kernels.noise.gradient_fractal import gradient_fractal
from zygomorph.core.kernels.noise.lattice import octave_offset, octave_seed, octave_sway
from zygomorph.core.kernels.noise.octaves import FOLDS
from zygomorph.core.kernels.noise.simplex_flow import simplex_flow
from zygomorph.core.kernels.noise.simplex_fractal import simplex_fractal
from zygomorph.core.kernels.noise.value_flow import value_flow
from zygomorph.core.kernels.noise.value_fractal import value_fractal
from zygomorph.core.kernels.noise.vector_flow import vector_flow
from zygomorph.core.kernels.noise.vector_fractal import vector_fractal
from zygomorph.core.kernels.rotation import rotation

AXIS_ORDER = {"x": (0, 1, 2), "y": (1, 2, 0), "z": (2, 0, 1)}
MAX_OCTAVES = 12
# Of each kind the kernel that stands still and the one that turns.
KERNELS = {
    "gradient": (gradient_fractal, gradient_flow),
    "simplex": (simplex_fractal, simplex_flow),
    "value": (value_fractal, value_flow),
}
CELLULAR = {"cellular": "first", "cellular_second": "second", "cellular_between": "between"}
# Independent patterns of one seed; the components of vectors made of three scalars.
COMPONENTS = 4


def _ones(value: float) -> np.ndarray:
    return np.array([value], np.float32)


@dataclass
class Pattern:
    """What a fractal pattern is made of; arrays have length 1 or one entry for each point.

    noise : a key of KERNELS or of CELLULAR
    fold : how octaves are folded before they are summed, one of FOLDS
    size : metres for one cell of the first octave
    phase : share of a whole wrap that the pattern has travelled, in cycles
    period : cells of the first octave after which the pattern repeats along ``axis``
    evolve : cycles, or None where the pattern does not evolve
    octaves : a fraction fades the last octave in
    stretch, turn, shift : (3,) of the whole pattern: ×, °, m
    component : another whole number is an independent pattern of the same seed

    Values for each point cost nothing more for size, phase and evolve; for octaves, gain,
    lacunarity and period the points are grouped by value.
    """

    noise: str = "gradient"
    fold: str = "sum"
    size: np.ndarray = field(default_factory=lambda: _ones(1.0))
    phase: np.ndarray = field(default_factory=lambda: _ones(0.0))
    period: np.ndarray = field(default_factory=lambda: _ones(64.0))
    evolve: np.ndarray | None = None
    octaves: np.ndarray = field(default_factory=lambda: _ones(4.0))
    gain: np.ndarray = field(default_factory=lambda: _ones(0.5))
    lacunarity: np.ndarray = field(default_factory=lambda: _ones(2.0))
    stretch: np.ndarray = field(default_factory=lambda: np.ones(3))
    turn: np.ndarray = field(default_factory=lambda: np.zeros(3))
    shift: np.ndarray = field(default_factory=lambda: np.zeros(3))
    axis: str = "y"
    seed: int = 0
    component: int = 0


@lru_cache(maxsize=1024)
def _lattices(seed: int, octaves: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Hash seed, (octaves,) uint32, offset, (octaves, 3) float32, and sway, (octaves, 6) float32,
    of each octave's lattice."""
    seeds = np.array([octave_seed(seed * 2, o) for o in range(octaves)], np.uint32)
    offsets, sways = (
        np.stack([of(seed * 2, o) for o in range(octaves)]) for of in (octave_offset, octave_sway)
    )
    return seeds, offsets, sways


@lru_cache(maxsize=1024)
def _octave_table(octaves: float, gain: float, lacunarity: float, period: float) -> np.ndarray:
    """Frequency, whole period in cells, and share of the sum for each octave; (3, O) float32.

    The frequency is the nearest at which the period has a whole number of cells: the pattern
    repeats exactly after its period, also where the lacunarity is a fraction.
    """
    order = np.arange(int(np.clip(np.ceil(octaves), 1, MAX_OCTAVES)))
    share = np.clip(octaves - order, 0.0, 1.0) * gain**order
    span = np.maximum(np.round(period * lacunarity**order), 1.0)
    return np.stack([span / period, span, share / max(share.sum(), 1e-6)]).astype(np.float32)


@lru_cache(maxsize=256)
def _transform(
    axis: str,
    stretch: tuple[float, ...],
    turn: tuple[float, ...],
    shift: tuple[float, ...],
    place: bytes | None,
) -> tuple[np.ndarray, np.ndarray]:
    """(3, 4) float32 from points to unscaled cells, the axis that wraps first; and (3, 3) back
    for flows.

    A flow v of the pattern becomes det(M)^⅓ M⁻¹ v, which keeps it free of sources under any
    linear map M, and keeps its speed where the map only turns.
    """
    matrix = np.eye(4) if place is None else np.frombuffer(place).reshape(4, 4)
    linear = rotation(np.array(turn)).T @ matrix[:3, :3]
    moved = rotation(np.array(turn)).T @ (matrix[:3, 3] - np.array(shift))
    order = list(AXIS_ORDER[axis])
    scale = np.array(stretch)[order, None]
    rows = np.concatenate([linear[order], moved[order, None]], axis=1) / scale
    size = np.cbrt(np.linalg.det(rows[:, :3]))
    back = np.linalg.pinv(rows[:, :3]) * size
    return np.ascontiguousarray(rows, np.float32), np.ascontiguousarray(back, np.float32)


def _frame(pattern: Pattern, transform: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    place = None if transform is None else np.asarray(transform, np.float64).tobytes()
    parts = (pattern.stretch, pattern.turn, pattern.shift)
    return _transform(pattern.axis, *(tuple(np.asarray(p, float).tolist()) for p in parts), place)


def _of_each(pattern: Pattern) -> list[np.ndarray]:
    """One over size and phase, (1 or P,), and cosine and sine of the angle by which the pattern
    has turned, (1 or P, 2), or (0, 2) where it has not; float32."""
    # In float64 before the kernel: a phase of exactly one cycle becomes exactly zero.
    phase = np.asarray(pattern.phase, np.float64)
    theta = np.zeros(1) if pattern.evolve is None else np.asarray(pattern.evolve, np.float64)
    theta = 2 * np.pi * (theta - np.floor(theta))
    angle = np.stack([np.cos(theta), np.sin(theta)], axis=1) if np.any(theta) else np.empty((0, 2))
    each = [1.0 / np.asarray(pattern.size, np.float64), phase - np.floor(phase), angle]
    return [np.ascontiguousarray(v, np.float32) for v in each]


Run = Callable[[np.ndarray, Sequence[np.ndarray], np.ndarray], None]


def _in_groups(
    points: np.ndarray, pattern: Pattern, run: Run, seed: int, out: np.ndarray
) -> np.ndarray:
    """Call ``run(points, arguments, out)`` for all points whose octaves are built alike; the
    arguments are the values of each point, the octave table, the seeds and the offsets."""
    each = _of_each(pattern)

    def one(
        chosen: np.ndarray,
        values: Sequence[np.ndarray],
        shape: Sequence[float],
        into: np.ndarray,
    ) -> None:
        table = _octave_table(*shape)
        run(chosen, [*values, table, *_lattices(seed, table.shape[1])], into)

    built = (pattern.octaves, pattern.gain, pattern.lacunarity, pattern.period)
    if all(len(v) == 1 for v in built):
        one(points, each, [float(v[0]) for v in built], out)
        return out
    # Points whose octaves are built differently are done in groups that share one table.
    table = np.stack(np.broadcast_arrays(*built), axis=1)
    groups, member = np.unique(table, axis=0, return_inverse=True)
    for index, group in enumerate(groups):
        where = np.flatnonzero(member.ravel() == index)
        into = np.empty((len(where), *out.shape[1:]), np.float32)
        values = [v if len(v) < 2 else v[where] for v in each]
        one(points[where], values, group.tolist(), into)
        out[where] = into
    return out


def _still_or_turned(
    still: Kernel, turned: Kernel, arguments: Sequence[np.ndarray], *first: np.ndarray
) -> Callable[..., None]:
    """The kernel for a pattern, with all arguments but the last ones; it turns where it has an
    angle."""
    size, phase, angle, *rest, _ = arguments
    if len(angle):
        return partial(turned, *first, *arguments)
    return partial(still, *first, size, phase, *rest)


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
    rows, _ = _frame(pattern, transform)
    fold = FOLDS.index(pattern.fold)

    def run(chosen: np.ndarray, arguments: Sequence[np.ndarray], into: np.ndarray) -> None:
        if pattern.noise in CELLULAR:
            measure = MEASURES.index(CELLULAR[pattern.noise])
            cellular_fractal(chosen, rows, *arguments, fold, measure, into)
        else:
            _still_or_turned(*KERNELS[pattern.noise], arguments, chosen, rows)(fold, into)

    result = np.empty(len(points), np.float32) if out is None else out
    return _in_groups(points, pattern, run, pattern.seed * COMPONENTS + pattern.component, result)


def vector_fractal_of(
    points: np.ndarray, pattern: Pattern, transform: np.ndarray | None = None
) -> np.ndarray:
    """Three independent patterns at once, (P, 3) float32, each about -1 to 1."""
    result = np.empty((len(points), 3), np.float32)
    if pattern.noise != "gradient":
        for component in range(3):
            one = replace(pattern, component=component)
            result[:, component] = fractal(points, one, transform)
        return result
    rows, _ = _frame(pattern, transform)
    fold = FOLDS.index(pattern.fold)

    def run(chosen: np.ndarray, arguments: Sequence[np.ndarray], into: np.ndarray) -> None:
        _still_or_turned(vector_fractal, vector_flow, arguments, chosen, rows)(fold, into)

    return _in_groups(points, pattern, run, pattern.seed * COMPONENTS, result)


def curl(points: np.ndarray, pattern: Pattern, transform: np.ndarray | None = None) -> np.ndarray:
    """Curl noise, (P, 3) float32, of length 1 where it is fastest; octaves are not folded.

    Free of sources where size, octaves, gain, lacunarity and period are the same everywhere.
    """
    rows, back = _frame(pattern, transform)
    result = np.empty((len(points), 3), np.float32)

    def run(chosen: np.ndarray, arguments: Sequence[np.ndarray], into: np.ndarray) -> None:
        _still_or_turned(curl_fractal, curl_flow, arguments, chosen, rows, back)(into)

    return _in_groups(points, pattern, run, pattern.seed * COMPONENTS, result)
