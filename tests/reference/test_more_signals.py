"""Run, sound, formula and link; keys with tangents, and what comes before and after them."""

import io
import itertools

import numpy as np
import pytest
import scipy
import soundfile
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline

from tests.reference.test_signals import LOOP, at, keys
from zygomorph.core.animation.resolve import sample_number
from zygomorph.core.document.signal_context import SignalContext
from zygomorph.core.formats.read_sound import SoundFileError, read_sound
from zygomorph.core.values.sound.bundled import live_input, night_track
from zygomorph.core.values.sound.track import Track, follow


def tangent_keys():
    points = [(0, 0.0, 0.05, 0.02), (50, 2.0, -0.03, 0.1), (120, 1.0, 0.0, 0.0)]
    made = [{"frame": f, "value": v, "in": i, "out": o} for f, v, i, o in points]
    return {"signal": "keys", "keys": made}, points


def test_tangents_are_those_of_a_hermite_spline():
    signal, points = tangent_keys()
    for (f0, v0, _, out), (f1, v1, into, _) in itertools.pairwise(points):
        inside = np.linspace(f0, f1, 60)
        spline = CubicHermiteSpline([f0, f1], [v0, v1], [out, into])
        assert np.allclose(at(signal, inside), spline(inside), atol=1e-12)


def test_a_key_of_level_tangents_eases_in_and_out():
    made = [{"frame": f, "value": v, "in": 0.0, "out": 0.0} for f, v in ((0, 0), (20, 1))]
    found = at({"signal": "keys", "keys": made}, np.linspace(0, 20, 21))
    t = np.linspace(0, 1, 21)
    assert np.allclose(found, 3 * t**2 - 2 * t**3)


BEYOND = keys((10, 1.0), (20, 3.0), (40, 2.0), ease="linear")


@pytest.mark.parametrize("side", ["before", "after"])
def test_repeating_keys_that_add_up_climb_by_their_rise(side):
    signal = BEYOND | {side: "add"}
    inside = np.linspace(10.1, 39.9, 40)
    rounds = -1 if side == "before" else 1
    assert np.allclose(at(signal, inside + rounds * 30), at(signal, inside) + rounds * 1.0)


@pytest.mark.parametrize("side", ["before", "after"])
def test_there_and_back_is_a_mirror(side):
    signal = BEYOND | {side: "mirror"}
    edge = 10 if side == "before" else 40
    way = np.linspace(0, 29.9, 40)
    sign = -1 if side == "before" else 1
    assert np.allclose(at(signal, edge + sign * way), at(signal, edge - sign * way))
    assert np.allclose(at(signal, edge + sign * (way + 60)), at(signal, edge + sign * way))


@given(st.floats(-3, 3), st.floats(-5, 5), st.floats(0, 2000))
def test_a_run_at_one_rate_is_a_straight_line(rate, start, frame):
    found = at({"signal": "run", "rate": rate, "start": start}, [frame])[0]
    assert found == pytest.approx(start + rate * frame / 240, abs=1e-9)


rates = st.lists(
    st.tuples(st.integers(0, 300), st.floats(-4, 4)),
    min_size=1,
    max_size=5,
    unique_by=lambda k: k[0],
)


@given(rates)
def test_a_run_is_the_integral_of_its_rate(changes):
    changes = sorted(changes)
    run = {"signal": "run", "rates": [{"frame": f, "value": v} for f, v in changes]}
    frames = np.linspace(0, 320, 3201)
    rate = at(keys(*changes), frames)
    area = np.concatenate([[0], scipy.integrate.cumulative_simpson(rate, x=frames)])
    assert np.allclose(at(run, frames), area / 240, atol=2e-3)


@given(rates)
def test_a_change_of_rate_makes_no_jump(changes):
    run = {"signal": "run", "rates": [{"frame": f, "value": v} for f, v in changes]}
    frames = np.arange(0, 320, 0.05)
    fastest = max(abs(v) for _, v in changes)
    assert np.abs(np.diff(at(run, frames))).max() <= fastest * 0.05 / 240 + 1e-9


def sine(amplitude, pitch, seconds=4.0, rate=22_050):
    t = np.arange(int(seconds * rate)) / rate
    return Track((amplitude * np.sin(2 * np.pi * pitch * t)).astype(np.float32), rate)


