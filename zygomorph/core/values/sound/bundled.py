"""Sounds that come with the program: a track of ten seconds that loops, and a live input that is
only played.

Both are synthesised, so that there is something to hear and nothing to bring.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zygomorph.core.values.sound.track import Track

RATE = 22_050
SECONDS = 10.0
BEATS = 20
# Steps of a minor scale over the lowest note, in half tones.
SCALE = (0, 3, 5, 7, 10, 12, 15)


def _struck(t: np.ndarray, pitch: float, fall: float) -> np.ndarray:
    return np.sin(2 * np.pi * pitch * t) * np.exp(-t / fall) * np.minimum(t / 0.004, 1)


def _laid(total: np.ndarray, at: float, sound: np.ndarray, gain: float) -> None:
    """Add a sound at a time in seconds; what hangs over the end begins anew at the beginning."""
    first = round(at * RATE)
    places = (first + np.arange(len(sound))) % len(total)
    np.add.at(total, places, gain * sound)


@lru_cache(maxsize=1)
def night_track() -> Track:
    """A slow beat, drops above it, and rustling that swells; it loops after ten seconds."""
    random = np.random.default_rng(7)
    total = np.zeros(round(SECONDS * RATE))
    second = np.arange(RATE) / RATE
    beat = SECONDS / BEATS
    for k in range(BEATS):
        if k % 2 == 0:
            sweep = 52 + 70 * np.exp(-second / 0.03)
            thump = np.sin(2 * np.pi * np.cumsum(sweep) / RATE) * np.exp(-second / 0.16)
            _laid(total, k * beat, thump, 0.8 if k % 4 == 0 else 0.55)
        note = 220 * 2 ** (random.choice(SCALE) / 12)
        if random.random() < 0.75:
            _laid(total, k * beat + beat / 2, _struck(second, note, 0.22), 0.3)
        _laid(total, k * beat, _struck(second, 3 * note, 0.05), 0.12)
    rustle = random.normal(size=len(total))
    rustle = rustle - np.convolve(np.r_[rustle[-40:], rustle], np.ones(40) / 40, "same")[40:]
    swell = 0.5 - 0.5 * np.cos(2 * np.pi * np.arange(len(total)) / len(total) * 4)
    total += 0.07 * rustle * swell**2
    return Track((total / np.abs(total).max() * 0.9).astype(np.float32), RATE)


@lru_cache(maxsize=1)
def live_input() -> Track:
    """What a microphone would hear for a minute: voices that come and go by chance, and a beat
    that does not keep to any loop."""
    random = np.random.default_rng(11)
    seconds = 61.7
    t = np.arange(round(seconds * RATE)) / RATE
    total = 0.01 * random.normal(size=len(t))
    at = 0.0
    while at < seconds - 1.5:
        length = random.uniform(0.15, 1.2)
        here = (t >= at) & (t < at + length)
        swell = np.sin(np.pi * (t[here] - at) / length) ** 2
        pitch = random.uniform(110, 700)
        voice = sum(np.sin(2 * np.pi * pitch * h * t[here]) / h for h in (1, 2, 3))
        total[here] += random.uniform(0.1, 0.4) * swell * voice
        at += length + random.exponential(0.5)
    for beat in np.arange(0, seconds, 0.613):
        here = (t >= beat) & (t < beat + 0.2)
        total[here] += 0.5 * np.sin(2 * np.pi * 70 * t[here]) * np.exp(-(t[here] - beat) / 0.05)
    return Track((total / np.abs(total).max() * 0.9).astype(np.float32), RATE)


MADE = {"night": night_track, "live": live_input}
