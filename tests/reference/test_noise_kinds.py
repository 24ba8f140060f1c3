"""Simplex, value, cellular, vector and curl noise against publications and reference packages."""

import numpy as np
import opensimplex
import pytest
from numba import int32, njit, uint32
from scipy.spatial import cKDTree

from zygomorph.core.kernels.noise.cellular_fractal import (
    BETWEEN_REACH,
    FIRST_REACH,
    SECOND_REACH,
    part,
)
from zygomorph.core.kernels.noise.curl_fractal import SCALE
from zygomorph.core.kernels.noise.fractal import (
    CELLULAR,
    COMPONENTS,
    KERNELS,
    Pattern,
    _lattices,
    curl,
    fractal,
    vector_fractal_of,
)
from zygomorph.core.kernels.noise.gradient import three_edge_gradients
from zygomorph.core.kernels.noise.lattice import cell_hash, mixed

RANDOM = np.random.default_rng(11)
POINTS = RANDOM.uniform(-6, 6, (40_000, 3)).astype(np.float32)
KINDS = [*KERNELS, *CELLULAR]
ONE = np.ones(1)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("fold", ["sum", "ridged", "billowed", "turbulence"])
def test_every_kind_stays_in_its_range_and_fills_it(kind, fold):
    found = fractal(POINTS, Pattern(noise=kind, fold=fold, octaves=ONE))
    low = 0.0 if fold == "turbulence" else -1.0
    assert found.min() >= low - 1e-5
    assert found.max() <= 1 + 1e-5
    assert np.ptp(found) > 0.75 * (1 - low)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_returns_after_a_cycle_and_wraps(kind):
    # A lattice that wraps after 4 cells, seen 4 cells further on (derived).
    rest = Pattern(noise=kind, period=np.array([4.0]), axis="x", octaves=np.array([3.0]))
    further = fractal(POINTS + np.float32([4, 0, 0]), rest)
    assert np.abs(further - fractal(POINTS, rest)).max() < 2e-3
    for name in ("phase", "evolve"):
        begin, end = (
            fractal(POINTS, Pattern(**{**vars(rest), name: np.array([turn])})) for turn in (0.0, 1)
        )
        assert np.array_equal(begin, end)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_is_continuous(kind):
    # No jump: the slope of one octave is bounded, also across the borders of cells.
    line = np.zeros((60_000, 3), np.float32)
    line[:, 0] = np.linspace(-3, 3, len(line))
    line[:, 1] = 0.37
    for evolve in (0.0, 0.3):
        pattern = Pattern(noise=kind, octaves=ONE, evolve=np.array([evolve]))
        assert np.abs(np.diff(fractal(line, pattern))).max() < 10 * 6 / len(line)


@pytest.mark.parametrize("kind", ["gradient", "simplex", "value"])
def test_a_seed_is_no_shifted_copy(kind):
    one = fractal(POINTS, Pattern(noise=kind, octaves=ONE, seed=1))
    for shift in range(-2, 3):
        other = fractal(
            POINTS + np.float32([shift, 0, 0]), Pattern(noise=kind, octaves=ONE, seed=2)
        )
        assert abs(np.corrcoef(one, other)[0, 1]) < 0.1


def _spectrum(values: np.ndarray) -> np.ndarray:
    """Mean power of rows, as shares of the whole."""
    power = np.abs(np.fft.rfft(values * np.hanning(values.shape[1]), axis=1)) ** 2
    mean = power.mean(axis=0)
    return mean / mean.sum()


@pytest.mark.thorough
def test_simplex_noise_is_like_that_of_the_package_opensimplex():
    # The package `opensimplex` on PyPI: statistics only, since lattice and gradients differ.
    opensimplex.seed(4)
    along = np.linspace(0, 40, 512)
    rows = RANDOM.uniform(-90, 90, (60, 2))
    theirs = np.stack(
        [opensimplex.noise3array(along, rows[k, :1], rows[k, 1:]).ravel() for k in range(60)]
    )
    grid = np.stack(
        [np.tile(along, (60, 1)), *(np.repeat(rows[:, k : k + 1], 512, axis=1) for k in (0, 1))], 2
    )
    own = fractal(grid.reshape(-1, 3).astype(np.float32), Pattern(noise="simplex", octaves=ONE))
    own = own.reshape(60, 512)
    assert abs(own.mean()) < 0.03
    assert own.std() == pytest.approx(theirs.std(), rel=0.35)
    frequencies = np.fft.rfftfreq(512, along[1])
    centres = [(_spectrum(v) * frequencies).sum() for v in (own, theirs)]
    # Band-limited alike: the middle of the spectrum lies within an octave of theirs.
    assert 0.5 < centres[0] / centres[1] < 2.0


