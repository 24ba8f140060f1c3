"""Signals against SciPy's splines and facts of the trade."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator

from zygomorph.core.animation.resolve import sample_number
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.monotone_cubic import monotone_slopes
from zygomorph.core.library.signals.drift import harmonics
from zygomorph.core.masking.profiles import profile_table

LOOP = Loop(frames=240, rate=24)


def keys(*pairs, **more):
    return {"signal": "keys", "keys": [{"frame": f, "value": v, **more} for f, v in pairs]}


def at(value, times):
    return sample_number(value, np.asarray(times, float), LOOP, False)


frames = st.lists(st.integers(0, 400), min_size=2, max_size=9, unique=True)


@given(frames, st.data())
def test_smooth_keys_are_scipys_monotone_spline(times, data):
    times = sorted(times)
    values = [data.draw(st.floats(-5, 5)) for _ in times]
    inside = np.linspace(times[0], times[-1], 200)
    expected = PchipInterpolator(times, values)(inside)
    assert np.allclose(at(keys(*zip(times, values, strict=True)), inside), expected, atol=1e-8)


@given(frames, st.data())
def test_smooth_keys_overshoot_none_of_their_values(times, data):
    """What the monotone slopes are for (Fritsch & Butland 1984): between two keys the value stays
    between theirs."""
    times = sorted(times)
    values = [data.draw(st.floats(-5, 5)) for _ in times]
    signal = keys(*zip(times, values, strict=True))
    for (t0, v0), (t1, v1) in pairwise(zip(times, values, strict=True)):
        between = at(signal, np.linspace(t0, t1, 20))
        assert between.min() >= min(v0, v1) - 1e-9
        assert between.max() <= max(v0, v1) + 1e-9


@pytest.mark.parametrize("order", [slice(None), slice(None, None, -1)])
def test_of_keys_at_one_frame_the_last_one_given_counts(order):
    given_keys = [(0, 0.0), (24, 1.0), (24, 3.0), (48, 0.0)][order]
    last = [v for f, v in given_keys if f == 24][-1]
    assert at(keys(*given_keys), [24.0]) == [last]
    rates = [{"frame": f, "value": v} for f, v in given_keys]
    found = at({"signal": "run", "rates": rates}, np.linspace(0, 60, 30))
    assert np.isfinite(found).all()


@pytest.mark.parametrize("apart", [5e-324, 1e-300, 1e-9])
def test_keys_that_are_next_to_nothing_apart_are_one(apart):
    signal = keys((0, 0.0), (apart, 2.0), (24, 1.0))
    assert at(signal, [0.0, 24.0]).tolist() == [2.0, 1.0]
    assert np.isfinite(at(signal, np.linspace(-5, 30, 50))).all()
    rates = [{"frame": f, "value": v} for f, v in ((0, 1.0), (apart, 2.0), (24, 1.0))]
    assert np.isfinite(at({"signal": "run", "rates": rates}, np.linspace(0, 60, 30))).all()
    table = profile_table([[0.0, 0.3], [apart, 0.6], [1.0, 1.0]])
    assert table[0] == pytest.approx(0.6)
    assert np.isfinite(table).all()


def test_a_rate_adds_up_to_the_integral_of_its_curve():
    t, v = np.array([0.0, 10, 35, 60]), np.array([1.0, 4, -2, 3])
    run = {"signal": "run", "rates": [{"frame": f, "value": r} for f, r in zip(t, v, strict=True)]}
    fine = np.linspace(0, 60, 60_001)
    summed = np.trapezoid(PchipInterpolator(t, v)(fine), fine) / LOOP.frames
    assert at(run, [60.0])[0] - at(run, [0.0])[0] == pytest.approx(summed, abs=1e-7)


def test_repeating_keys_are_a_hermite_spline_with_slopes_across_the_join():
    t, v = np.array([0.0, 50, 130, 240]), np.array([1.0, 3, 2, 1])
    slopes = monotone_slopes(t, v, periodic=True)
    assert slopes[0] == slopes[-1]
    spline = CubicHermiteSpline(t, v, slopes)
    signal = keys(*zip(t, v, strict=True)) | {"before": "repeat", "after": "repeat"}
    inside = np.linspace(0, 240, 300)
    assert np.allclose(at(signal, inside), spline(inside))
    assert np.allclose(at(signal, inside[:-1] + 240), spline(inside[:-1]))
    assert np.allclose(at(signal, inside[1:-1] - 240), spline(inside[1:-1]))


def test_linear_and_held_keys():
    assert at(keys((0, 0), (10, 1), ease="linear"), [2.5]) == pytest.approx(0.25)
    held = keys((0, 5), (10, 7), ease="held")
    assert list(at(held, [0, 9.99, 10, 50])) == [5, 5, 7, 7]


def test_before_and_after_the_keys_the_value_holds():
    assert list(at(keys((10, 1), (20, 2)), [-5, 0, 25])) == [1, 1, 2]


def test_keys_a_b_a_make_a_loop_of_their_distance():
    # Common practice: the loop is evenly halved only with the middle key at N/2.
    signal = keys((0, 0), (120, 1), (240, 0))
    t = np.arange(0, 121.0)
    assert np.allclose(at(signal, t), at(signal, 240 - t), atol=1e-9)
    assert at(signal, [240])[0] == at(signal, [0])[0]


def test_a_full_turn_in_n_linear_frames_is_360_over_n_a_frame():
    # Common practice.
    signal = keys((0, 0), (240, 360), ease="linear")
    assert np.allclose(np.diff(at(signal, np.arange(241))), 360 / 240)


def test_24_frames_a_second_for_10_seconds_is_240_frames():
    # Common practice: and the 241st equals the first.
    assert LOOP.seconds == 10
    cycle = {"signal": "cycle", "shape": "sine", "cycles": 3, "low": -1, "high": 4}
    assert at(cycle, [240])[0] == at(cycle, [0])[0]


def test_a_last_key_at_499_of_500_closes_a_loop_of_500_frames():
    # Common practice: (N - 1)/N of a cycle, 499/500 = 0.998, for the last delivered frame.
    loop = Loop(frames=500, rate=30)
    saw = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0, "high": 1}
    assert sample_number(saw, np.array([499.0]), loop, False)[0] == pytest.approx(0.998)


@given(st.sampled_from(["sine", "triangle", "saw", "square", "pulse"]), st.integers(1, 7),
       st.floats(0, 1))  # fmt: skip
def test_every_cycle_closes_exactly(shape, cycles, phase):
    signal = {"signal": "cycle", "shape": shape, "cycles": cycles, "phase": phase}
    t = np.linspace(0, 239, 57)
    assert np.allclose(at(signal, t), at(signal, t + 240), atol=1e-8)


@given(st.integers(1, 12), st.integers(1, 5), st.integers(0, 50))
def test_drift_returns_in_value_and_slope(pace, octaves, seed):
    signal = {
        "signal": "drift",
        "low": 2,
        "high": 5,
        "pace": pace,
        "octaves": octaves,
        "seed": seed,
    }
    assert at(signal, [240])[0] == at(signal, [0])[0]
    h = 1e-3
    before = at(signal, [240 - h, 240 + h])
    after = at(signal, [-h, h])
    assert np.diff(before) == pytest.approx(np.diff(after), abs=1e-9)
    inside = at(signal, np.arange(240))
    assert inside.min() >= 2 - 1e-2
    assert inside.max() <= 5 + 1e-2


def test_drift_has_the_same_variance_all_along_the_loop():
    # Whitening: over many seeds the spread at each moment is the same. Gradient noise in one
    # dimension fails this, since it is zero at its lattice points.
    times = np.linspace(0, 240, 60, endpoint=False)
    rows = np.stack(
        [at({"signal": "drift", "low": -1, "high": 1, "seed": s}, times) for s in range(400)]
    )
    spread = rows.std(axis=0)
    assert spread.std() / spread.mean() < 0.06


def test_drift_is_made_of_whole_harmonics():
    frequency = harmonics(3, 3, 0.5, 1)[0]
    assert np.array_equal(frequency, np.round(frequency))
    assert frequency.min() >= 1