def test_the_level_of_a_sine_is_its_rms():
    # RMS of a sine is A / √2 (any textbook).
    level, _ = sine(0.8, 440).level(0, 1e5)
    assert np.allclose(level[8:-12], 0.8 / np.sqrt(2), rtol=2e-3)


def test_a_band_hears_only_what_is_in_it():
    both = Track(sine(0.5, 100).samples + sine(0.25, 3000).samples, 22_050)
    for low, high, amplitude in ((20, 400, 0.5), (1000, 6000, 0.25)):
        level, _ = both.level(low, high)
        assert np.median(level) == pytest.approx(amplitude / np.sqrt(2), rel=0.01)


@pytest.mark.parametrize("band", [(20.0, 200.0), (200.0, 2000.0), (2000.0, 9000.0)])
def test_bands_agree_with_welch(band):
    noise = np.random.default_rng(3).normal(size=200_000) * 0.1
    noise = scipy.signal.lfilter([1.0], [1.0, -0.7], noise).astype(np.float32)
    track = Track(noise, 22_050)
    level, _ = track.level(*band)
    lines, density = scipy.signal.welch(noise, 22_050, nperseg=1024, detrend=False)
    inside = (lines >= band[0]) & (lines <= band[1])
    power = density[inside].sum() * (lines[1] - lines[0])
    assert np.mean(level[8:-12] ** 2) == pytest.approx(power, rel=0.03)


def test_all_bands_together_are_the_whole_sound():
    # Parseval.
    track = night_track()
    whole, _ = track.level(0, 1e5)
    parts = [track.level(a, b)[0] for a, b in ((0, 500.0), (500.01, 3000), (3000.01, 1e5))]
    assert np.allclose(np.sqrt(sum(p**2 for p in parts)), whole, rtol=1e-4, atol=1e-6)


def test_attack_and_release_take_their_time():
    level = np.zeros(4000)
    level[1000:2000] = 1.0
    found = follow(level, 0.001, attack=0.1, release=0.3)
    # One pole reaches 1 - 1/e after its time.
    assert found[1000 + 100] == pytest.approx(1 - np.exp(-1), abs=0.01)
    assert found[2000 + 300] == pytest.approx(np.exp(-1), abs=0.01)


def heard(**values):
    return at({"signal": "sound", **values}, np.arange(0, 241.0))


@pytest.mark.parametrize("band", ["all", "low", "middle", "high"])
def test_the_bundled_track_is_heard_and_closes(band):
    found = heard(band=band)
    assert found.min() >= 0
    assert found.max() <= 1
    assert np.ptp(found) > 0.15
    assert found[240] == pytest.approx(found[0], abs=1e-9)
    fine = at({"signal": "sound", "band": band}, np.array([0.0, 0.25, 240.0, 240.25]))
    assert fine[1] - fine[0] == pytest.approx(fine[3] - fine[2], abs=1e-9)


def test_a_beat_is_heard_when_it_is_struck():
    found = heard(band="low", attack=0.005, release=0.05)
    struck = [found[12 * k + 1 : 12 * k + 4].max() for k in range(0, 20, 2)]
    between = [found[12 * k + 9] for k in range(0, 20, 2)]
    assert min(struck) > 3 * max(between)


def test_the_simulated_input_keeps_to_no_loop():
    found = heard(track="live")
    assert np.ptp(found) > 0.2
    assert abs(found[240] - found[0]) > 1e-3


def test_low_high_and_gain():
    plain, far = heard(), heard(low=2.0, high=5.0)
    assert np.allclose(far, 2 + 3 * plain)
    assert heard(gain=1e4).max() == 1.0
    assert heard(gain=0.0).max() == 0.0


def test_a_sound_that_is_not_stored_is_silence():
    assert (heard(track="file", file="0" * 64, low=0.25) == 0.25).all()


@pytest.mark.parametrize("kind", ["WAV", "FLAC", "OGG"])
def test_files_are_read_with_all_channels_in_one(kind):
    left = sine(0.6, 300, 1.0, 44_100).samples
    data = io.BytesIO()
    soundfile.write(data, np.stack([left, 0 * left], axis=1), 44_100, format=kind)
    track = read_sound(data.getvalue())
    assert track.seconds == pytest.approx(1.0, abs=0.01)
    level, _ = track.level(0, 1e5)
    assert np.median(level) == pytest.approx(0.3 / np.sqrt(2), rel=0.02)


