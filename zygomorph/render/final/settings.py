"""Settings of path tracing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zygomorph.core.errors import ZygomorphError

MOST_SAMPLES = 16_384
MOST_BOUNCES = 64
MOST_MOMENTS = 64


# What can be had of a picture besides its light, see :mod:`zygomorph.render.final.layers`.
LayerName = Literal["depth", "normals", "motion", "albedo", "shadow", "pieces"]
LAYERS: tuple[LayerName, ...] = ("depth", "normals", "motion", "albedo", "shadow", "pieces")


@dataclass(frozen=True)
class FinalSettings:
    """size : (columns, rows)
    samples : paths for each pixel
    bounces : scatterings of a path at most
    clamp : greatest luminance of a path's indirect light, 0 for none: less noise, but darker
        reflections of small bright things
    moments : of the open shutter at which the scene is drawn; 1 without motion blur
    noise_removal : whether the picture is denoised
    transparent : without the backdrop
    layers : other layers; masks : (piece, step) of each mask that is a layer
    """

    size: tuple[int, int] = (1280, 720)
    samples: int = 64
    bounces: int = 8
    clamp: float = 10.0
    moments: int = 1
    noise_removal: bool = True
    transparent: bool = False
    layers: tuple[LayerName, ...] = ()
    masks: tuple[tuple[str, str], ...] = ()

    def check(self) -> None:
        """Raises ZygomorphError if a value is out of range."""
        for name, value, most in (
            ("samples", self.samples, MOST_SAMPLES),
            ("bounces", self.bounces, MOST_BOUNCES),
            ("moments of motion blur", self.moments, MOST_MOMENTS),
        ):
            if not 1 <= value <= most:
                raise ZygomorphError(
                    f"{value} {name} cannot be drawn.", f"Choose from 1 to {most:,}."
                )
        unknown = sorted(set(self.layers) - set(LAYERS))
        if unknown:
            raise ZygomorphError(
                f"There is no layer {unknown[0]!r}.", f"Layers: {', '.join(LAYERS)}."
            )
        if not 0 <= self.clamp < float("inf"):
            raise ZygomorphError(f"A clamp of {self.clamp} is none.", "Choose 0 or more.")
