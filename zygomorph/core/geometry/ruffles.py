"""What has grown of lines by a moment: the lines, or the surface between their stages.

Each stage lies over the one before, so that the surface ruffles towards its rim.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.line_growth import Stage, place_along
from zygomorph.core.geometry.topology import Topology


@dataclass(frozen=True)
class Ruffles:
    """Lines and all their growth.

    stages : S of them; lengths : (S,) metres of all lines together, never less than before
    closed : (K,) bool; up : (3,) across the plane in which they lie
    """

    stages: list[Stage]
    lengths: np.ndarray
    closed: np.ndarray
    up: np.ndarray

    @property
    def last(self) -> int:
        """Number of the last stage, 1 where nothing grows."""
        return max(len(self.stages) - 1, 1)

    def moment(self, share: float) -> float:
        """The stage, with its part, at which lines have a share of the length that they gain."""
        lengths = self.lengths
        wanted = lengths[0] + share * (lengths[-1] - lengths[0])
        return float(np.interp(wanted, lengths, np.arange(len(lengths))))

    def number(self, moment: float) -> int:
        """Of the stage that is on its way."""
        return min(int(np.ceil(moment)), len(self.stages) - 1)

    def places(self, moment: float) -> np.ndarray:
        """(n, 3) float64 where the points of that stage are on their way to it."""
        number = self.number(moment)
        points = self.stages[number].points
        if number == 0:
            return points
        birth = place_along(self.stages[number - 1], self.stages[number].along)
        found: np.ndarray = birth + (moment - (number - 1)) * (points - birth)
        return found

    def born(self, number: int) -> np.ndarray:
        """(n,) the stages at which the points of a stage were born."""
        born = np.zeros(len(self.stages[0].points))
        for each in range(1, number + 1):
            along = self.stages[each].along
            old = along == np.floor(along)
            later = np.full(len(along), float(each))
            later[old] = born[along[old].astype(np.int64)]
            born = later
        return born


@dataclass(frozen=True)
class Made:
    """What is there at a moment.

    places : (n, 3) float64, metres
    first, second : (n,) points of the first stage that each is from; share : (n,) of the second
    age : (n,) stages since each point was born
    uv : (c, 2) float32 of corners; None of lines
    """

    topology: Topology
    places: np.ndarray
    first: np.ndarray
    second: np.ndarray
    share: np.ndarray
    age: np.ndarray
    uv: np.ndarray | None = None


def lines_at(grown: Ruffles, moment: float) -> Made:
    """The lines alone."""
    number = grown.number(moment)
    stage = grown.stages[number]
    topology = Topology(
        len(stage.points),
        curve_points=np.arange(len(stage.points), dtype=np.int32),
        curve_starts=stage.starts.astype(np.int32),
        curve_closed=grown.closed,
    )
    places = grown.places(moment)
    return Made(topology, places, *_from(grown, stage), moment - grown.born(number))


def surface_at(grown: Ruffles, moment: float, height: float) -> Made:
    """The surface through all stages up to a moment; nothing before there are two.

    height : metres that the last stage lies over the first
    """
    number = grown.number(moment)
    used = grown.stages[: number + 1] if number else []
    levels = np.minimum(np.arange(len(used)), moment) / grown.last
    layers = [stage.points for stage in used[:-1]] + ([grown.places(moment)] if used else [])
    first = np.concatenate([[0], np.cumsum([len(layer) for layer in layers])]).astype(np.int64)
    faces = [
        faces_between(used[k], used[k + 1], grown.closed, int(first[k]), int(first[k + 1]))
        for k in range(number)
    ]
    triangles = np.concatenate([*faces, np.zeros((0, 3), np.int64)])
    if _turns_right(grown):
        # Outwards, of what goes round something.
        triangles = triangles[:, ::-1]
    topology = Topology(
        int(first[-1]),
        np.ascontiguousarray(triangles.reshape(-1), np.int32),
        (3 * np.arange(len(triangles) + 1)).astype(np.int32),
    )
    sizes = [len(layer) for layer in layers]
    level = np.repeat(levels, sizes)
    places = np.concatenate([*layers, np.zeros((0, 3))]) + height * level[:, None] * grown.up
    parts = [_from(grown, stage) for stage in used]
    lows, highs, shares = (
        np.concatenate([*(part[k] for part in parts), np.zeros(0, kind)])
        for k, kind in enumerate((np.int64, np.int64, np.float64))
    )
    age = moment - np.repeat(np.arange(float(len(used))), sizes)
    root = np.concatenate([*(stage.root for stage in used), np.zeros(0)])
    uv = _uv(root / len(grown.stages[0].points), level, triangles)
    return Made(topology, places, lows, highs, shares, age, uv)


def _from(grown: Ruffles, stage: Stage) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(n,) each: the two points of the first stage that each of a stage is between, and the share
    of the second."""
    starts = grown.stages[0].starts
    line = np.repeat(np.arange(len(starts) - 1), np.diff(stage.starts))
    low = np.minimum(stage.root.astype(np.int64), starts[line + 1] - 1)
    past = low + 1 >= starts[line + 1]
    high = np.where(past, np.where(grown.closed[line], starts[line], low), low + 1)
    return low, high, stage.root - low


