"""The loop: F frames at R frames a second; frame F is frame 0 again."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Loop:
    """frames : whole number of frames; rate : frames a second."""

    frames: int = 240
    rate: float = 24.0

    @property
    def seconds(self) -> float:
        return self.frames / self.rate
