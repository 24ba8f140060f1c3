"""How a final picture is drawn."""

from __future__ import annotations

from dataclasses import dataclass

from zygomorph.core.errors import ZygomorphError

MOST_SAMPLES = 16_384
MOST_BOUNCES = 64
MOST_MOMENTS = 64


@dataclass(frozen=True)
class FinalSettings:
    """size : (columns, rows)
    samples : paths that each pixel is the mean of
    bounces : how often light is thrown on at most before it is lost
    clamp : the most light that one path may bring besides what is seen directly; 0 for any. Less
        noise, and less light from what is small and very bright
    moments : at how many moments things are drawn while the shutter is open; 1 without motion blur
    noise_removal : whether what is left of the noise is removed
    transparent : without the backdrop
    """

    size: tuple[int, int] = (1280, 720)
    samples: int = 64
    bounces: int = 8
    clamp: float = 10.0
    moments: int = 1
    noise_removal: bool = True
    transparent: bool = False

    def check(self) -> None:
        """Raises ZygomorphError with what cannot be drawn so."""
        for name, value, most in (
            ("samples", self.samples, MOST_SAMPLES),
            ("bounces", self.bounces, MOST_BOUNCES),
            ("moments of motion blur", self.moments, MOST_MOMENTS),
        ):
            if not 1 <= value <= most:
                raise ZygomorphError(
                    f"{value} {name} cannot be drawn.", f"Choose from 1 to {most:,}."
                )
        if not 0 <= self.clamp < float("inf"):
            raise ZygomorphError(f"A clamp of {self.clamp} is none.", "Choose 0 or more.")
