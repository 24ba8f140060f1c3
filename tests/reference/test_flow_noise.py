"""Noise that evolves: K. Perlin & F. Neyret, "Flow Noise", SIGGRAPH 2001 (technical sketches)."""

from itertools import combinations

import numpy as np
import pytest
from numba import njit

from zygomorph.core.kernels.noise.fractal import (
    CELLULAR,
    KERNELS,
    Pattern,
    curl,
    fractal,
    vector_fractal_of,
)
from zygomorph.core.kernels.noise.turning import turned_height

WHERE = np.random.default_rng(8).uniform(-9, 9, (20_000, 3)).astype(np.float32)
MOMENTS = np.arange(16) / 16
ONE = np.ones(1)
KINDS = [*KERNELS, *CELLULAR]


def _loop(noise: str, fold: str = "sum", octaves: float = 2.0) -> np.ndarray:
    """(16, P) the pattern at moments round its loop."""
    return np.stack(
        [
            fractal(WHERE, Pattern(noise=noise, fold=fold, octaves=ONE * octaves, evolve=ONE * t))
            for t in MOMENTS
        ]
    )


def _apart(loop: np.ndarray) -> np.ndarray:
    """Correlations of all pairs of moments at least an eighth of the loop apart."""
    together = np.corrcoef(loop)
    pairs = [(a, b) for a, b in combinations(range(16), 2) if 2 <= b - a <= 14]
    return np.array([together[pair] for pair in pairs])


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("fold", ["sum", "billowed", "ridged"])
def test_no_two_moments_of_the_loop_are_alike(kind, fold):
    # A loop whose second half is its first one again, or its negative, is half a loop. The bound
    # of the theory is 0.19 (see turning.py); independent fields show 0.02 at these points.
    assert np.abs(_apart(_loop(kind, fold))).max() < 0.25


def test_the_middle_of_the_loop_is_not_the_negative_of_its_beginning():
    loop = _loop("gradient")
    assert abs(np.corrcoef(loop[0], loop[8])[0, 1]) < 0.25


@pytest.mark.parametrize("kind", KINDS)
def test_its_variance_is_the_same_at_every_moment(kind):
    spread = _loop(kind).std(axis=1)
    assert spread.max() / spread.min() < 1.06


@pytest.mark.parametrize("kind", KINDS)
def test_it_begins_and_ends_as_the_noise_that_stands_still(kind):
    still = fractal(WHERE, Pattern(noise=kind))
    assert np.array_equal(fractal(WHERE, Pattern(noise=kind, evolve=ONE)), still)
    for near in (1e-6, 1 - 1e-6):
        assert np.allclose(fractal(WHERE, Pattern(noise=kind, evolve=ONE * near)), still, atol=1e-4)


@pytest.mark.parametrize("kind", KINDS)
def test_it_stays_in_the_range_of_still_noise(kind):
    loop = _loop(kind, octaves=1.0)
    assert np.abs(loop).max() <= 1.15


@pytest.mark.parametrize("of", [vector_fractal_of, curl])
def test_vectors_and_flows_turn_too(of):
    loop = np.stack([of(WHERE, Pattern(octaves=ONE, evolve=ONE * t)).ravel() for t in MOMENTS])
    assert np.abs(_apart(loop)).max() < 0.25
    assert loop.std(axis=1).max() / loop.std(axis=1).min() < 1.05
    near = of(WHERE, Pattern(octaves=ONE, evolve=ONE * 1e-6)).ravel()
    assert np.allclose(near, loop[0], atol=1e-4)


def test_components_of_a_vector_turn_on_their_own():
    turned = vector_fractal_of(WHERE, Pattern(octaves=ONE, evolve=ONE * 0.3))
    assert np.abs(np.corrcoef(turned.T) - np.eye(3)).max() < 0.06


def test_a_turned_flow_has_no_sources():
    # Bridson et al., SIGGRAPH 2007, at a moment within the loop.
    pattern, step = Pattern(octaves=ONE, evolve=ONE * 0.3), np.float32(0.01)
    slopes = np.empty((3, len(WHERE)))
    for axis in range(3):
        shift = np.zeros(3, np.float32)
        shift[axis] = step
        ahead, behind = (curl(WHERE + sign * shift, pattern)[:, axis] for sign in (1, -1))
        slopes[axis] = (ahead.astype(float) - behind) / (2 * float(step))
    assert np.abs(slopes.sum(axis=0)).mean() < 0.02 * np.abs(slopes).mean()


def test_a_fractional_lacunarity_repeats_after_the_period_too():
    # "Repeats after": 6 sizes along the axis, with octaves that are 1.87 times as fine.
    pattern = Pattern(lacunarity=ONE * 1.87, period=ONE * 6, axis="x")
    further = fractal(WHERE + np.float32([6, 0, 0]), pattern)
    assert np.abs(further - fractal(WHERE, pattern)).max() < 1e-3


@njit
def _heights(turn, heights, bits, out):
    for k in range(len(out)):
        out[k] = turned_height(heights[k], bits[k], turn)


@pytest.mark.parametrize("share", [0.05, 0.125, 0.21, 0.4, 0.5, 0.77])
def test_heights_of_value_noise_are_spread_evenly_at_every_moment(share):
    # Archimedes: the coordinates of a sphere's points are even, and so they stay as it turns.
    random = np.random.default_rng(3)
    heights = random.uniform(-1, 1, 200_000).astype(np.float32)
    bits = random.integers(0, 2**32, heights.size, dtype=np.uint32)
    angles = 2 * np.pi * share * np.repeat([1, 2, 3], 2)
    sides = np.tile([np.cos, np.sin], 3)
    turn = tuple(np.float32(side(angle)) for side, angle in zip(sides, angles, strict=True))
    out = np.empty_like(heights)
    _heights(turn, heights, bits, out)
    assert np.abs(out).max() <= 1 + 1e-6
    # Eight points of each circle stand for all of them: the shape is even within 3 % of all heights.
    assert np.abs(np.sort(out) - np.linspace(-1, 1, out.size)).max() / 2 < 0.03
    for power in range(1, 8):
        even = 0.0 if power % 2 else 1 / (power + 1)
        assert np.mean(out.astype(float) ** power) == pytest.approx(even, abs=0.005)
