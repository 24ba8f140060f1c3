"""Soft balls, their field, and the surface where it has a level."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, cached_property
from typing import NamedTuple

import numpy as np

from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.voxels.skin import Grid, Skin, skin_of
from zygomorph.core.kernels.soft_balls import (
    along_lines,
    field_at,
    field_of_balls,
    put_onto_level,
    strongest_at,
)

FALLOFFS = ("soft_objects", "metaballs")
# Bytes of a grid point: the field, and the number of its first point.
VOXEL_BYTES = 12
# Bins along the longest side in which balls are looked up.
MOST_BINS = 32
# Of a voxel, how far a point of the skin may be put right.
MOST_MOVED = 0.3
# How often the interval is halved in which a falloff has a level.
HALVINGS = 60


def falloff(q: np.ndarray, kind: str) -> np.ndarray:
    """What a ball gives at a share ``q`` of its reach; float64. See
    :mod:`zygomorph.core.kernels.soft_balls` for the sources."""
    q = np.clip(np.asarray(q, np.float64), 0, 1)
    if kind == "soft_objects":
        found: np.ndarray = 1 - 4 / 9 * q**6 + 17 / 9 * q**4 - 22 / 9 * q**2
        return found
    return np.where(q < 1 / 3, 1 - 3 * q**2, 1.5 * (1 - q) ** 2)


@cache
def share_at(level: float, kind: str) -> float:
    """The share of its reach at which a ball gives a level, between 0 and 1."""
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if float(falloff(np.array(middle), kind)) > level:
            low = middle
        else:
            high = middle
    return (low + high) / 2


class _Bins(NamedTuple):
    """starts, balls : those that reach into each bin; origin : (3,); sides : (4,) metres of a bin
    and the number of bins along each axis"""

    starts: np.ndarray
    balls: np.ndarray
    origin: np.ndarray
    sides: np.ndarray


@dataclass(frozen=True, eq=False)
class Balls:
    """centres : (B, 3) float32, metres
    radius : (B,) float32, metres: that of the surface of a ball of strength 1 alone
    strength : (B,) float32; below 0 it eats into others
    kind : of FALLOFFS; threshold : the level of the surface, between 0 and 1
    """

    centres: np.ndarray
    radius: np.ndarray
    strength: np.ndarray
    kind: str = FALLOFFS[0]
    threshold: float = 0.4

    @property
    def code(self) -> int:
        return FALLOFFS.index(self.kind)

    @cached_property
    def reach(self) -> np.ndarray:
        """(B,) float32: from there on a ball gives nothing."""
        found: np.ndarray = self.radius / np.float32(share_at(self.threshold, self.kind))
        return found.astype(np.float32)

    @property
    def box(self) -> tuple[np.ndarray, np.ndarray]:
        """Corners of a box outside of which there is no surface, (3,) metres each."""
        shown = (self.strength > 0) & (self.radius > 0)
        if not shown.any():
            return np.zeros(3), np.zeros(3)
        reach = self.reach[shown, None]
        centres = self.centres[shown]
        low, high = (centres - reach).min(axis=0), (centres + reach).max(axis=0)
        return low.astype(np.float64), high.astype(np.float64)

    def grid(self, cell: float) -> Grid:
        """Raises ZygomorphError where there would be too many voxels."""
        grid = Grid.around(*self.box, cell, cell)
        within_budget(grid.count, VOXEL_BYTES, hint="Choose larger voxels", unit="voxels")
        return grid

    def field(self, grid: Grid) -> np.ndarray:
        """(X, Y, Z) float32: the threshold less the field, below 0 inside."""
        found = np.full(grid.shape, np.float32(self.threshold))
        field_of_balls(
            self.centres,
            self.reach,
            -self.strength,
            self.code,
            grid.origin.astype(np.float32),
            np.float32(grid.cell),
            found,
        )
        return found

    def skin(self, cell: float) -> Skin:
        """The surface on voxels of a size, metres, with points and normals as the field has them:
        marching cubes meet it between grid points only nearly."""
        grid = self.grid(cell)
        skin = skin_of(self.field(grid), grid)
        put_onto_level(
            skin.points,
            skin.normals,
            np.float32(self.threshold),
            np.float32(MOST_MOVED * cell),
            self.centres,
            self.reach,
            self.strength,
            self.code,
            *self._bins,
        )
        return skin

    @cached_property
    def _bins(self) -> _Bins:
        if len(self.centres) == 0:
            return _Bins(
                np.zeros(2, np.int32),
                np.zeros(0, np.int32),
                np.zeros(3, np.float32),
                np.ones(4, np.float32),
            )
        reach = self.reach[:, None]
        low, high = (self.centres - reach).min(axis=0), (self.centres + reach).max(axis=0)
        side = max(float((high - low).max()) / MOST_BINS, 1e-6)
        counts = np.maximum(np.ceil((high - low) / side), 1).astype(np.int64)
        first = np.clip((self.centres - reach - low) // side, 0, counts - 1).astype(np.int64)
        last = np.clip((self.centres + reach - low) // side, 0, counts - 1).astype(np.int64)
        span = last - first + 1
        many = span.prod(axis=1)
        ball = np.repeat(np.arange(len(many)), many)
        nth = ragged(np.zeros(len(many), np.int64), many)
        k = nth % span[ball, 2]
        j = nth // span[ball, 2] % span[ball, 1]
        i = nth // (span[ball, 2] * span[ball, 1])
        at = first[ball] + np.stack([i, j, k], axis=1)
        flat = (at[:, 0] * counts[1] + at[:, 1]) * counts[2] + at[:, 2]
        order = np.argsort(flat, kind="stable")
        starts = np.concatenate([[0], np.cumsum(np.bincount(flat, minlength=counts.prod()))])
        return _Bins(
            starts.astype(np.int32),
            ball[order].astype(np.int32),
            low.astype(np.float32),
            np.array([side, *counts], np.float32),
        )

    def at(self, points: np.ndarray) -> np.ndarray:
        """(P,) float32: the field at points, (P, 3) float32."""
        return self._at(points, np.empty((0, 3), np.float32))

    def sloped(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The same, and how it changes per metre, (P, 3) float32."""
        slopes = np.empty((len(points), 3), np.float32)
        return self._at(points, slopes), slopes

    def _at(self, points: np.ndarray, slopes: np.ndarray) -> np.ndarray:
        out = np.empty(len(points), np.float32)
        field_at(
            points, self.centres, self.reach, self.strength, self.code, *self._bins, out, slopes
        )
        return out

    def strongest(self, points: np.ndarray) -> np.ndarray:
        """(P,) int32: the ball that gives most at points, (P, 3) float32; -1 where none does."""
        out = np.empty(len(points), np.int32)
        strongest_at(points, self.centres, self.reach, self.strength, self.code, *self._bins, out)
        return out

    def met(self, points: np.ndarray, way: np.ndarray, cell: float) -> np.ndarray:
        """(P,) float32 metres along a direction, (3,), from points to the last place where a line
        through each leaves the balls; not a number where it meets none.

        cell : metres, what is thinner may be missed
        """
        low, high = self.box
        corners = np.array([[low[0], low[1], low[2]], [high[0], high[1], high[2]]])
        every = np.stack(np.meshgrid(*corners.T, indexing="ij"), axis=-1).reshape(-1, 3)
        along = every @ way
        out = np.empty(len(points), np.float32)
        along_lines(
            points,
            way.astype(np.float32),
            np.float32(along.min()),
            np.float32(along.max()),
            np.float32(cell),
            np.float32(self.threshold),
            self.centres,
            self.reach,
            self.strength,
            self.code,
            *self._bins,
            out,
        )
        return out
