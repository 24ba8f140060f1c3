"""A sound over the elements: its spectrum, a level that fills them, a sound that passes by."""

from dataclasses import replace

import numpy as np
import pytest

from tests.core.test_masks import cloud, layer
from zygomorph.core.animation.context import Context
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.schema import VERSION
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.masking.blending import weights
from zygomorph.core.values.sound.bundled import night_track
from zygomorph.core.values.sound.track import Track

RATE = 22_050
LOOP = Loop(frames=48, rate=24.0)
LINEAR = {"profile": "linear"}
LINE = cloud(np.stack([np.linspace(-1, 1, 101), np.zeros(101), np.zeros(101)], axis=1))
QUICK = {"attack": 0.0, "release": 0.0, "axis": [1.0, 0.0, 0.0], "track": "file", "file": "0" * 64}


def tones(*parts):
    """Sines of two seconds: of each its frequency, and the seconds from and to in which it is
    heard."""
    t = np.arange(2 * RATE) / RATE
    heard = sum(np.sin(2 * np.pi * f * t) * ((t >= a) & (t < b)) for f, a, b in parts)
    return Track((0.4 * heard).astype(np.float32), RATE)


def weigh(track, frame, mesh=LINE, **values):
    context = Context(LOOP, frame, sound=lambda name: track)
    return weights(mesh, [layer("sound", LINEAR, **{**QUICK, **values})], context)


def test_a_low_tone_is_heard_by_the_first_and_a_high_one_by_the_last():
    track = tones((100.0, 0.0, 1.0), (3200.0, 1.0, 2.0))
    # Three octaves and a bit below the middle of 50 to 6400 Hz, and two above it.
    octaves = {"lowest": 50.0, "highest": 6400.0, "bands": 7}
    low, high = (weigh(track, frame, **octaves) for frame in (12, 36))
    assert np.argmax(low) == pytest.approx(100 * 1 / 7, abs=8)
    assert np.argmax(high) == pytest.approx(100 * 6 / 7, abs=8)
    assert low[50] < 0.05 > high[50]


def test_reversed_the_last_hears_what_the_first_heard():
    track = night_track()
    there, back = weigh(track, 7.0), weigh(track, 7.0, reverse=True)
    assert np.ptp(there) > 0.1
    assert np.allclose(there, back[::-1], atol=1e-5)


def test_a_level_fills_as_many_as_it_is_loud():
    track = tones((440.0, 0.0, 2.0))
    values = {"way": "fills", "edge": 0.0, "lowest": 20.0, "highest": 16_000.0}
    for gain in (0.25, 0.5, 0.75):
        full = weigh(track, 24.0, gain=gain, **values) > 0.5
        assert full.mean() == pytest.approx(gain, abs=0.03)
        assert (np.diff(full.astype(int)) <= 0).all()


def test_a_sound_passes_from_first_to_last_in_its_time():
    track = tones((440.0, 0.45, 0.55))
    values = {"way": "travels", "delay": 1.0}
    # Struck at half a second; after another half it has come half the way.
    found = weigh(track, 24.0, **values)
    assert np.argmax(found) == pytest.approx(50, abs=4)
    assert found[[0, 20, 80, 100]].max() < 0.1


@pytest.mark.parametrize("way", ["spectrum", "fills", "travels"])
def test_at_the_end_of_the_loop_it_is_what_it_was(way):
    first, last = (weigh(night_track(), f, way=way, delay=0.7) for f in (0.0, 48.0))
    assert np.ptp(first) > 0
    assert np.allclose(first, last, atol=1e-5)


def test_from_a_place_it_is_the_same_all_round():
    angles = np.linspace(0, 2 * np.pi, 12, endpoint=False)
    rounds = [r * np.stack([np.cos(angles), 0 * angles, np.sin(angles)], 1) for r in (0.5, 1.0)]
    found = weigh(night_track(), 5.0, cloud(np.concatenate([*rounds, [[0, 0, 0]]])), by="place")
    assert np.ptp(found[:12]) < 1e-4 > np.ptp(found[12:24])
    assert abs(found[0] - found[12]) > 1e-3


def test_without_its_sound_it_says_what_helps():
    with pytest.raises(ZygomorphError, match="not stored") as told:
        weigh(None, 0.0)
    assert "WAV" in told.value.hint


def test_carried_it_is_measured_where_it_was():
    moved = np.eye(4)
    moved[0, 3] = -0.5
    context = Context(LOOP, 5.0, sound=lambda name: night_track())
    spectrum = layer("sound", LINEAR, **QUICK, by="place", centre=[0.5, 0, 0])
    found = weights(LINE, [replace(spectrum, undo_parent=moved)], context)
    here = weights(LINE, [layer("sound", LINEAR, **QUICK, by="place", centre=[1.0, 0, 0])], context)
    assert np.ptp(found) > 0.05
    assert np.allclose(found, here, atol=1e-4)


def test_the_sounds_of_a_study_reach_its_masks():
    from zygomorph.core.evaluation.evaluate import Evaluator, Request

    heard = {
        "id": "l",
        "layer": "sound",
        "values": {"track": "file", "file": "1" * 64, "axis": [1, 0, 0]},
    }
    document = {
        "format": "zygomorph-study",
        "version": VERSION,
        "name": "Heard",
        "pieces": [
            {
                "id": "p",
                "name": "P",
                "recipe": [
                    {"id": "f", "step": "sheet"},
                    {"id": "s", "step": "inflate", "where": {"layers": [heard]}},
                ],
            }
        ],
    }
    asked = []
    study = check_document(document, lambda name: asked.append(name) or night_track())
    found = Evaluator().evaluate(study, Request("p", 12.0, mask_of="s")).weights
    assert np.ptp(found) > 0.05
    assert set(asked) == {"1" * 64}
