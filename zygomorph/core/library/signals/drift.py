"""Looping noise in time: wanders without a pattern and returns exactly, in value and slope.

A sum of whole-number harmonics with random phases. (Gradient noise in one dimension is zero at
its lattice points, so its spread would pulse along the loop; random phases keep it constant.)
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.value import SEED, number, whole


@lru_cache(maxsize=512)
def harmonics(pace: int, octaves: int, roughness: float, seed: int) -> np.ndarray:
    """(3, H): whole-number frequency, amplitude, and phase in radians of each harmonic.

    Octave o covers the frequencies from two to four thirds of its middle, which doubles from
    octave to octave. How often a sum of many harmonics swings about its mean is the root of their
    mean squared frequency (S. O. Rice, "Mathematical Analysis of Random Noise", 1944; from
    memory): the first middle is such that this is the pace. Scaled so that the sum spans -1 to 1.
    """
    random = np.random.default_rng([seed, pace, octaves])
    power = roughness ** (2.0 * np.arange(octaves))
    middle = max(pace * np.sqrt(power.sum() / (power @ 4.0 ** np.arange(octaves))), 1.0)
    rows = []
    for octave in range(octaves):
        lowest, highest = (round(middle * 2**octave * share) for share in (2 / 3, 4 / 3))
        frequencies = np.arange(max(lowest, 1), max(highest, 1) + 1)
        if len(frequencies) > 64:
            frequencies = np.unique(np.linspace(frequencies[0], frequencies[-1], 64).astype(int))
        amplitude = roughness**octave / np.sqrt(len(frequencies))
        phases = random.uniform(0, 2 * np.pi, len(frequencies))
        rows.append([frequencies, np.full(len(frequencies), amplitude), phases])
    table = np.concatenate([np.array(r, np.float64) for r in rows], axis=1)
    table[1] /= _largest(table)
    return table


def _largest(table: np.ndarray) -> float:
    """How far the sum goes from 0, at eight moments or more for each swing of the fastest."""
    frequency, amplitude, phase = table
    count = 8 * int(frequency.max()) + 256
    spectrum = np.zeros(count // 2 + 1, complex)
    np.add.at(spectrum, frequency.astype(int), amplitude * np.exp(1j * phase) * count / 2)
    return float(np.abs(np.fft.irfft(spectrum, count)).max())


def _sum(table: np.ndarray, turn: np.ndarray) -> np.ndarray:
    """The sum at moments, (T,), some at a time: all harmonics at all moments may be gigabytes."""
    frequency, amplitude, phase = table
    found = np.empty(len(turn))
    for begin in range(0, len(turn), 1024):
        part = turn[begin : begin + 1024, None]
        found[begin : begin + 1024] = np.cos(2 * np.pi * frequency * part + phase) @ amplitude
    return found


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    turn = np.asarray(times, np.float64) / loop.frames
    # In float64 before the cosine: a whole loop later is exactly the same place.
    turn = turn - np.floor(turn)
    pace = np.broadcast_to(np.asarray(values["pace"]), turn.shape)
    wander = np.empty(turn.shape)
    for each in np.unique(pace):
        table = harmonics(
            int(each), int(values["octaves"]), float(values["roughness"]), int(values["seed"])
        )
        wander[pace == each] = _sum(table, turn[pace == each])
    return values["low"] + (values["high"] - values["low"]) * (0.5 + 0.5 * wander)


DEFINITION = SignalDefinition(
    key="drift",
    title="Drift",
    help="Wanders between low and high without a pattern, and is back where it was after a loop.",
    also=("noise", "wander", "random", "wobble"),
    values={
        "low": number(0.0, "Low", "The lowest value it reaches."),
        "high": number(1.0, "High", "The highest value it reaches."),
        "pace": whole(
            2, "Pace", "About how often it swings in one loop.", (1, 12), "/ loop", hard=(1, 200)
        ),
        "octaves": whole(
            2, "Octaves", "Finer and finer trembling on top.", (1, 5), "", hard=(1, 8), main=False
        ),
        "roughness": number(
            0.5,
            "Roughness",
            "Strength of each finer octave against the one before.",
            "share",
            hard=(0.0, 1.0),
            main=False,
        ),
        "seed": SEED,
    },
    sentence="drifts from {low} to {high}, {pace} swings a loop",
    apply=sample,
    order=4,
)
