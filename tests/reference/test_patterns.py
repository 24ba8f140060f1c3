"""Statistics and symmetries of the noise patterns, beyond the published values."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zygomorph.core.kernels.noise.fractal import Pattern, fractal
from zygomorph.core.kernels.noise.lattice import octave_offset, octave_seed

RANDOM = np.random.default_rng(7)
POINTS = (RANDOM.random((60_000, 3)) * 40 - 20).astype(np.float32)


def one(value):
    return np.array([value], np.float64)


def pattern(**values):
    shaped = {
        k: one(v) if isinstance(v, (int, float)) and k not in ("seed", "axis") else v
        for k, v in values.items()
    }
    return Pattern(**shaped)


def test_gradient_noise_is_even_about_zero():
    found = fractal(POINTS, pattern(octaves=1))
    # Symmetry of the 12 edge gradients: the mean is zero and the distribution has no skew.
    assert abs(found.mean()) < 0.01
    spread = found.std()
    assert abs(((found / spread) ** 3).mean()) < 0.1


@pytest.mark.parametrize("octaves", [1, 2, 4, 8])
def test_a_sum_of_octaves_stays_within_minus_one_and_one(octaves):
    found = fractal(POINTS, pattern(octaves=octaves))
    assert np.abs(found).max() <= 1.0
    assert found.std() > 0.1


def test_ridged_noise_stays_within_minus_one_and_one():
    found = fractal(POINTS, pattern(octaves=3, fold="ridged"))
    assert found.min() >= -1
    assert found.max() <= 1
    assert found.max() > 0.9


@given(st.integers(0, 10_000), st.integers(0, 10_000))
def test_seeds_are_patterns_that_have_nothing_to_do_with_each_other(a, b):
    one_, other = (fractal(POINTS[:20_000], pattern(octaves=1, seed=s)) for s in (a, b))
    correlation = np.corrcoef(one_, other)[0, 1]
    assert correlation == pytest.approx(1.0) if a == b else abs(correlation) < 0.06


def test_octaves_have_seeds_and_offsets_of_their_own():
    seeds = {octave_seed(s, o) for s in range(200) for o in range(12)}
    assert len(seeds) == 200 * 12
    offsets = np.stack([octave_offset(s, o) for s in range(50) for o in range(12)])
    assert (offsets >= 0).all()
    assert (offsets < 1).all()
    assert len(np.unique(offsets, axis=0)) == len(offsets)
    assert np.allclose(offsets.mean(axis=0), 0.5, atol=0.05)


@given(st.floats(0.05, 5))
def test_size_scales_the_pattern(size):
    places = POINTS[:500]
    scaled = fractal((places * np.float32(size)).astype(np.float32), pattern(size=size, octaves=2))
    assert np.allclose(scaled, fractal(places, pattern(octaves=2)), atol=2e-3)


def test_stretch_makes_swells_longer_along_its_axis():
    step = np.float32(0.15)

    def roughness(axis):
        moved = POINTS.copy()
        moved[:, axis] += step
        stretched = pattern(octaves=1, stretch=np.array([4.0, 1.0, 1.0]))
        return np.abs(fractal(moved, stretched) - fractal(POINTS, stretched)).mean()

    assert roughness(0) < 0.4 * roughness(1)
    # Not quite equal: Perlin fills his 16 entries with four of the 12 edges a second time.
    assert roughness(1) == pytest.approx(roughness(2), rel=0.1)


def test_the_pattern_is_continuous_and_smooth_across_cells():
    # Across a lattice plane the value and its slope go on (Perlin's quintic fade, 2002).
    line = np.zeros((4001, 3), np.float32)
    line[:, 0] = np.linspace(0, 4, 4001)
    line[:, 1:] = [0.37, 0.81]
    found = fractal(line, pattern(octaves=1)).astype(float)
    slope = np.diff(found) * 1000
    assert np.abs(np.diff(found)).max() < 0.004
    assert np.abs(np.diff(slope)).max() < 0.08


def test_lacunarity_is_the_ratio_of_the_octaves_frequencies():
    # Many lines: one line's spectrum depends on how near to the lattice it runs.
    lines = np.zeros((32, 4096, 3), np.float32)
    lines[..., 0] = np.arange(4096) * (32 / 4096)
    lines[..., 1:] = np.random.default_rng(1).random((32, 1, 2)) * 50

    def centre(lacunarity):
        # Two octaves of which the second has nearly all.
        made = pattern(octaves=2, gain=50.0, lacunarity=lacunarity)
        waves = fractal(lines.reshape(-1, 3), made).reshape(32, 4096)
        power = (np.abs(np.fft.rfft(waves, axis=1)) ** 2).sum(axis=0)
        return (power * np.arange(len(power))).sum() / power.sum()

    assert centre(4.0) / centre(2.0) == pytest.approx(2.0, rel=0.08)


@pytest.mark.parametrize("axis", ["x", "y", "z"])
@pytest.mark.parametrize("octaves", [1, 3])
def test_a_whole_cycle_of_travel_returns_and_a_part_does_not(axis, octaves):
    def at(phase):
        return fractal(POINTS[:5000], pattern(octaves=octaves, phase=phase, axis=axis, period=8))

    assert np.array_equal(at(0.0), at(1.0))
    assert np.array_equal(at(0.25), at(-0.75))
    assert not np.allclose(at(0.0), at(0.5), atol=0.05)


@given(st.floats(0, 1))
def test_evolving_a_whole_cycle_returns(theta):
    def at(cycles):
        return fractal(POINTS[:300], pattern(octaves=2, evolve=cycles))

    assert np.allclose(at(theta), at(theta + 1.0), atol=1e-5)


@pytest.mark.parametrize("count", [0, 1, 1023, 1024, 1025, 9000])
def test_any_number_of_points(count):
    found = fractal(POINTS[:count], pattern())
    assert found.shape == (count,)
    assert np.allclose(found, fractal(POINTS, pattern())[:count], atol=1e-6)


@pytest.mark.parametrize("far", [1e3, 1e5, 1e7])
def test_far_from_the_origin_it_stays_finite(far):
    assert np.isfinite(fractal(POINTS[:1000] + np.float32(far), pattern(octaves=8))).all()
