"""Positions of the scene's points at another moment, for motion vectors."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zygomorph.render.final.things import Dots, Surface, Things


@dataclass(frozen=True)
class Moved:
    """Former positions, in the order of the scene's table of looks.

    rows : (R, 3) float32 metres: former positions of points, of bases in their own space; of dots
        their displacement since
    placements : (K, 12) float32, former placements of all copies
    known : (parts,) bool, whether the former positions of a part are known
    """

    rows: np.ndarray
    placements: np.ndarray
    known: np.ndarray


def moved(
    parts: Sequence[Surface | Dots],
    first_rows: Sequence[int],
    copied: Sequence[int],
    count: int,
    before: Things,
) -> Moved:
    """Former positions of a scene's parts.

    first_rows : first row of each part in the table of looks, which has ``count`` rows
    copied : numbers of the parts that have copies, in order
    before : the scene at the other moment

    Points are matched by number. The positions of a part whose faces or copies have changed are not
    known, nor those of loose points whose number has changed.
    """
    former: dict[tuple[str, int], Surface | Dots] = {}
    for part, key in _keyed((*before.surfaces, *before.dots)):
        former[key] = part
    rows = np.zeros((count, 3), np.float32)
    known = np.zeros(max(1, len(parts)), bool)
    placements: list[np.ndarray] = []
    for number, (part, key) in enumerate(_keyed(parts)):
        own = former.get(key)
        first = first_rows[number]
        if isinstance(part, Dots):
            if isinstance(own, Dots) and len(own.centres) == len(part.centres):
                rows[first : first + len(part.centres)] = part.centres - own.centres
                known[number] = True
            continue
        same = isinstance(own, Surface) and _same_faces(part, own)
        if same:
            assert isinstance(own, Surface)  # it was asked just now
            rows[first : first + len(part.points)] = own.points
            known[number] = True
        if number in copied:
            assert part.placements is not None  # copied are those that have some
            of_former = own.placements if same and isinstance(own, Surface) else part.placements
            assert of_former is not None  # the same has copies too
            placements.append(of_former.reshape(-1, 12))
    whole = np.concatenate(placements) if placements else np.zeros((1, 12), np.float32)
    return Moved(rows, whole, known)


def _keyed(
    parts: Sequence[Surface | Dots],
) -> Sequence[tuple[Surface | Dots, tuple[str, int]]]:
    """Parts with a key that is the same at both moments: piece, sort, and number among these."""
    seen: Counter[str] = Counter()
    found = []
    for part in parts:
        key = f"{part.piece}/{type(part).__name__}"
        found.append((part, (key, seen[key])))
        seen[key] += 1
    return found


def _same_faces(one: Surface, other: Surface) -> bool:
    if (one.placements is None) != (other.placements is None):
        return False
    if one.placements is not None and one.placements.shape != other.placements.shape:  # type: ignore[union-attr]
        return False
    return one.points.shape == other.points.shape and np.array_equal(one.triangles, other.triangles)
