"""The sea against the spectra that it is made of, and against linear wave theory."""

import numpy as np
import pytest
from wavespectra.construct.direction import cartwright
from wavespectra.construct.frequency import jonswap as reference_jonswap
from wavespectra.construct.frequency import pierson_moskowitz as reference_pierson_moskowitz
from wavespectra.construct.frequency import tma as reference_tma

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.grid_normals import grid_normals
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.sea.amplitudes import Weather, mean_squares, waves_of
from zygomorph.core.geometry.sea.dispersion import (
    GRAVITY,
    angular_frequency,
    group_velocity,
    wavenumber_of,
)
from zygomorph.core.geometry.sea.spectra import (
    jonswap,
    jonswap_peak,
    peak_length,
    pierson_moskowitz,
    shallow_share,
    swell,
    wind_waves,
)
from zygomorph.core.geometry.sea.spreading import spread_share
from zygomorph.core.geometry.sea.surface import crests, fields_at, jacobian, surface_of

FREQUENCY = np.geomspace(0.02, 100.0, 40_000)
WINDY = Weather("jonswap", wind=7.0, fetch=3000.0, depth=500.0, towards=0.4, spread=0.5)


def height_of(density, at):
    """The significant height 4 √m₀."""
    return 4 * np.sqrt(np.trapezoid(density, at))


def points_on(side, count):
    x = np.linspace(-side / 2, side / 2, count)
    points = np.zeros((count * count, 3), np.float32)
    points[:, 0], points[:, 2] = np.tile(x, count), np.repeat(x, count)
    return points


def surface(weather=WINDY, cells=64, tile=40.0, seed=1, moment=0.2, foam=False):
    waves = waves_of(weather, cells, tile, seed, 10.0, True)
    return waves, fields_at(waves, moment, foam)


def test_deep_water_disperses_as_the_root_of_gravity_and_wavenumber():
    # ω² = g k (H. Lamb, "Hydrodynamics", § 229); in shallow water all waves run at √(g d).
    k = np.array([0.5, 2.0, 9.0])
    assert angular_frequency(k, 1e4) ** 2 == pytest.approx(GRAVITY * k, rel=1e-12)
    assert angular_frequency(np.array([1e-3]), 0.5) / 1e-3 == pytest.approx(
        np.sqrt(GRAVITY * 0.5), rel=1e-6
    )
    assert wavenumber_of(float(angular_frequency(np.array([0.7]), 3.0)[0]), 3.0) == pytest.approx(
        0.7
    )


@pytest.mark.parametrize("depth", [0.3, 5.0, 500.0])
def test_the_group_velocity_is_the_derivative_of_the_frequency(depth):
    k, step = np.geomspace(0.05, 20, 30), 1e-5
    slope = (angular_frequency(k + step, depth) - angular_frequency(k - step, depth)) / (2 * step)
    assert group_velocity(k, depth) == pytest.approx(slope, rel=1e-6)


@pytest.mark.parametrize("wind", [5.0, 10.0, 20.0])
def test_the_height_of_a_full_sea_is_that_of_pierson_and_moskowitz(wind):
    # W. Pierson & L. Moskowitz 1964: Hs = 0.21 U² / g for the wind at 19.5 m (from memory); by
    # integration 2 √(α / β) U² / g.
    height = height_of(pierson_moskowitz(FREQUENCY, wind), FREQUENCY)
    assert height == pytest.approx(0.21 * wind**2 / GRAVITY, rel=0.01)
    assert height == pytest.approx(2 * np.sqrt(0.0081 / 0.74) * wind**2 / GRAVITY, rel=1e-3)


def test_pierson_and_moskowitz_against_wavespectra():
    # In Hz there, per radian a second here.
    hertz = np.linspace(0.03, 1.0, 400)
    own = 2 * np.pi * pierson_moskowitz(2 * np.pi * hertz, 12.0)
    height = height_of(own, hertz)
    peak = hertz[own.argmax()]
    fine = np.linspace(0.03, 1.0, 400_000)
    peak = fine[pierson_moskowitz(2 * np.pi * fine, 12.0).argmax()]
    theirs = reference_pierson_moskowitz(freq=hertz, hs=height, fp=peak).values
    assert own == pytest.approx(theirs, rel=0.02, abs=1e-3 * own.max())


