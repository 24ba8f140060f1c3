"""How a surface goes through a cube, for each of the 256 ways in which its corners can lie inside
or outside.

Made by rule instead of taken from a table: on a face of the cube with two inner corners across from
each other these are kept apart. Whether they are depends on the corners of that face alone, so that
neighbouring cubes agree and the surface is closed (the flaw of the first tables: M. J. Dürst,
"Additional reference to 'marching cubes'", 1988). No diagonal of a polygon lies in a face of the
cube, so that no edge has more than two triangles.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

import numpy as np

# The corners of each face of the cube, counter-clockwise seen from outside; a corner's number has
# bit 1 for x, 2 for y and 4 for z.
FACES = ((0, 4, 6, 2), (1, 3, 7, 5), (0, 1, 5, 4), (2, 6, 7, 3), (0, 2, 3, 1), (4, 5, 7, 6))

Edge = tuple[int, int]
Triangle = tuple[Edge, Edge, Edge]


def _edge(one: int, other: int) -> Edge:
    return (min(one, other), max(one, other))


def _number(edge: Edge) -> int:
    """4 times the axis of an edge, plus the two other coordinates of where it begins, as bits."""
    low, high = edge
    axis = (1, 2, 4).index(low ^ high)
    others = [low >> bit & 1 for bit in range(3) if bit != axis]
    return 4 * axis + others[0] + 2 * others[1]


def _loops(case: int) -> list[list[Edge]]:
    """The closed ways along which the surface meets the faces of the cube."""
    after: dict[Edge, Edge] = {}
    for face in FACES:
        inside = [bool(case >> corner & 1) for corner in face]
        for k in range(4):
            if inside[k] and not inside[k - 1]:
                # From where the rim of the face enters the inside, on to where it leaves it.
                end = k
                while inside[(end + 1) % 4]:
                    end += 1
                enters = _edge(face[k - 1], face[k])
                leaves = _edge(face[end % 4], face[(end + 1) % 4])
                after[enters] = leaves
    found = []
    while after:
        begin, to = after.popitem()
        loop = [begin]
        while to != begin:
            loop.append(to)
            to = after.pop(to)
        found.append(loop)
    return found


def _share_a_face(one: Edge, other: Edge) -> bool:
    corners = {*one, *other}
    return any(corners <= set(face) for face in FACES)


def _triangulations(loop: list[Edge]) -> Iterator[list[Triangle]]:
    """All ways to cut a polygon into triangles of which no diagonal lies in a face."""
    if len(loop) < 3:
        yield []
        return
    first, last = loop[0], loop[-1]
    for k in range(1, len(loop) - 1):
        before, behind = loop[: k + 1], loop[k:]
        if len(before) > 2 and _share_a_face(first, loop[k]):
            continue
        if len(behind) > 2 and _share_a_face(loop[k], last):
            continue
        for one in _triangulations(before):
            for other in _triangulations(behind):
                yield [*one, (first, loop[k], last), *other]


@cache
def cube_cases() -> tuple[np.ndarray, np.ndarray]:
    """Where the triangles of each case begin, (257,), and the edges on which their corners lie,
    (n, 3); int32. They look away from the inside."""
    starts, edges = [0], []
    for case in range(256):
        for loop in _loops(case):
            for triangle in next(_triangulations(loop)):
                edges.append([_number(edge) for edge in triangle])
        starts.append(len(edges))
    return np.array(starts, np.int32), np.array(edges, np.int32)