def _feature_points(low: int, high: int, pattern: Pattern) -> np.ndarray:
    """The random point of each cell, in cells, found by the same hash."""
    seeds, offsets, _ = _lattices(pattern.seed * COMPONENTS, 1)
    cells = np.stack(np.meshgrid(*[np.arange(low, high)] * 3, indexing="ij"), -1).reshape(-1, 3)

    @njit
    def hashes(cells, seed):
        out = np.empty((len(cells), 3), np.float32)
        for i in range(len(cells)):
            x, y, z = int32(cells[i, 0]), int32(cells[i, 1]), int32(cells[i, 2])
            h = mixed(cell_hash(x, y, z, uint32(seed)))
            out[i, 0], out[i, 1], out[i, 2] = part(h, 22), part(h, 12), part(h, 2)
        return out

    return cells + 0.5 + 0.5 * hashes(cells, seeds[0]) - offsets[0]


def test_cellular_distances_agree_with_a_search_tree():
    # S. Worley, SIGGRAPH 1996: F1 and F2 are the distances to the nearest and the second nearest
    # point; scipy's cKDTree finds them on the same points, also where they are far.
    where = RANDOM.uniform(3, 9, (20_000, 3)).astype(np.float32)
    pattern = Pattern(octaves=ONE, axis="x")
    distances, _ = cKDTree(_feature_points(0, 13, pattern)).query(where, k=2)
    first, second = distances.T
    assert second.max() > 1.1
    for kind, expected in (
        ("cellular", first / FIRST_REACH),
        ("cellular_second", second / SECOND_REACH),
        ("cellular_between", (second - first) / BETWEEN_REACH),
    ):
        found = fractal(where, Pattern(noise=kind, octaves=ONE, axis="x"))
        assert np.allclose(found, 2 * expected - 1, atol=1e-4)


def test_vector_noise_has_three_independent_components_like_scalar_noise():
    found = vector_fractal_of(POINTS, Pattern())
    scalar = fractal(POINTS, Pattern())
    together = np.corrcoef(found.T)
    assert np.abs(together - np.eye(3)).max() < 0.06
    assert np.allclose(found.std(axis=0), scalar.std(), rtol=0.08)


@njit
def _three_gradients(hashes):
    """The gradients of the three components, as their products with the axes; (n, 3, 3)."""
    found = np.empty((hashes.shape[0], 3, 3), np.float32)
    zero, one = np.float32(0), np.float32(1)
    for i in range(hashes.shape[0]):
        for axis in range(3):
            x = one if axis == 0 else zero
            y = one if axis == 1 else zero
            z = one if axis == 2 else zero
            a, b, c = three_edge_gradients(hashes[i], x, y, z)
            found[i, 0, axis], found[i, 1, axis], found[i, 2, axis] = a, b, c
    return found


def test_each_component_of_vector_noise_has_the_twelve_edges_evenly():
    # Perlin 2002: the gradients are the twelve edges of a cube. 48,000 even draws of 12.
    hashes = np.random.default_rng(5).integers(0, 2**32, 48_000, np.uint32)
    gradients = _three_gradients(hashes)
    for component in range(3):
        edges, counts = np.unique(gradients[:, component], axis=0, return_counts=True)
        assert len(edges) == 12
        assert (np.sort(np.abs(edges), axis=1) == [0, 1, 1]).all()
        # Five standard deviations of a binomial draw.
        assert np.abs(counts - 4000).max() < 5 * np.sqrt(48_000 * (1 / 12) * (11 / 12))
    # No component tells of another: E[g_a g_b'] = 0, and E[g_a g_a'] = 2/3 for every axis.
    for a, b in ((0, 0), (0, 1), (1, 2), (2, 0)):
        moments = np.einsum("ni,nj->ij", gradients[:, a], gradients[:, b]) / len(hashes)
        assert np.allclose(moments, np.eye(3) * (2 / 3 if a == b else 0), atol=0.025)


