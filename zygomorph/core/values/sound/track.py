"""A sound as numbers, and how strong it is in a band of frequencies over time."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
import scipy

# Short enough for a beat, long enough for 43 Hz a line at 44,100 samples a second.
WINDOW = 1024
HOP = 256


@dataclass(frozen=True)
class Track:
    """samples : (N,) float32 from -1 to 1, all channels in one
    rate : samples a second
    """

    samples: np.ndarray
    rate: int
    _made: dict[Any, Any] = field(default_factory=dict, repr=False, compare=False)

    @property
    def seconds(self) -> float:
        return len(self.samples) / self.rate

    def _power(self) -> tuple[np.ndarray, np.ndarray]:
        """Mean square of the sound in each line of each window, (T, L), and the lines, (L,) Hz.

        Summed over all lines it is the mean square of the windowed sound (Parseval), so that the
        root of a band's sum is the band's RMS.
        """
        if "power" not in self._made:
            padded = np.pad(self.samples, (WINDOW // 2, WINDOW))
            frames = np.lib.stride_tricks.sliding_window_view(padded, WINDOW)[::HOP]
            shape = scipy.signal.get_window("hann", WINDOW).astype(np.float32)
            spectrum = scipy.fft.rfft(frames * shape, axis=1)
            power = (np.abs(spectrum) ** 2).astype(np.float32)
            # Lines but the first and last stand for their mirror images as well.
            power[:, 1:-1] *= 2
            power /= WINDOW * float((shape**2).sum())
            lines = scipy.fft.rfftfreq(WINDOW, 1 / self.rate)
            self._made["power"] = (power, lines)
        found: tuple[np.ndarray, np.ndarray] = self._made["power"]
        return found

    def level(self, low: float, high: float) -> tuple[np.ndarray, np.ndarray]:
        """RMS of the frequencies from low to high, Hz, and the times in seconds; both (T,)."""
        key = ("level", low, high)
        if key not in self._made:
            power, lines = self._power()
            chosen = (lines >= low) & (lines <= high)
            if not chosen.any():
                # Narrower than a line: the nearest one.
                chosen[np.abs(lines - (low + high) / 2).argmin()] = True
            self._made[key] = np.sqrt(power[:, chosen].sum(axis=1))
        level: np.ndarray = self._made[key]
        return level, np.arange(len(level)) * (HOP / self.rate)

    def peaks(self, count: int) -> list[list[float]]:
        """Lowest and highest sample of each of ``count`` stretches, for a waveform."""
        if len(self.samples) == 0:
            return []
        starts = np.arange(min(count, len(self.samples))) * len(self.samples)
        starts = starts // min(count, len(self.samples))
        low = np.minimum.reduceat(self.samples, starts)
        high = np.maximum.reduceat(self.samples, starts)
        return [[round(float(a), 3), round(float(b), 3)] for a, b in zip(low, high, strict=True)]


def follow(level: np.ndarray, step: float, attack: float, release: float) -> np.ndarray:
    """A level that rises and falls no faster than it may: one pole up, another down.

    level : (T,), a round: what it was at the end counts before the beginning
    step : seconds from one to the next; attack, release : seconds to 63 % of a jump
    """
    rise = 1 - np.exp(-step / max(attack, 1e-6))
    fall = 1 - np.exp(-step / max(release, 1e-6))
    now = float(level[-1]) if len(level) else 0.0
    found = np.empty(len(level))
    # Once round before it counts, so that the end meets the beginning.
    for turn in range(2):
        for k, wanted in enumerate(level.tolist()):
            now += (wanted - now) * (rise if wanted > now else fall)
            if turn:
                found[k] = now
    return found