@pytest.mark.parametrize(("wind", "fetch"), [(8.0, 2e4), (15.0, 3e5)])
def test_jonswap_against_wavespectra(wind, fetch):
    hertz = np.linspace(0.05, 1.5, 300)
    alpha = 0.076 * (wind**2 / (fetch * GRAVITY)) ** 0.22
    theirs = reference_jonswap(
        freq=hertz, fp=jonswap_peak(wind, fetch) / (2 * np.pi), alpha=alpha, gamma=3.3
    ).values
    own = 2 * np.pi * jonswap(2 * np.pi * hertz, wind, fetch)
    assert own == pytest.approx(theirs, rel=2e-3, abs=1e-6 * own.max())


@pytest.mark.parametrize("depth", [3.0, 12.0])
def test_shallow_water_against_wavespectra(depth):
    # E. Bouws et al. 1985, with Kitaigorodskii's share in full.
    hertz, wind, fetch = np.linspace(0.05, 1.0, 200), 12.0, 5e4
    alpha = 0.076 * (wind**2 / (fetch * GRAVITY)) ** 0.22
    theirs = reference_tma(
        freq=hertz, fp=jonswap_peak(wind, fetch) / (2 * np.pi), dep=depth, alpha=alpha, gamma=3.3
    ).values
    k = np.array([wavenumber_of(2 * np.pi * f, depth) for f in hertz])
    own = 2 * np.pi * jonswap(2 * np.pi * hertz, wind, fetch) * shallow_share(k, depth)
    assert own == pytest.approx(theirs, rel=0.02, abs=1e-3 * own.max())


def test_swell_has_its_height_and_period():
    density = swell(FREQUENCY, 1.7, 6.0)
    assert height_of(density, FREQUENCY) == pytest.approx(1.7, rel=1e-3)
    assert 2 * np.pi / FREQUENCY[density.argmax()] == pytest.approx(6.0, rel=1e-3)


@pytest.mark.parametrize("degrees", [8.0, 30.0, 60.0])
def test_the_spread_against_wavespectra(degrees):
    # Cartwright's cos²ˢ there is given by the same standard deviation.
    angle = np.arange(0.0, 360.0, 2.0)
    theirs = cartwright(dir=angle, dm=0.0, dspr=degrees).values
    own = spread_share(np.radians(angle), np.radians(degrees)) * np.pi / 180
    assert own == pytest.approx(theirs, rel=0.01, abs=1e-5)
    fine = np.linspace(-np.pi, np.pi, 20_001)
    share = spread_share(fine, np.radians(degrees))
    assert np.trapezoid(share, fine) == pytest.approx(1, rel=1e-6)


@pytest.mark.parametrize("spectrum", ["jonswap", "pierson_moskowitz", "phillips"])
def test_a_tile_has_the_height_that_its_spectrum_says(spectrum):
    # Hs = 4 √m₀, over the waves that fit into the tile and on its grid.
    weather = Weather(spectrum, wind=6.0, fetch=2000.0, depth=1e3)
    length = peak_length(spectrum, 6.0, 2000.0, 1e3)
    squares = mean_squares(weather, 512, 24 * length)
    k = np.linspace(np.pi / (24 * length), np.pi / (24 * length) * 512, 60_000)
    expected = height_of(wind_waves(k, spectrum, 6.0, 2000.0, 1e3), k)
    assert 4 * np.sqrt(squares.sum()) == pytest.approx(expected, rel=0.02)


def test_over_many_seeds_the_surface_has_that_height():
    # The variance of 60 tiles of about 100 waves each is known within a few percent.
    found = [surface(seed=seed)[1][0] for seed in range(60)]
    # Splines go through the grid, and what is on it is divided by their response.
    k = np.fft.fftfreq(64)
    sharp = (2 + np.cos(2 * np.pi * k)) / 3
    heights = [np.fft.ifft2(np.fft.fft2(f) * sharp * sharp[:, None]).real for f in found]
    variance = np.mean([np.var(h) for h in heights])
    assert variance == pytest.approx(mean_squares(WINDY, 64, 40.0).sum(), rel=0.08)


def test_power_is_the_same_in_both_domains():
    # Parseval: the mean square of the surface is the sum over its waves.
    waves, _ = surface()
    k = np.fft.fftfreq(64)
    sharp = ((2 + np.cos(2 * np.pi * k)) / 3)[:, None] * (2 + np.cos(2 * np.pi * k)) / 3
    height = np.fft.ifft2(np.fft.fft2(fields_at(waves, 0.0, False)[0]) * sharp).real
    whole = np.zeros((64, 64), complex)
    whole[:, :33] = 0.5 * (waves.forward + waves.backward)
    whole[:, 33:] = np.conj(np.roll(whole[::-1, 31:0:-1], 1, 0))
    assert np.mean(height**2) == pytest.approx((np.abs(whole) ** 2).sum(), rel=1e-4)


