"""Plane wave, stretch and inflate against closed forms."""

import numpy as np
import pytest

from tests.conftest import resolved, volume
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context
from zygomorph.core.values.entries import definitions

ONE = np.ones(1, np.float32)


def step(key, mesh, **values):
    definition = definitions("step")[key]
    return definition.apply(mesh, resolved(definition, **values), ONE, Context())


def test_a_section_of_the_wave_has_its_wavelength_and_phase():
    # By the discrete Fourier transform: 5 waves on 4 m are wavelength 0.8 m; sin(a - 2π/8) is
    # 45° behind a sine (derived).
    sheet = form("sheet", width=4.0, depth=1.0, columns=400, rows=4)
    waved = step("wave", sheet, amplitude=0.1, wavelength=0.8, phase=0.125)
    section = waved.points[:400, 1].astype(float)
    # The sheet begins at x = -2 m, 2.5 waves before the middle.
    found = np.fft.rfft(section) / 200
    assert np.abs(found).argmax() == 5
    assert np.abs(found[5]) == pytest.approx(0.1, rel=1e-4)
    assert np.angle(found[5]) == pytest.approx(
        np.angle(-1j * np.exp(-2j * np.pi * 2.625)), abs=1e-4
    )


def test_a_wave_as_long_as_the_sheet_agrees_at_both_ends():
    # Height and slope (derived).
    sheet = form("sheet", width=2.0, depth=1.0, columns=200, rows=2)
    row = step("wave", sheet, amplitude=0.2, wavelength=2.0, phase=0.3).points[:201, 1]
    assert row[0] == pytest.approx(row[-1], abs=1e-6)
    slope = np.gradient(row.astype(float), 0.01, edge_order=2)
    assert slope[0] == pytest.approx(slope[-1], abs=2e-3)
    assert abs(slope[0]) > 0.1


def test_a_wave_closes_exactly_after_a_cycle():
    sheet = form("sheet")
    begin, end = (step("wave", sheet, phase=p, across=0.05, across_phase=p) for p in (0.0, 1.0))
    assert np.array_equal(begin.points, end.points)


def test_a_second_wave_runs_across_the_first():
    sheet = form("sheet", columns=40, rows=40)
    both = step("wave", sheet, amplitude=0.1, across=0.05)
    x, z = sheet.points[:, 0], sheet.points[:, 2]
    # up × forward is the way across; here -z.
    expected = 0.1 * np.sin(2 * np.pi * x / 0.8) + 0.05 * np.sin(-2 * np.pi * z / 0.8)
    assert np.allclose(both.points[:, 1], expected, atol=1e-5)


def test_stretch_multiplies_lengths_and_moves_what_lies_beyond():
    # A. Barr, SIGGRAPH 1984: scaling along an axis, here between limits.
    box = form("box")
    found = step("stretch", box, ratio=200.0, low=-0.25, high=0.25).points[:, 1]
    y = box.points[:, 1]
    inside = np.clip(y, -0.25, 0.25)
    assert np.allclose(found, y + inside, atol=1e-6)


@pytest.mark.parametrize("ratio", [40.0, 100.0, 250.0])
def test_stretch_keeps_the_volume_where_it_should(ratio):
    box = form("box")
    stretched = step("stretch", box, ratio=ratio, keeps_volume=True, low=-0.5, high=0.5)
    assert volume(stretched) == pytest.approx(volume(box), rel=1e-5)
    assert np.ptp(stretched.points[:, 1]) == pytest.approx(ratio / 100, rel=1e-5)


def test_a_ball_that_is_inflated_is_a_larger_ball():
    ball = form("icosphere", radius=0.5, halvings=4)
    found = np.linalg.norm(step("inflate", ball, amount=0.1).points, axis=1)
    assert np.allclose(found, 0.6, atol=2e-3)