def _uv(along: np.ndarray, up: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """(c, 2) float32: u along the lines, v up the surface."""
    u = along[triangles]
    # A face that closes its line ends where it is round, not at its beginning.
    u = np.where(u.max(axis=1, keepdims=True, initial=0) - u > 0.5, u + 1, u)
    uv: np.ndarray = np.stack([u, up[triangles]], axis=2).reshape(-1, 2).astype(np.float32)
    return uv


def _turns_right(grown: Ruffles) -> bool:
    """Whether the first closed line goes round with its inside to its right, seen from above."""
    if not grown.closed.any():
        return False
    first = grown.stages[0]
    line = int(np.flatnonzero(grown.closed)[0])
    own = first.points[first.starts[line] : first.starts[line + 1]]
    away = own - own.mean(axis=0)
    return bool(np.cross(away, np.roll(away, -1, axis=0)).sum(axis=0) @ grown.up < 0)


def faces_between(
    below: Stage, above: Stage, closed: np.ndarray, first_below: int, first_above: int
) -> np.ndarray:
    """(n, 3) int64 triangles between a stage and the next, all of which look to the right of
    the lines' way, seen with the later stage above.

    first_below, first_above : numbers that the points of each begin with
    """
    found = []
    for line in range(len(closed)):
        low = np.arange(below.starts[line], below.starts[line + 1])
        high = np.arange(above.starts[line], above.starts[line + 1])
        if len(low) < 2:
            continue
        found.append(_strip(low, high, above.along[high], bool(closed[line])))
    if not found:
        return np.zeros((0, 3), np.int64)
    both = np.concatenate(found)
    shift = np.where(both >= 0, first_below, first_above)
    numbers: np.ndarray = np.where(both >= 0, both, -1 - both) + shift
    return numbers


def _strip(low: np.ndarray, high: np.ndarray, along: np.ndarray, closed: bool) -> np.ndarray:
    """Triangles of one line; points above are told as -1 - number.

    Each side above has the nearer end of the side below it as its apex; each side below has the
    point above where the apex changes.
    """
    ends = np.append(along[1:], low[0] + len(low)) if closed else along[1:]
    starts = along[: len(ends)]
    tops = high[: len(ends)]
    after_tops = np.roll(high, -1)[: len(ends)]
    side = np.minimum(starts.astype(np.int64) - low[0], len(low) - 1)
    late = (starts + ends) / 2 > side + low[0] + 0.5
    sides = len(low) if closed else len(low) - 1
    next_low = np.roll(low, -1)
    apex = np.where(late, next_low[side], low[side])
    over = np.stack([-1 - tops, apex, -1 - after_tops], axis=1)
    # Above each side below: as many sides as have its first end as their apex come before.
    early = np.bincount(side[~late], minlength=sides)
    begins = np.searchsorted(side, np.arange(sides))
    middle = high[(begins + early) % len(high)]
    under = np.stack([low[:sides], next_low[:sides], -1 - middle], axis=1)
    return np.concatenate([over, under])
