"""Where what is drawn was at another moment, as rows beside those of its looks."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zygomorph.render.final.things import Dots, Surface, Things


@dataclass(frozen=True)
class Moved:
    """rows : (R, 3) float32 metres: where corners were, of a base in its own space; of dots by how
        much they have moved since
    placements : (K, 12) float32 of all copies, as they were
    known : (parts,) bool, whether it is known of a part where it was
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
    """What was where, of things as they are.

    first_rows : of the parts in their table of looks, which has count rows
    copied : numbers of the parts that have copies, in their order

    Points are told by their numbers: a part whose faces or copies have changed has none that is
    known, and neither have loose points that have become more or fewer.
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
    """Parts with their piece and how many of it came before."""
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
