"""When and where drops fall, how large they are and how strong: by chance that a seed decides."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.chance import by_chance

# The numbers of each drop that chance decides.
MOMENT, PLACE, SIZE, STRENGTH = range(4)
# Steps of a sequence that fills a square evenly (M. Roberts, "The Unreasonable Effectiveness of
# Quasirandom Sequences", 2018): powers of 1 / ρ, where ρ³ = ρ + 1.
EVEN = (0.7548776662466927, 0.5698402909980532)


@dataclass(frozen=True)
class Rain:
    """rate : drops in one loop
    frames : of the loop
    keeps : frames for which drops fall on the same spots; 0 where each has a place of its own
    spots : how many there are
    repeats : whether each loop has the same drops
    """

    rate: int
    frames: int
    seed: int
    keeps: int = 0
    spots: int = 1
    repeats: bool = True


@dataclass(frozen=True)
class Drops:
    """frame : (D,) when they fall
    place : (D, 2) from 0 to 1, by chance or evenly; size, strength : (D,) from 0 to 1
    """

    frame: np.ndarray
    place: np.ndarray
    size: np.ndarray
    strength: np.ndarray


def drops_between(rain: Rain, after: float, until: float, evenly: bool) -> Drops:
    """The drops that fall after one frame and until another."""
    rounds = range(int(np.floor(after / rain.frames)), int(np.floor(until / rain.frames)) + 1)
    found = [_of_a_loop(rain, each, evenly) for each in rounds if rain.rate > 0]
    if not found:
        return Drops(np.zeros(0), np.zeros((0, 2)), np.zeros(0), np.zeros(0))
    frame = np.concatenate([each.frame for each in found])
    chosen = (frame > after) & (frame <= until)
    return Drops(
        frame[chosen],
        np.concatenate([each.place for each in found])[chosen],
        np.concatenate([each.size for each in found])[chosen],
        np.concatenate([each.strength for each in found])[chosen],
    )


def _of_a_loop(rain: Rain, number: int, evenly: bool) -> Drops:
    index = np.arange(rain.rate)
    same = 0 if rain.repeats else number

    def chance(what: int, of: np.ndarray) -> np.ndarray:
        return by_chance(rain.seed, same, of, what)

    # One in each part of the loop, so that they neither crowd nor stay away.
    share = (index + chance(MOMENT, index)) / rain.rate
    place = index
    if rain.keeps:
        # Whole stretches fill the loop, so that it begins with new places.
        stretches = max(round(rain.frames / rain.keeps), 1)
        place = np.floor(share * stretches).astype(np.int64) * rain.spots + index % rain.spots
    if evenly:
        begin = by_chance(rain.seed, same, PLACE, np.arange(2))
        where = (begin + place[:, None] * np.array(EVEN)) % 1.0
    else:
        where = np.stack([chance(PLACE, 2 * place), chance(PLACE, 2 * place + 1)], axis=1)
    frame = (number + share) * rain.frames
    return Drops(frame, where, chance(SIZE, index), chance(STRENGTH, index))


def on_points(place: np.ndarray, weights: np.ndarray, points: np.ndarray) -> np.ndarray:
    """(D, 2) x and z: places from 0 to 1 as points of a mesh, each as likely as its weight.

    The second number goes unused. Raises ValueError where no point has a weight.
    """
    total = np.cumsum(np.maximum(weights.astype(np.float64), 0))
    if len(total) == 0 or total[-1] <= 0:
        raise ValueError("no point has a weight")
    chosen = np.searchsorted(total, place[:, 0] * total[-1], side="right")
    found: np.ndarray = points[np.minimum(chosen, len(points) - 1)][:, [0, 2]].astype(np.float64)
    return found
