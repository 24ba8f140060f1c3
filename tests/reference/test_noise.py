"""Noise against published values and an independent implementation."""

import noise as published
import numpy as np
import pytest
from numba import float32, int32, njit, uint32

from zygomorph.core.kernels.compiled import inline
from zygomorph.core.kernels.noise.fractal import Pattern, fractal
from zygomorph.core.kernels.noise.gradient import make_gradient_noise
from zygomorph.core.kernels.noise.lattice import floor_to_int

# The permutation of K. Perlin, "Improving Noise", SIGGRAPH 2002, as the reference package ships it.
_TABLE = """
151 160 137 91 90 15 131 13 201 95 96 53 194 233 7 225 140 36 103 30 69 142 8 99 37 240 21 10 23
190 6 148 247 120 234 75 0 26 197 62 94 252 219 203 117 35 11 32 57 177 33 88 237 149 56 87 174
20 125 136 171 168 68 175 74 165 71 134 139 48 27 166 77 146 158 231 83 111 229 122 60 211 133
230 220 105 92 41 55 46 245 40 244 102 143 54 65 25 63 161 1 216 80 73 209 76 132 187 208 89 18
169 200 196 135 130 116 188 159 86 164 100 109 198 173 186 3 64 52 217 226 250 124 123 5 202 38
147 118 126 255 82 85 212 207 206 59 227 47 16 58 17 182 189 28 42 223 183 170 213 119 248 152 2
44 154 163 70 221 153 101 155 167 43 172 9 129 22 39 253 19 98 108 110 79 113 224 232 178 185
112 104 218 246 97 228 251 34 242 193 238 210 144 12 191 179 162 241 81 51 145 235 249 14 239
107 49 192 214 31 181 199 106 157 184 84 204 176 115 121 50 45 127 4 150 254 138 236 205 93 222
114 67 29 24 72 243 141 128 195 78 66 215 61 156 180
"""
PERMUTATION = np.array([int(entry) for entry in _TABLE.split()], np.uint32)


@inline
def table_hash(x, y, z, seed):
    a = uint32(PERMUTATION[uint32(x) & uint32(255)] + uint32(y))
    b = uint32(PERMUTATION[a & uint32(255)] + uint32(z))
    return uint32(PERMUTATION[b & uint32(255)] << uint32(28))


_with_table = make_gradient_noise(table_hash)


@njit
def improved_noise(points):
    out = np.empty(len(points), np.float32)
    one = int32(1)
    for i in range(len(points)):
        x, y, z = float32(points[i, 0]), float32(points[i, 1]), float32(points[i, 2])
        ix, iy, iz = floor_to_int(x), floor_to_int(y), floor_to_int(z)
        out[i] = _with_table(
            ix, iy, iz, ix + one, iy + one, iz + one,
            x - float32(ix), y - float32(iy), z - float32(iz), uint32(0),
        )  # fmt: skip
    return out


def test_published_value_of_improved_noise():
    # K. Perlin, "Improving Noise", SIGGRAPH 2002: noise(3.14, 42, 7).
    assert improved_noise(np.array([[3.14, 42.0, 7.0]]))[0] == pytest.approx(
        0.13691995878, abs=2e-6
    )


def _corner_hashes(points):
    """(n, 8) the four bits of the hash that choose the gradient at each corner of the cell."""
    cell = np.floor(points).astype(np.int64)
    found = []
    for corner in np.ndindex(2, 2, 2):
        x, y, z = ((cell + corner) & 255).T
        a = (PERMUTATION[x] + y) & 255
        found.append(PERMUTATION[(PERMUTATION[a] + z) & 255] & 15)
    return np.stack(found, axis=1)


def test_agrees_with_the_package_noise_at_random_points():
    # The package `noise` (pnoise3) on PyPI is an independent implementation. Its four extra
    # gradients (hashes 12 to 15) are others than in Perlin's paper, so cells with one of these
    # at a corner are left out; about one cell in ten is without.
    points = np.random.default_rng(3).uniform(0.0, 100.0, (40_000, 3)).astype(np.float32)
    points = points[(_corner_hashes(points) < 12).all(axis=1)]
    assert len(points) > 3000
    theirs = [published.pnoise3(float(x), float(y), float(z)) for x, y, z in points]
    assert np.allclose(improved_noise(points), theirs, atol=2e-4)