def test_opposite_edges_of_a_tile_are_equal():
    _, fields = surface()
    made = surface_of(fields, None, 40.0)
    at = made.at(points_on(40.0, 33)).reshape(33, 33, 4)
    assert np.array_equal(at[0], at[-1])
    assert np.array_equal(at[:, 0], at[:, -1])
    beyond = points_on(40.0, 33) + np.float32([80.0, 0.0, -40.0])
    assert made.at(beyond).reshape(33, 33, 4) == pytest.approx(at, abs=1e-4)


def test_every_wave_goes_up_and_down_whole_times():
    waves, begin = surface(moment=0.0)
    assert np.array_equal(begin, fields_at(waves, 1.0, False))
    assert np.array_equal(waves.turns, np.rint(waves.turns))
    assert waves.turns.min() >= 1
    # J. Tessendorf 2001: none is farther from its own frequency than a half cycle.
    free = waves_of(WINDY, 64, 40.0, 1, 10.0, False).turns
    assert np.abs(waves.turns - np.maximum(free, 1))[1:].max() <= 0.5
    # What the second half does is not what the first one did.
    assert np.abs(fields_at(waves, 0.5, False)[0] + begin[0]).max() > 0.2 * begin[0].std()
    assert np.abs(fields_at(waves, 0.5, False)[0] - begin[0]).max() > 0.2 * begin[0].std()


def test_waves_run_with_the_wind_at_the_speed_of_their_length():
    # A swell towards x: each wave turns by ω t, with ω² = g k, and those that run to x lead.
    weather = Weather(wind=0.0, depth=1e4, swell_height=1.0, swell_period=6.0, swell_spread=0.3)
    tile, seconds = 1000.0, 2.5
    waves = waves_of(weather, 64, tile, 2, 600.0, False)
    now, soon = (
        np.fft.rfft2(fields_at(waves, t / 600, False)[0].astype(float)) for t in (0, seconds)
    )
    z = np.fft.fftfreq(64, 1 / 64)[:, None]
    k = np.hypot(np.arange(33)[None], z) * 2 * np.pi / tile
    high = np.abs(now) > 0.2 * np.abs(now).max()
    turned = np.angle(soon[high] / now[high])
    expected = -np.sqrt(GRAVITY * k[high]) * seconds
    off = np.angle(np.exp(1j * (turned - expected)))
    assert np.abs(off).max() < 0.05
    # Per cycle of 6 s it goes 56 m: g T² / 2π.
    strongest = k.ravel()[np.abs(now).ravel().argmax()]
    assert 2 * np.pi / strongest == pytest.approx(GRAVITY * 36 / (2 * np.pi), rel=0.25)


def test_a_finer_grid_has_the_same_waves_and_more():
    smooth = Weather(**{**WINDY.__dict__, "smallest": 4.0})
    points = points_on(40.0, 40)
    coarse, fine = (
        surface_of(surface(smooth, cells)[1], None, 40.0).at(points)[:, 0] for cells in (64, 256)
    )
    assert coarse == pytest.approx(fine, abs=0.01 * float(fine.std()))


def test_between_crossings_the_surface_is_the_sum_of_its_waves():
    weather = Weather(**{**WINDY.__dict__, "smallest": 5.0})
    waves, fields = surface(weather, cells=64, moment=0.0)
    points = np.random.default_rng(1).uniform(-20, 20, (50, 3)).astype(np.float32)
    half = 0.5 * (waves.forward + waves.backward)
    step = 2 * np.pi / 40.0
    number = np.fft.fftfreq(64, 1 / 64)
    phase = np.exp(
        1j
        * step
        * (points[:, 0, None, None] * number[:33] + points[:, 2, None, None] * number[:, None])
    )
    twice = np.full(33, 2.0)
    twice[[0, 32]] = 1
    exact = (phase * half * twice).real.sum((1, 2))
    found = surface_of(fields, None, 40.0).at(points)[:, 0]
    # Cubic splines are good to a few thousandths for waves of 8 cells.
    assert found == pytest.approx(exact, abs=0.01 * np.abs(exact).max())


