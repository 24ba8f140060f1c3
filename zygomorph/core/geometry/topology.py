"""Which points make up which faces and curves; shared by all frames that do not change it."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

import numpy as np
import scipy

from zygomorph.core.geometry.clipping import clipped, concave_faces
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.memo.memo import Memo

T = TypeVar("T")
# What is derived of a topology and kept with it: at least so many bytes, or so many times its own.
LEAST_DERIVED_BYTES = 32_000_000
TIMES_DERIVED = 40


def _none() -> np.ndarray:
    return np.zeros(0, np.int32)


def _start() -> np.ndarray:
    return np.zeros(1, np.int32)


@dataclass(frozen=True)
class Grid:
    """Rows of points, each joined to its neighbours by quads.

    Point (i, j) has the number j · across + i; faces run (i, j), (i, j+1), (i+1, j+1), (i+1, j).
    A wrapped direction joins its last points to its first.
    """

    across: int
    down: int
    wrap_columns: bool = False
    wrap_rows: bool = False


@dataclass(frozen=True, eq=False)
class Topology:
    """Polygons and curves over numbered points.

    corners : (C,) int32, the points of all polygons, one polygon after the other,
        counter-clockwise seen from outside
    face_starts : (F + 1,) int32, where each polygon begins in ``corners``
    curve_points, curve_starts : the same for curves
    curve_closed : (K,) bool, whether the last point of a curve joins its first
    grid : where the polygons are one whole grid, how it is laid out
    cut : (T, 3) int32 corner numbers of the triangles into which the polygons are cut, where that
        depends on where their points are: see :meth:`triangulated`
    closed_as_welded : the polygons are cut apart for drawing only, and closed where they are not
    """

    point_count: int
    corners: np.ndarray = field(default_factory=_none)
    face_starts: np.ndarray = field(default_factory=_start)
    curve_points: np.ndarray = field(default_factory=_none)
    curve_starts: np.ndarray = field(default_factory=_start)
    curve_closed: np.ndarray = field(default_factory=lambda: np.zeros(0, bool))
    grid: Grid | None = None
    cut: np.ndarray | None = None
    closed_as_welded: bool = False

    @property
    def face_count(self) -> int:
        return len(self.face_starts) - 1

    @property
    def curve_count(self) -> int:
        return len(self.curve_starts) - 1

    def derived(self, key: tuple[Hashable, ...], make: Callable[[], T]) -> T:
        """Something made of this topology alone, made once for each key."""
        memo: Memo[Any] | None = self.__dict__.get("_derived")
        if memo is None:
            memo = self.__dict__.setdefault("_derived", Memo(self._derived_bytes))
        found: T = memo.once(key, make)
        return found

    @property
    def _derived_bytes(self) -> int:
        """As much as may be made of it: some tens of times what it is itself."""
        own = self.point_count * 4 + self.corners.nbytes + self.curve_points.nbytes
        return max(LEAST_DERIVED_BYTES, TIMES_DERIVED * own)

    @cached_property
    def sides(self) -> int:
        """Corners of every face where all have the same number, else 0."""
        sizes = np.diff(self.face_starts)
        return int(sizes[0]) if len(sizes) and bool(np.all(sizes == sizes[0])) else 0

    @cached_property
    def digest(self) -> str:
        """Hash of everything a viewer needs to know besides the points."""
        digest = hashlib.blake2b(digest_size=12)
        digest.update(self.point_count.to_bytes(8, "little"))
        for part in (self.corners, self.face_starts, self.curve_points, self.curve_starts):
            digest.update(len(part).to_bytes(8, "little"))
            digest.update(np.ascontiguousarray(part).tobytes())
        digest.update(self.curve_closed.tobytes())
        if self.cut is not None:
            digest.update(np.ascontiguousarray(self.cut).tobytes())
        if self.closed_as_welded:
            digest.update(b"closed as welded")
        return digest.hexdigest()

    @cached_property
    def corner_face(self) -> np.ndarray:
        """(C,) int32: the face each corner belongs to."""
        return np.repeat(np.arange(self.face_count, dtype=np.int32), np.diff(self.face_starts))

    @cached_property
    def point_faces(self) -> tuple[np.ndarray, np.ndarray]:
        """Faces around each point: starts (P + 1,) and faces (C,), both int32."""
        shape = (self.face_count, self.point_count)
        marks = np.zeros(len(self.corners), np.int8)
        turned = scipy.sparse.csr_array((marks, self.corners, self.face_starts), shape).tocsc()
        return turned.indptr.astype(np.int32), turned.indices.astype(np.int32)

    @cached_property
    def next_corner(self) -> np.ndarray:
        """(C,) int: the corner after each, round its own face."""
        after = np.arange(1, len(self.corners) + 1)
        filled = np.diff(self.face_starts) > 0
        after[self.face_starts[1:][filled] - 1] = self.face_starts[:-1][filled]
        return after

    @cached_property
    def sides_of_faces(self) -> np.ndarray:
        """(C, 2) int32: the points that each side of each polygon joins, in its own order."""
        return np.stack([self.corners, self.corners[self.next_corner]], axis=1)

    @cached_property
    def edges(self) -> np.ndarray:
        """(E, 2) int32: each edge of the polygons once, smaller point first."""
        keys = self._sorted_sides >> 1
        once = keys[np.concatenate([[True], keys[1:] != keys[:-1]])[: len(keys)]]
        return np.stack(np.divmod(once, max(self.point_count, 1)), axis=1).astype(np.int32)

    @cached_property
    def side_edges(self) -> np.ndarray:
        """(C,) int32: number of the edge that the side after each corner is."""
        return np.searchsorted(self._keys_of(self.edges), self._side_keys >> 1).astype(np.int32)

    @cached_property
    def curve_segments(self) -> np.ndarray:
        """(S, 2) int32: the points that each segment of each curve joins, in its own order."""
        if self.curve_count == 0:
            return np.empty((0, 2), np.int32)
        after = np.arange(1, len(self.curve_points) + 1)
        filled = np.diff(self.curve_starts) > 0
        last = self.curve_starts[1:][filled] - 1
        after[last] = self.curve_starts[:-1][filled]
        ends = last[~self.curve_closed[filled]]
        pairs = np.stack([self.curve_points, self.curve_points[after]], axis=1)
        return np.delete(pairs, ends, axis=0).astype(np.int32)

    @cached_property
    def neighbours(self) -> tuple[np.ndarray, np.ndarray]:
        """Points that an edge or a segment joins to each point: starts (P + 1,), points; int32."""
        pairs = np.concatenate([self.edges, self.curve_segments])
        both = np.concatenate([pairs, pairs[:, ::-1]])
        order = np.argsort(both[:, 0], kind="stable")
        starts = np.zeros(self.point_count + 1, np.int32)
        np.cumsum(np.bincount(both[:, 0], minlength=self.point_count), out=starts[1:])
        return starts, np.ascontiguousarray(both[order, 1])

    @cached_property
    def border(self) -> np.ndarray:
        """(P,) bool: points on an edge that only one face has, or at the end of a curve."""
        found = np.zeros(self.point_count, bool)
        if len(self.edges):
            _, count = np.unique(self._sorted_sides >> 1, return_counts=True)
            found[self.edges[count == 1]] = True
        loose = np.bincount(self.curve_segments.reshape(-1), minlength=self.point_count) == 1
        return found | loose

    @cached_property
    def closed(self) -> bool:
        """Whether every side of a face is met by one that goes the other way: no border, no
        edge with three faces, and neighbours that agree on what is outside."""
        sides = self._sorted_sides
        if self.face_count == 0 or len(sides) % 2:
            return False
        forth, back = sides[::2], sides[1::2]
        met = np.all(forth % 2 == 0) and np.all(back == forth + 1)
        return bool(met and np.all(forth[1:] != forth[:-1]))

    @cached_property
    def _side_keys(self) -> np.ndarray:
        """(C,) int64: of each side a number for its edge, doubled, and 1 more where it goes from
        the greater point to the smaller one."""
        begin, end = self.corners.astype(np.int64), self.corners[self.next_corner]
        low, high = np.minimum(begin, end), np.maximum(begin, end)
        return (low * max(self.point_count, 1) + high) * 2 + (begin > end)

    @cached_property
    def _sorted_sides(self) -> np.ndarray:
        return np.sort(self._side_keys)

    def _keys_of(self, pairs: np.ndarray) -> np.ndarray:
        return pairs[:, 0].astype(np.int64) * max(self.point_count, 1) + pairs[:, 1]

    @cached_property
    def has_large_faces(self) -> bool:
        """Whether a polygon has more than four corners: how it is cut may depend on its shape."""
        return bool(np.any(np.diff(self.face_starts) > 4))

    def triangulated(self, rest: np.ndarray) -> Topology:
        """The same, whose polygons are cut into triangles as they lie in their rest shape, and stay
        cut so wherever their points go.

        Done where a topology is made, so that the triangles belong to it and are told by its
        digest, and do not depend on who asks for them first. Convex polygons are fans wherever
        they are: only where others are among them another topology is made.
        """
        if self.cut is not None or not self.has_large_faces:
            return self
        # The rest shape is kept beside what was found, so that its address is not another's.
        _, found = self.derived(("cut", id(rest)), lambda: (rest, self._as_cut(rest)))
        return self if found is None else found

    def _as_cut(self, points: np.ndarray) -> Topology | None:
        polygons = (self.corners, self.face_starts, points)
        concave = concave_faces(*polygons)
        if len(concave) == 0:
            return None
        return replace(self, cut=clipped(self.fans, *polygons, concave))

    @property
    def drawn_corners(self) -> np.ndarray:
        """(T, 3) int32 corner numbers of the triangles into which the polygons are cut; of one
        that was not, see :meth:`triangulated`, fans."""
        return self.fans if self.cut is None else self.cut

    @property
    def drawn_triangles(self) -> np.ndarray:
        """(T, 3) int32 point numbers of the same."""
        if self.sides == 3:
            return self.corners.reshape(-1, 3)
        return self.corners[self.drawn_corners]

    def triangle_corners(self, points: np.ndarray) -> np.ndarray:
        """(T, 3) int32 corner numbers of a triangulation.

        Convex polygons are fans from their first corner; others are cut by ear clipping in their
        own plane, at the positions where they were cut, or else at these.
        """
        if self.cut is None and self.has_large_faces:
            found = self._as_cut(points)
            return self.fans if found is None else found.drawn_corners
        return self.drawn_corners

    @cached_property
    def fans(self) -> np.ndarray:
        """(T, 3) int32 corner numbers: every polygon as a fan from its first corner."""
        counts = np.maximum(np.diff(self.face_starts) - 2, 0)
        first = np.repeat(self.face_starts[:-1], counts)
        turn = ragged(np.ones(len(counts), np.int64), counts)
        return np.stack([first, first + turn, first + turn + 1], axis=1).astype(np.int32)

    def triangles(self, points: np.ndarray) -> np.ndarray:
        """(T, 3) int32 point numbers of the triangulation."""
        return self.corners[self.triangle_corners(points)]


def turned_over(face_starts: np.ndarray) -> np.ndarray:
    """(C,) the order of corners that turns every face over; its first corner stays first, so that
    a face is still told from its first point."""
    starts = np.asarray(face_starts, np.int64)
    sizes = np.diff(starts)
    first = np.repeat(starts[:-1], sizes)
    into = np.arange(len(first)) - first
    return first + np.where(into == 0, 0, np.repeat(sizes, sizes) - into)