def test_a_fine_sound_is_read_coarser():
    data = io.BytesIO()
    soundfile.write(data, sine(0.5, 300, 1.0, 192_000).samples, 192_000, format="WAV")
    track = read_sound(data.getvalue())
    assert track.rate == 48_000
    assert np.median(track.level(0, 1e5)[0]) == pytest.approx(0.5 / np.sqrt(2), rel=0.02)


def empty_wav():
    data = io.BytesIO()
    soundfile.write(data, np.zeros(0, np.float32), 8000, format="WAV")
    return data.getvalue()


def aiff():
    data = io.BytesIO()
    soundfile.write(data, np.zeros(100, np.float32), 8000, format="AIFF")
    return data.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "no sound"),
        (b"RIFF....WAVEfmt ", "no sound"),
        (empty_wav(), "holds no sound"),
        (aiff(), "AIFF is not read"),
    ],
)
def test_what_is_no_sound_is_told(data, words):
    with pytest.raises(SoundFileError, match=words) as caught:
        read_sound(data)
    assert caught.value.hint


def test_bundled_sounds_are_the_same_every_time():
    assert night_track().seconds == pytest.approx(10.0)
    assert live_input().seconds > 60
    assert np.abs(night_track().samples).max() == pytest.approx(0.9, abs=1e-3)


def test_waveforms_are_told_by_their_peaks():
    peaks = sine(0.5, 10, 1.0).peaks(100)
    assert len(peaks) == 100
    assert min(low for low, _ in peaks) == pytest.approx(-0.5, abs=1e-3)
    assert max(high for _, high in peaks) == pytest.approx(0.5, abs=1e-3)


def test_a_formula_over_time():
    found = at({"signal": "formula", "text": "2 * p + t - f / 24"}, [0.0, 60, 240])
    assert np.allclose(found, [0, 0.5, 2.0])


def test_an_undefined_formula_is_nothing():
    assert list(at({"signal": "formula", "text": "1 / p"}, [0.0, 120.0])) == [0.0, 2.0]


DOCUMENT = {
    "pieces": [
        {
            "id": "p",
            "place": {"move": [0.0, {"signal": "cycle", "low": 0, "high": 2}, 0.0]},
            "recipe": [
                {"id": "a", "step": "icosphere", "values": {"radius": 0.75}},
                {
                    "id": "b",
                    "step": "twist",
                    "values": {
                        "angle": {"signal": "link", "to": "/pieces/p/recipe/c/values/angle"}
                    },
                },
                {
                    "id": "c",
                    "step": "twist",
                    "values": {
                        "angle": {"signal": "link", "to": "/pieces/p/recipe/b/values/angle"}
                    },
                },
            ],
        }
    ]
}


def linked(to, **more):
    signal = {"signal": "link", "to": to, **more}
    return sample_number(signal, np.array([0.0, 60, 120]), LOOP, False, SignalContext(DOCUMENT))


def test_a_link_follows_with_factor_and_offset():
    found = linked("/pieces/p/place/move/1", factor=3.0, offset=1.0)
    assert np.allclose(found, [1.0, 4.0, 7.0])


def test_a_link_may_be_late():
    found = linked("/pieces/p/place/move/1", delay=60.0)
    assert np.allclose(found, [1.0, 0.0, 1.0])


def test_a_link_to_what_the_document_leaves_out_follows_its_default():
    assert np.allclose(linked("/pieces/p/recipe/b/values/high"), 0.5)
    assert np.allclose(linked("/pieces/p/recipe/a/values/radius"), 0.75)


@pytest.mark.parametrize(
    "nowhere",
    ["", "/pieces/q/place/move/0", "/pieces/p/recipe/b/values/centre", "/pieces/p/recipe/b/step"],
)
def test_a_link_that_leads_nowhere_is_its_offset(nowhere):
    assert list(linked(nowhere, offset=0.5)) == [0.5] * 3


def test_links_in_a_circle_end():
    assert list(linked("/pieces/p/recipe/b/values/angle")) == [0.0] * 3
