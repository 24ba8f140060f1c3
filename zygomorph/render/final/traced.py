"""The result of tracing: radiance, alpha and the denoiser's guides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np


@dataclass(frozen=True)
class Traced:
    """A picture or some of its rows.

    light : (rows, columns, 3) float32 radiance, without the backdrop, multiplied by alpha
    alpha : (rows, columns) float32
    albedo, normal : (rows, columns, 3) float32, means over primary hits; normals on the stage
    pieces : (rows, columns, P, 4) float32, light and alpha of the paths that hit each piece first,
        and last of all others; P is 0 if that was not asked for
    """

    light: np.ndarray
    alpha: np.ndarray
    albedo: np.ndarray
    normal: np.ndarray
    pieces: np.ndarray

    @classmethod
    def below_each_other(cls, parts: Sequence[Traced]) -> Traced:
        """Joins rows of one picture, from the top."""
        names = [field.name for field in fields(cls)]
        return cls(*(np.concatenate([getattr(part, name) for part in parts]) for name in names))

    @classmethod
    def mean(cls, parts: Sequence[tuple[float, Traced]]) -> Traced:
        """The weighted mean of pictures, summed in a fixed order to give reproducible bytes."""
        whole = sum(weight for weight, _ in parts)
        names = [field.name for field in fields(cls)]

        def of(name: str) -> np.ndarray:
            first, *others = ((w / whole, getattr(part, name)) for w, part in parts)
            found = first[1] * np.float32(first[0])
            for weight, array in others:
                found = found + array * np.float32(weight)
            return found

        return cls(*(of(name) for name in names))