def test_vector_noise_is_zero_at_the_lattice_and_smooth_across_cells():
    # Gradient noise vanishes where its lattice points are (Perlin 1985); the offset of the
    # first octave says where that is.
    pattern = Pattern(octaves=ONE, axis="x")
    cells = np.random.default_rng(7).integers(-20, 20, (500, 3))
    there = (cells - _lattices(0, 1)[1][0]).astype(np.float32)
    assert np.abs(vector_fractal_of(there, pattern)).max() < 1e-4
    step = np.float32([1e-3, 0, 0])
    ahead, behind = (
        vector_fractal_of(there + step, pattern),
        vector_fractal_of(there - step, pattern),
    )
    # On both sides of the cell's wall it has the same slope.
    assert np.allclose(ahead, -behind, atol=1e-5)


@pytest.mark.parametrize("stretch", [(1, 1, 1), (1, 2.5, 0.6)])
def test_curl_noise_has_no_sources(stretch):
    # Bridson et al., SIGGRAPH 2007: the divergence is zero, up to the error of the difference.
    pattern = Pattern(
        octaves=np.array([2.0]), stretch=np.array(stretch), turn=np.array([20.0, 50.0, -10.0])
    )
    where = POINTS[:8000]
    step = np.float32(0.01)
    slopes = np.empty((3, 3, len(where)))
    for axis in range(3):
        shift = np.zeros(3, np.float32)
        shift[axis] = step
        ahead, behind = (curl(where + sign * shift, pattern) for sign in (1, -1))
        slopes[axis] = ((ahead.astype(float) - behind) / (2 * float(step))).T
    divergence = np.abs(slopes[0, 0] + slopes[1, 1] + slopes[2, 2])
    assert divergence.mean() < 0.01 * np.abs(slopes).mean()


def test_curl_noise_is_the_curl_of_the_vector_noise():
    # The definition, by central differences of the potential, which is the vector noise.
    pattern = Pattern(octaves=ONE, axis="x")
    where, step = POINTS[:4000], np.float32(0.01)
    slope = []
    for axis in range(3):
        shift = np.zeros(3, np.float32)
        shift[axis] = step
        ahead, behind = (vector_fractal_of(where + sign * shift, pattern) for sign in (1, -1))
        slope.append((ahead.astype(float) - behind) / (2 * float(step)))
    x, y, z = slope
    expected = np.stack([y[:, 2] - z[:, 1], z[:, 0] - x[:, 2], x[:, 1] - y[:, 0]], axis=1)
    assert np.allclose(curl(where, pattern), SCALE * expected, atol=5e-3)


def test_curl_noise_carries_no_further_than_its_amount():
    # "How far" is a most, which it comes near to: in a million places the fastest is all but 1.
    where = np.random.default_rng(2).uniform(-50, 50, (1_000_000, 3)).astype(np.float32)
    fastest = np.linalg.norm(curl(where, Pattern(octaves=ONE)), axis=1).max()
    assert 0.85 < fastest <= 1.0


def test_a_pattern_is_turned_shifted_and_stretched_as_a_whole():
    # A turned pattern is the pattern read at points turned back (derived); 90° about y.
    still = Pattern(octaves=ONE, axis="x")
    turned = fractal(POINTS, Pattern(octaves=ONE, axis="x", turn=np.array([0.0, 90.0, 0.0])))
    back = np.stack([-POINTS[:, 2], POINTS[:, 1], POINTS[:, 0]], axis=1)
    assert np.allclose(turned, fractal(np.ascontiguousarray(back), still), atol=1e-4)
    moved = fractal(POINTS, Pattern(octaves=ONE, axis="x", shift=np.array([0.5, 0, 0])))
    assert np.allclose(moved, fractal(POINTS - np.float32([0.5, 0, 0]), still), atol=1e-4)
    wide = fractal(POINTS, Pattern(octaves=ONE, axis="x", stretch=np.array([1.0, 2.0, 1.0])))
    assert np.allclose(wide, fractal(POINTS * np.float32([1, 0.5, 1]), still), atol=1e-4)