def test_the_squeeze_is_the_jacobian_of_the_motion():
    smooth = Weather(**{**WINDY.__dict__, "smallest": 3.0})
    _, fields = surface(smooth, foam=True, cells=128)
    made = surface_of(fields, None, 40.0)
    cell, step = 40.0 / 128, 1e-2
    grid = np.zeros((128 * 128, 3), np.float32)
    at = np.arange(128) * cell
    grid[:, 0], grid[:, 2] = np.tile(at, 128), np.repeat(at, 128)
    aside = []
    for axis in (0, 2):
        there, back = grid.copy(), grid.copy()
        there[:, axis] += step
        back[:, axis] -= step
        aside.append((made.at(there)[:, 1:3] - made.at(back)[:, 1:3]) / (2 * step))
    expected = (1 + aside[0][:, 0]) * (1 + aside[1][:, 1]) - aside[0][:, 1] * aside[1][:, 0]
    own = jacobian(fields[3:], 1.0).reshape(-1)
    assert own == pytest.approx(expected, abs=0.03 * float(own.std()))


def test_foam_is_where_water_is_squeezed_most():
    _, fields = surface(foam=True)
    squeeze = jacobian(fields[3:], 1.0)
    foam = crests(fields[3:], 1.0, 0.2)
    assert 0.001 < (foam > 0.1).mean() < 0.3
    assert squeeze[foam > 0.1].max() < squeeze[foam == 0].min()


def sea_on_a_sheet(columns, **values):
    sheet = {"width": 8.0, "depth": 8.0, "columns": columns, "rows": columns}
    return study(
        {"step": "sheet", "values": sheet},
        {"step": "sea", "values": {"tile": 8.0, "grid": 64, "fetch": 1.0, **values}},
        frames=48,
    )


def test_choppy_crests_are_narrower_than_troughs():
    # F. Gerstner's trochoids, as in Tessendorf 2001: water goes towards the crests, so that less
    # than half of the level plane lies under what is higher than at rest.
    def share_above(choppiness):
        made = sea_on_a_sheet(100, choppiness=choppiness, height=220.0, fetch=0.3)
        mesh = Evaluator().evaluate(made, Request("p", 3)).mesh
        quads = mesh.points[mesh.topology.corners.reshape(-1, 4)].astype(float)
        across = quads[:, 2:, [0, 2]] - quads[:, :2, [0, 2]]
        areas = across[:, 0, 0] * across[:, 1, 1] - across[:, 0, 1] * across[:, 1, 0]
        return areas[quads[:, :, 1].mean(1) > 0].sum() / areas.sum()

    assert share_above(0.0) == pytest.approx(0.5, abs=0.02)
    assert share_above(120.0) < share_above(0.0) - 0.05


def test_it_is_lit_by_the_slopes_of_its_waves():
    # A sheet that is finer than the grid shows the same normals by its own faces.
    fine = Evaluator().evaluate(sea_on_a_sheet(256), Request("p", 5)).mesh
    coarse = Evaluator().evaluate(sea_on_a_sheet(32), Request("p", 5)).mesh
    by_faces = grid_normals(fine.points, fine.topology.grid).reshape(257, 257, 3)[::8, ::8]
    by_slopes = point_normals(coarse).reshape(33, 33, 3)
    inner = np.einsum("ijk,ijk->ij", by_faces, by_slopes)[1:-1, 1:-1]
    assert inner.min() > 0.999
    own = grid_normals(coarse.points, coarse.topology.grid).reshape(33, 33, 3)
    assert np.einsum("ijk,ijk->ij", by_faces, own)[1:-1, 1:-1].min() < 0.99


def test_foam_lingers_and_closes():
    evaluator = Evaluator()
    lingers = sea_on_a_sheet(40, foam="lingers", lasts=1.0, foam_more=20.0, choppiness=130.0)
    short = sea_on_a_sheet(40, foam="crests", foam_more=20.0, choppiness=130.0)

    def foam(document, frame):
        mesh = evaluator.evaluate(document, Request("p", frame)).mesh
        return mesh.get("point", "mask:foam")

    assert np.array_equal(foam(lingers, 0), foam(lingers, 48))
    assert (foam(lingers, 7) >= foam(short, 7) - 1e-6).all()
    assert foam(lingers, 7).mean() > 1.2 * foam(short, 7).mean()
    # Half of what broke half a second ago is left.
    assert (foam(lingers, 19) >= 0.5 * foam(short, 7) - 0.02).all()


def test_one_thread_or_two_give_the_same_bytes():
    document = sea_on_a_sheet(90)
    wide = Evaluator().evaluate(document, Request("p", 5)).mesh.points
    narrow = Evaluator().evaluate(document, Request("p", 5, shared=True)).mesh.points
    assert np.array_equal(wide, narrow)
