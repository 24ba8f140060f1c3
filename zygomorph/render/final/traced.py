"""What tracing finds of a picture, before it is finished."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np


@dataclass(frozen=True)
class Traced:
    """What is found of a picture, or of some of its rows.

    light : (rows, columns, 3) float32 radiance, without what is behind everything
    alpha : (rows, columns) float32, how much of each pixel is covered
    albedo, normal : (rows, columns, 3) float32, means of what is seen first: its colour, and its
        unit normal on the stage
    pieces : (rows, columns, P, 4) float32, light and cover that is seen first of each of some
        pieces, which together are all light; P is 0 where that was not asked for
    """

    light: np.ndarray
    alpha: np.ndarray
    albedo: np.ndarray
    normal: np.ndarray
    pieces: np.ndarray

    @classmethod
    def below_each_other(cls, parts: Sequence[Traced]) -> Traced:
        """Rows of one picture, from the top."""
        names = [field.name for field in fields(cls)]
        return cls(*(np.concatenate([getattr(part, name) for part in parts]) for name in names))

    @classmethod
    def mean(cls, parts: Sequence[tuple[float, Traced]]) -> Traced:
        """The mean of pictures with their weights, always added in the same order."""
        whole = sum(weight for weight, _ in parts)
        names = [field.name for field in fields(cls)]

        def of(name: str) -> np.ndarray:
            first, *others = ((w / whole, getattr(part, name)) for w, part in parts)
            found = first[1] * np.float32(first[0])
            for weight, array in others:
                found = found + array * np.float32(weight)
            return found

        return cls(*(of(name) for name in names))
