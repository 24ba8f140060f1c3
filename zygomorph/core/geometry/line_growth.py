"""Lines that grow longer than the room they have, and fold: differential growth.

Each point is drawn to the middle of its two neighbours and pushed away from all points that are
near; a side that has become too long is parted in two. (P. Prusinkiewicz & A. Lindenmayer, "The
Algorithmic Beauty of Plants", 1990, describe growing filaments; the scheme of attraction, repulsion
and parting is common practice.)
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from zygomorph.core.cancelling import go_on

# Of the reach: the longest side, the shortest that parts, and the longest way in a round.
LONGEST, SHORTEST, FARTHEST = 0.6, 0.05, 0.12
# Share of all sides that part by chance in a round.
RATE = 0.01
# How strongly a point is drawn to the middle of its neighbours, and pushed by what is near.
DRAWN, PUSHED, NUDGED = 0.45, 0.12, 0.01
# By how much longer all lines together are from one stage to the next, where nothing moves faster.
LONGER = 1.06
# Rounds from a stage to the next, and altogether, at most.
MOST_BETWEEN, MOST_ROUNDS = 40, 4000


@dataclass(frozen=True)
class Stage:
    """Lines at one time of their growth; each stage has all points of the one before, and more.

    points : (n, 3) float64, metres, line after line
    starts : (K + 1,) int64, where each line begins
    along : (n,) float64: where each point was on the stage before, as the number of a point there
        and the share of the way from it to the next
    root : (n,) float64, the same on the first stage
    """

    points: np.ndarray
    starts: np.ndarray
    along: np.ndarray
    root: np.ndarray


@dataclass(frozen=True)
class Growing:
    """What decides how lines grow.

    reach : metres within which points push each other away
    longer : how many times as long they become, altogether
    most : points at most
    plane : (3, 3), whose rows are two directions along which lines may go, and the third across;
        None where they may go anywhere
    seed : of chance, by which sides grow and what lies straight begins to fold
    part : (n,) float64 from 0 to 1 of the points of the first stage: how readily sides grow there
    """

    reach: float
    longer: float
    most: int
    plane: np.ndarray | None
    seed: int
    part: np.ndarray


def grown_lines(
    points: np.ndarray, starts: np.ndarray, closed: np.ndarray, how: Growing
) -> list[Stage]:
    """Stages of growth, the first of which is the lines themselves.

    points : (n, 3), metres, line after line; starts : (K + 1,); closed : (K,) bool
    """
    at = points.astype(np.float64)
    bounds = starts.astype(np.int64)
    own = np.arange(len(at), dtype=np.float64)
    stages = [Stage(at, bounds, own, own)]
    wanted = how.longer * _length(at, _next(bounds, closed))
    since, last = own, 0
    chance = np.random.default_rng(how.seed)
    for number in range(1, MOST_ROUNDS):
        if number % 8 == 0:
            go_on()
        after = _next(bounds, closed)
        at = at + _ways(at, after, stages[0].points, _roots(stages[-1], since), how, chance)
        lengths = _sides(at, after)
        ready = np.interp(_roots(stages[-1], since), stages[0].root, how.part)
        # Sides part by chance, which is growth; and where they have become too long.
        parts = (chance.random(len(at)) < RATE * ready) & (lengths > SHORTEST * how.reach)
        long = np.flatnonzero((parts | (lengths > LONGEST * how.reach)) & (ready > 0))
        if len(long):
            at, since, bounds = _parted(at, since, bounds, after, long, stages[-1].starts)
        length, before = _length(at, _next(bounds, closed)), _length(*_shape(stages[-1], closed))
        done = length >= wanted or len(at) >= how.most
        if done or length > LONGER * before or number - last >= MOST_BETWEEN:
            if number - last >= MOST_BETWEEN and length < before * (1 + 1e-4):
                # Nothing grows any more: what has no room, or may not.
                break
            stages.append(Stage(at, bounds, since, _roots(stages[-1], since)))
            since, last = np.arange(len(at), dtype=np.float64), number
        if done:
            break
    return stages


def _next(starts: np.ndarray, closed: np.ndarray) -> np.ndarray:
    """(n,) the point after each in its line, or -1."""
    after = np.arange(1, starts[-1] + 1)
    filled = np.diff(starts) > 0
    after[starts[1:][filled] - 1] = np.where(closed[filled], starts[:-1][filled], -1)
    return after


def _shape(stage: Stage, closed: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    return stage.points, _next(stage.starts, closed)


def _sides(at: np.ndarray, after: np.ndarray) -> np.ndarray:
    """(n,) metres from each point to the next, 0 at ends."""
    lengths: np.ndarray = np.where(after >= 0, np.linalg.norm(at[after] - at, axis=1), 0)
    return lengths


def _length(at: np.ndarray, after: np.ndarray) -> float:
    return float(_sides(at, after).sum())


def _ways(
    at: np.ndarray,
    after: np.ndarray,
    first: np.ndarray,
    roots: np.ndarray,
    how: Growing,
    chance: np.random.Generator,
) -> np.ndarray:
    """(n, 3) how far each point goes in a round."""
    inside = np.flatnonzero(after >= 0)
    before = np.full(len(at), -1)
    before[after[inside]] = inside
    free = (after >= 0) & (before >= 0)
    middle = np.where(free[:, None], (at[before] + at[after]) / 2, at)
    ways = DRAWN * (middle - at) + PUSHED * how.reach * _pushes(at, how.reach)
    ways += NUDGED * how.reach * chance.uniform(-1, 1, at.shape)
    if how.plane is not None:
        along = how.plane[:2]
        ways = ways @ along.T @ along
    far = np.linalg.norm(ways, axis=1, keepdims=True)
    ways *= np.minimum(1, FARTHEST * how.reach / np.maximum(far, 1e-12))
    # What the mask leaves out, and ends of open lines, stay where they are.
    ways *= np.where(free, np.interp(roots, np.arange(len(first)), how.part), 0)[:, None]
    return ways


def _pushes(at: np.ndarray, reach: float) -> np.ndarray:
    """(n, 3) away from all that is near: 1 from what is in the same place, 0 from within reach."""
    pairs = cKDTree(at).query_pairs(reach, output_type="ndarray")
    ways = at[pairs[:, 0]] - at[pairs[:, 1]]
    far = np.maximum(np.linalg.norm(ways, axis=1), 1e-9)
    ways *= ((1 - far / reach) / far)[:, None]
    total = np.empty_like(at)
    for axis in range(3):
        total[:, axis] = np.bincount(pairs[:, 0], ways[:, axis], len(at))
        total[:, axis] -= np.bincount(pairs[:, 1], ways[:, axis], len(at))
    return total


def _parted(
    at: np.ndarray,
    since: np.ndarray,
    starts: np.ndarray,
    after: np.ndarray,
    long: np.ndarray,
    earlier: np.ndarray,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The lines with a point more in the middle of each side that is too long.

    since : (n,) where points were on the stage before; earlier : (K + 1,) its lines
    """
    ends = after[long]
    line = np.searchsorted(starts, long, side="right") - 1
    # A side that closes its line goes on past the last point of the stage before.
    round_ = np.where(ends <= long, np.diff(earlier)[line], 0)
    order = np.argsort(np.concatenate([np.arange(len(at)), long + 0.5]), kind="stable")
    points = np.concatenate([at, (at[long] + at[ends]) / 2])[order]
    found = np.concatenate([since, (since[long] + since[ends] + round_) / 2])[order]
    new = np.bincount(line, minlength=len(starts) - 1)
    return points, found, starts + np.concatenate([[0], np.cumsum(new)])


