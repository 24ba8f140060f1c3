"""Pictures and films by their names: those that were brought in, and those that come with the
program."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.domes import DOMES, dome
from zygomorph.core.geometry.image import ColourImage, HeightImage, woven
from zygomorph.core.geometry.lit_spheres import SPHERES, lit_sphere


@dataclass(frozen=True)
class Film:
    """frames : how many pictures; rate : a second, None of pictures without one"""

    frames: int
    rate: float | None = None


WEAVE = Film(1)


class Images:
    """Pictures and films by their names; "" is a weave. Those of one kind of place are a subclass.

    Each method raises ZygomorphError where there is nothing of that name; number : of the picture
    of a film.
    """

    @staticmethod
    def comes_with_program(name: str) -> bool:
        return name in SPHERES

    def heights(self, name: str, number: int = 0) -> HeightImage:
        return self._heights(name, number) if name else woven()

    def colours(self, name: str, number: int = 0) -> ColourImage:
        if self.comes_with_program(name):
            return lit_sphere(name)
        if name:
            return self._colours(name, number)
        grey = np.rint(woven().pixels * 255).astype(np.uint8)
        return ColourImage(np.dstack([grey, grey, grey, np.full_like(grey, 255)]))

    def size(self, name: str, number: int = 0) -> tuple[int, int]:
        """Its columns and rows."""
        rows, columns = self.heights(name, number).pixels.shape
        return columns, rows

    def film(self, name: str) -> Film:
        return self._film(name) if name else WEAVE

    @cached_property
    def known(self) -> dict[Hashable, np.ndarray]:
        """What others have found out about its pictures, and keep here."""
        return {}

    def radiance(self, name: str) -> np.ndarray:
        """(rows, columns, 3) float32 linear light, of a picture all round; of one that has no more
        than colours these."""
        if name in DOMES:
            return dome(name)
        return self._radiance(name) if name else self._by_colours("")

    def _by_colours(self, name: str) -> np.ndarray:
        shown = self.colours(name).pixels[..., :3].astype(np.float32) / np.float32(255)
        # The screen's curve, IEC 61966-2-1.
        light: np.ndarray = np.where(
            shown <= 0.04045, shown / 12.92, ((shown + 0.055) / 1.055) ** 2.4
        ).astype(np.float32)
        return light

    def _radiance(self, name: str) -> np.ndarray:
        return self._by_colours(name)

    def _heights(self, name: str, number: int) -> HeightImage:
        raise _not_stored(name)

    def _colours(self, name: str, number: int) -> ColourImage:
        raise _not_stored(name)

    def _film(self, name: str) -> Film:
        raise _not_stored(name)


def _not_stored(name: str) -> ZygomorphError:
    return ZygomorphError(
        f"The picture {name[:12]} is not stored here.",
        "Bring the picture in again and choose it.",
    )