@pytest.fixture(scope="module")
def points():
    return np.random.default_rng(5).uniform(-4, 4, (20_000, 3)).astype(np.float32)


def test_another_seed_is_another_pattern_and_no_shifted_copy(points):
    one = fractal(points, Pattern(seed=1, octaves=np.ones(1)))
    for shift in range(-3, 4):
        moved = points + np.float32([shift, 0, 0])
        other = fractal(moved, Pattern(seed=2, octaves=np.ones(1)))
        assert abs(np.corrcoef(one, other)[0, 1]) < 0.1


def test_the_origin_is_not_special():
    # Gradient noise is zero at its lattice points; octaves without offsets would all be zero here.
    at_origin = np.zeros((1, 3), np.float32)
    values = [fractal(at_origin, Pattern(seed=s))[0] for s in range(200)]
    spread = fractal(
        np.random.default_rng(1).uniform(-9, 9, (200, 3)).astype(np.float32), Pattern()
    ).std()
    assert np.std(values) > 0.6 * spread


def test_rise_returns_exactly_after_whole_cycles(points):
    for lacunarity in (2.0, 1.87):
        rest = Pattern(lacunarity=np.array([lacunarity]), phase=np.zeros(1))
        round_ = Pattern(lacunarity=np.array([lacunarity]), phase=np.array([1.0]))
        assert np.array_equal(fractal(points, rest), fractal(points, round_))


def test_rise_moves_the_pattern_along_its_axis(points):
    # Half a cycle of a period of 8 sizes of 0.5 m is 2 m.
    size, period = np.array([0.5]), np.array([8.0])
    still = Pattern(size=size, period=period, axis="y")
    moved = Pattern(size=size, period=period, axis="y", phase=np.array([0.5]))
    back = points - np.float32([0, 2.0, 0])
    assert np.allclose(fractal(points, moved), fractal(back, still), atol=2e-5)


def test_the_lattice_wraps_after_its_period(points):
    pattern = Pattern(period=np.array([8.0]), axis="x")
    assert np.allclose(
        fractal(points, pattern), fractal(points + np.float32([8, 0, 0]), pattern), atol=2e-5
    )


def test_evolve_keeps_its_variance_along_the_loop(points):
    # For independent fields of equal variance, cos² + sin² = 1 (derived).
    spread = [fractal(points, Pattern(evolve=np.array([t]))).std() for t in np.linspace(0, 1, 9)]
    assert max(spread) / min(spread) < 1.06
    assert spread[0] == spread[-1]


def test_values_for_each_point_agree_with_one_value(points):
    names = ("size", "phase", "octaves", "gain", "lacunarity", "period", "evolve")
    values = {"size": 0.7, "phase": 0.3, "octaves": 2.5, "gain": 0.4, "lacunarity": 2.2,
              "period": 6.0, "evolve": 0.2}  # fmt: skip
    one = fractal(points, Pattern(**{n: np.array([values[n]]) for n in names}))
    each = fractal(points, Pattern(**{n: np.full(len(points), values[n]) for n in names}))
    assert np.array_equal(one, each)


def test_values_that_differ_by_point_are_read_at_their_point(points):
    half = len(points) // 2
    sizes = np.where(np.arange(len(points)) < half, 0.5, 2.0)
    counts = np.where(np.arange(len(points)) < half, 1.0, 3.0)
    mixed = fractal(points, Pattern(size=sizes, octaves=counts))
    first = fractal(points[:half].copy(), Pattern(size=np.array([0.5]), octaves=np.ones(1)))
    second = fractal(points[half:].copy(), Pattern(size=np.array([2.0]), octaves=np.full(1, 3.0)))
    assert np.allclose(mixed, np.concatenate([first, second]), atol=1e-6)


def test_an_octave_fades_in(points):
    two, three = (fractal(points, Pattern(octaves=np.array([n]))) for n in (2.0, 3.0))
    nearly = fractal(points, Pattern(octaves=np.array([2.0001])))
    assert np.abs(nearly - two).max() < 1e-3 < np.abs(three - two).max()


def test_ridged_noise_has_crests_and_keeps_its_range(points):
    values = fractal(points, Pattern(fold="ridged"))
    assert values.min() >= -1.2
    assert 0.8 < values.max() <= 1.0
