"""Which sounds a study listens to, and the part of each that is heard while it plays."""

import io

import numpy as np
import pytest
import soundfile

from zygomorph.core.animation.sound.audible import Audible, audible
from zygomorph.core.formats.wav import wav_of
from zygomorph.core.values.sound.track import Track

FILE = "a" * 64


def study(*steps, visible=True, markers=()):
    recipe = [{"id": "form", "step": "icosphere"}, *steps]
    piece = {"id": "p", "name": "P", "recipe": recipe, "visible": visible}
    return {"pieces": [piece], "markers": list(markers)}


def step(value, **more):
    return {"id": "s", "step": "twist", "values": {"angle": value}, **more}


def test_signals_and_mask_layers_listen():
    layer = {"id": "l", "layer": "sound", "values": {"track": "file", "file": FILE, "begin": 2}}
    found = audible(study(step({"signal": "sound"}, where={"layers": [layer]})))
    assert found == [Audible("night", 0.0), Audible(FILE, 2.0)]


def test_the_same_part_is_heard_once():
    pair = {"draft": {"signal": "sound", "begin": 1}, "final": {"signal": "sound", "begin": 1}}
    assert audible(study(step(pair), step({"signal": "sound", "begin": 1.0}))) == [
        Audible("night", 1.0)
    ]


def test_markers_listen_too():
    marker = {"id": "m", "name": "M", "place": {"move": [{"signal": "sound"}, 0, 0]}}
    assert audible(study(markers=[marker])) == [Audible("night", 0.0)]


def test_what_is_off_or_hidden_or_empty_is_not_heard():
    moving = {"signal": "sound"}
    assert audible(study(step(moving, on=False))) == []
    assert audible(study(step(moving), visible=False)) == []
    assert audible(study(step({"signal": "sound", "track": "file"}))) == []
    assert audible(study(step({"signal": "cycle"}))) == []


def test_a_part_goes_round_at_the_end_of_the_sound():
    ramp = Track(np.linspace(-0.5, 0.5, 1000, dtype=np.float32), 1000)
    samples, rate = soundfile.read(io.BytesIO(wav_of(ramp, 0.75, 0.5)), dtype="float32")
    assert rate == 1000
    assert len(samples) == 500
    expected = np.concatenate([ramp.samples[750:], ramp.samples[:250]])
    # 16 bits.
    assert samples == pytest.approx(expected, abs=2**-15)


def test_a_silent_sound_of_no_length_is_silence():
    samples, _ = soundfile.read(io.BytesIO(wav_of(Track(np.zeros(0, np.float32), 8000), 0, 0.1)))
    assert len(samples) == 800
    assert not samples.any()