def _roots(stage: Stage, along: np.ndarray) -> np.ndarray:
    """(n,) places on the first stage of places on another."""
    return _between(stage, stage.root[:, None], along, 1.0)[:, 0]


def place_along(stage: Stage, along: np.ndarray) -> np.ndarray:
    """(n, 3) places of a stage, which may be between two of its points."""
    return _between(stage, stage.points, along, 0.0)


def _between(stage: Stage, values: np.ndarray, along: np.ndarray, counts: float) -> np.ndarray:
    """Values of the points of a stage at places between them, (n, …).

    counts : 1 where the values are numbers of points that go on past the last of a closed line
    """
    first = np.minimum(along.astype(np.int64), len(values) - 1)
    line = np.searchsorted(stage.starts, first, side="right") - 1
    second = first + 1
    past = second >= stage.starts[line + 1]
    second = np.where(past, stage.starts[line], second)
    share = (along - first)[:, None]
    other = values[second]
    if counts:
        # The first point of a line stands, past its last, for one more than there are of the root.
        ends = _root_counts(stage)[line]
        other = np.where(past[:, None], values[stage.starts[line]] + ends[:, None], other)
    return values[first] * (1 - share) + other * share


def _root_counts(stage: Stage) -> np.ndarray:
    """(K,) points that each line has at the first stage: its points there keep whole numbers."""
    kept = stage.root == np.floor(stage.root)
    return np.add.reduceat(kept.astype(np.float64), stage.starts[:-1])


def thinned(
    points: np.ndarray, starts: np.ndarray, closed: np.ndarray, least: float
) -> tuple[np.ndarray, np.ndarray]:
    """Which points of lines are left so that they are no nearer to each other, along the line, than
    a length, but for the ends; (m,) int64, and where each line then begins, (K + 1,).

    least : metres
    """
    kept: list[np.ndarray] = []
    for line in range(len(closed)):
        own = np.arange(starts[line], starts[line + 1])
        if len(own) == 0:
            kept.append(own)
            continue
        way = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(points[own], axis=0), axis=1))])
        slots = np.floor(way / least)
        first = np.concatenate([[True], slots[1:] != slots[:-1]])
        if not closed[line]:
            first[-1] = True
        # Fewer than three points do not go round anything.
        kept.append(own[first] if first.sum() >= min(3, len(own)) else own)
    return np.concatenate(kept), np.concatenate([[0], np.cumsum([len(each) for each in kept])])


def lengths_of(stages: list[Stage], closed: np.ndarray) -> np.ndarray:
    """(S,) metres of all lines together at each stage."""
    return np.array([_length(*_shape(stage, closed)) for stage in stages])
