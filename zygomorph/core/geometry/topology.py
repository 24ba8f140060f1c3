"""Which points make up which faces and curves; shared by all frames that do not change it."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

import mapbox_earcut
import numpy as np

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
    """

    point_count: int
    corners: np.ndarray = field(default_factory=_none)
    face_starts: np.ndarray = field(default_factory=_start)
    curve_points: np.ndarray = field(default_factory=_none)
    curve_starts: np.ndarray = field(default_factory=_start)
    curve_closed: np.ndarray = field(default_factory=lambda: np.zeros(0, bool))
    grid: Grid | None = None
    cut: np.ndarray | None = None

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
        return digest.hexdigest()

    @cached_property
    def corner_face(self) -> np.ndarray:
        """(C,) int32: the face each corner belongs to."""
        return np.repeat(np.arange(self.face_count, dtype=np.int32), np.diff(self.face_starts))

    @cached_property
    def point_faces(self) -> tuple[np.ndarray, np.ndarray]:
        """Faces around each point: starts (P + 1,) and faces (C,), both int32."""
        order = np.argsort(self.corners, kind="stable")
        starts = np.zeros(self.point_count + 1, np.int32)
        np.cumsum(np.bincount(self.corners, minlength=self.point_count), out=starts[1:])
        return starts, self.corner_face[order]

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
        pairs = np.sort(self.sides_of_faces, axis=1)
        _, first = np.unique(self._keys_of(pairs), return_index=True)
        return pairs[first].astype(np.int32)

    @cached_property
    def side_edges(self) -> np.ndarray:
        """(C,) int32: number of the edge that the side after each corner is."""
        keys = self._keys_of(np.sort(self.sides_of_faces, axis=1))
        return np.searchsorted(self._keys_of(self.edges), keys).astype(np.int32)

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
            keys = self._keys_of(np.sort(self.sides_of_faces, axis=1))
            _, first, count = np.unique(keys, return_index=True, return_counts=True)
            found[self.sides_of_faces[first[count == 1]]] = True
        loose = np.bincount(self.curve_segments.reshape(-1), minlength=self.point_count) == 1
        return found | loose

    @cached_property
    def closed(self) -> bool:
        """Whether every side of a face is met by one that goes the other way: no border, no
        edge with three faces, and neighbours that agree on what is outside."""
        if self.face_count == 0:
            return False
        forth = np.sort(self._keys_of(self.sides_of_faces))
        back = np.sort(self._keys_of(self.sides_of_faces[:, ::-1]))
        return bool(np.array_equal(forth, back) and np.all(forth[1:] != forth[:-1]))

    def _keys_of(self, pairs: np.ndarray) -> np.ndarray:
        return pairs[:, 0].astype(np.int64) * max(self.point_count, 1) + pairs[:, 1]

    @cached_property
    def has_large_faces(self) -> bool:
        """Whether a polygon has more than four corners: how it is cut depends on its shape."""
        return bool(np.any(np.diff(self.face_starts) > 4))

    def triangulated(self, points: np.ndarray) -> Topology:
        """The same, whose polygons are cut into triangles as they lie at these positions, and stay
        cut so wherever their points go.

        Done where a topology is made, so that the triangles belong to it and are told by its
        digest, and do not depend on who asks for them first.
        """
        if self.cut is not None or not self.has_large_faces:
            return self
        return replace(self, cut=_triangulate(self, points))

    def triangle_corners(self, points: np.ndarray) -> np.ndarray:
        """(T, 3) int32 corner numbers of a triangulation.

        Triangles and quads are split as fans; larger polygons by ear clipping in their own plane,
        at the positions where they were cut, or else at these.
        """
        if self.cut is not None:
            return self.cut
        if self.has_large_faces:
            return _triangulate(self, points)
        return self._fans

    @cached_property
    def _fans(self) -> np.ndarray:
        return _triangulate(self, np.empty((0, 3), np.float32))

    def triangles(self, points: np.ndarray) -> np.ndarray:
        """(T, 3) int32 point numbers of the triangulation."""
        return self.corners[self.triangle_corners(points)]


def _triangulate(topology: Topology, points: np.ndarray) -> np.ndarray:
    sizes = np.diff(topology.face_starts)
    starts = topology.face_starts[:-1]
    # Each part carries its face, so that triangles can be put back into the faces' order.
    faces: list[np.ndarray] = []
    parts: list[np.ndarray] = []
    for size, fan in ((3, [[0, 1, 2]]), (4, [[0, 1, 2], [0, 2, 3]])):
        chosen = np.flatnonzero(sizes == size)
        parts.append((starts[chosen, None, None] + np.array(fan)[None]).reshape(-1, 3))
        faces.append(np.repeat(chosen, len(fan)))
    for face in np.flatnonzero(sizes > 4):
        local = _clip_ears(points[topology.corners[starts[face] : starts[face] + sizes[face]]])
        parts.append(starts[face] + local)
        faces.append(np.full(len(local), face))
    order = np.argsort(np.concatenate(faces), kind="stable")
    return np.ascontiguousarray(np.concatenate(parts)[order].astype(np.int32))


def _clip_ears(ring: np.ndarray) -> np.ndarray:
    """(T, 3) places in the ring."""
    ring = ring.astype(np.float64)
    normal = np.cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0)
    drop = int(np.argmax(np.abs(normal)))
    keep = [(drop + 1) % 3, (drop + 2) % 3]
    flat = np.ascontiguousarray(ring[:, keep])
    found = mapbox_earcut.triangulate_float64(flat, np.array([len(ring)], np.uint32))
    triangles = np.asarray(found, np.int64).reshape(-1, 3)
    if len(triangles) == 0:
        middle = np.arange(1, len(ring) - 1)
        return np.stack([np.zeros_like(middle), middle, middle + 1], axis=1)
    a, b, c = (flat[triangles[:, k]] for k in range(3))
    turn = np.sign(((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]).sum())
    outward = np.sign(normal[drop])
    return triangles if turn * outward >= 0 else triangles[:, ::-1]


def turned_over(face_starts: np.ndarray) -> np.ndarray:
    """(C,) the order of corners that turns every face over; its first corner stays first, so that
    a face is still told from its first point."""
    starts = np.asarray(face_starts, np.int64)
    sizes = np.diff(starts)
    first = np.repeat(starts[:-1], sizes)
    into = np.arange(len(first)) - first
    return first + np.where(into == 0, 0, np.repeat(sizes, sizes) - into)
