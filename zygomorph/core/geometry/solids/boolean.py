"""Solids cut with each other: what of one lies inside another or outside of it, or both as one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import MASK, SHARD, SMOOTHING, Mesh
from zygomorph.core.geometry.smoothing import groups_by_angle, groups_of
from zygomorph.core.geometry.solids.following import Broken, places_of
from zygomorph.core.geometry.solids.pieces import (
    Pieces,
    Sources,
    collected,
    faces_of,
    in_old_order,
    islands,
    located,
    one_more,
    structure_of_pieces,
)
from zygomorph.core.geometry.solids.solid import Solid, as_they_were, is_open, parts_of, solid_of
from zygomorph.core.geometry.solids.wall import as_wall
from zygomorph.core.geometry.splitting import as_shards
from zygomorph.core.geometry.structure import Structure

Way = Literal["inside", "outside", "join"]
# Stored masks: of the faces that a cut made, and of the points near it.
CUT = "cut"
BAND = "band"
# An open surface is cut as a wall this thin, as a share of its size.
THIN = 1e-4
# The course of a cut is sampled at this share of the width of the band.
FINE = 0.25
# Degrees between faces of the other solid above which the cut that it makes has an edge there.
SHARP = 40.0
MOST_SAMPLES = 200_000


def _sources(solids: Sequence[Solid], parts: Sequence[Mesh]) -> Sources:
    """Triangles of all, as those of the joined mesh."""
    points, corners, faces = 0, 0, 0
    found = []
    for rank, (solid, part) in enumerate(zip(solids, parts, strict=True)):
        found.append(
            Sources(
                part.points.astype(np.float64)[solid.points],
                solid.triangles + corners,
                solid.points + points,
                solid.faces + faces,
                np.full(len(solid.faces), rank),
            )
        )
        points += len(part.points)
        corners += len(part.topology.corners)
        faces += part.topology.face_count
    names = ("places", "corners", "points", "faces", "rank")
    return Sources(*(np.concatenate([getattr(each, name) for each in found]) for name in names))


def _result(solids: Sequence[Solid], way: Way) -> Pieces:
    own, other = solids
    parts = [(own.manifold, own.original)] if way == "join" else parts_of(own, apart=False)
    made = []
    for part, _ in parts:
        if way == "join":
            made.append(part + other.manifold)
        elif way == "inside":
            made.append(part ^ other.manifold)
        else:
            made.append(part - other.manifold)
    first = dict.fromkeys((original for _, original in parts), 0)
    pieces = collected(made, first | {other.original: len(own.faces)})
    # All are one result: what they are parts of, their faces tell.
    return replace(pieces, piece=np.zeros(len(pieces.piece), np.int64))


def _sheet(own: Mesh, other: Solid, name: str, way: Way) -> tuple[Pieces, Solid]:
    """What of an open surface lies inside or outside of a solid: of a thin wall below it, cut as
    solids are, the surface."""
    wall = as_wall(own, THIN * float(np.ptp(own.points, axis=0).max()))
    solid = solid_of(wall, name)
    pieces = _result((solid, other), way)
    # The first faces of the wall are those of the surface, and its first triangles with them.
    corners = own.topology.triangle_corners(own.points)
    kept = np.flatnonzero(pieces.source < len(corners))
    used, triangles = np.unique(pieces.triangles[kept], return_inverse=True)
    surface = replace(solid, mesh=own, triangles=corners, faces=solid.faces[: len(corners)])
    return (
        Pieces(
            pieces.points[used],
            triangles.reshape(-1, 3),
            pieces.source[kept],
            pieces.piece[kept],
        ),
        surface,
    )


def _sides(pieces: Pieces) -> tuple[np.ndarray, np.ndarray]:
    """(3T, 2) points of the sides of all triangles, the lower number first, and (3T,) a number that
    is the same for the same side."""
    ends = np.sort(pieces.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    return ends, ends[:, 0] * len(pieces.points) + ends[:, 1]


def _course(pieces: Pieces, rank: np.ndarray) -> np.ndarray:
    """(n, 2) points of the edges between triangles of both solids.

    rank : (T,) whose each triangle is
    """
    ends, keys = _sides(pieces)
    owner = np.repeat(rank, 3)
    order = np.argsort(keys, kind="stable")
    same = keys[order][1:] == keys[order][:-1]
    differ = owner[order][1:] != owner[order][:-1]
    found: np.ndarray = ends[order[1:][same & differ]]
    return found


def _near(points: np.ndarray, course: np.ndarray, width: float) -> np.ndarray:
    """(P,) float32: 1 on the course of a cut, (n, 2) points, falling to 0 at a width in metres."""
    found = np.zeros(len(points), np.float32)
    if len(course) == 0 or width <= 0:
        return found
    begin, end = points[course[:, 0]], points[course[:, 1]]
    length = np.linalg.norm(end - begin, axis=1)
    step = max(width * FINE, float(length.sum()) / MOST_SAMPLES)
    many = np.maximum(np.ceil(length / step).astype(int), 1)
    of = np.repeat(np.arange(len(course)), many)
    share = (np.arange(len(of)) - np.repeat(np.cumsum(many) - many, many)) / many[of]
    samples = begin[of] + share[:, None] * (end - begin)[of]
    samples = np.concatenate([samples, end])
    low, high = samples.min(axis=0) - width, samples.max(axis=0) + width
    close = np.flatnonzero(((points >= low) & (points <= high)).all(axis=1))
    away, _ = scipy.spatial.cKDTree(samples).query(points[close], distance_upper_bound=width)
    found[close] = np.maximum(1 - away / width, 0)
    return found


def _shards(
    structure: Structure, pieces: Pieces, shard: np.ndarray, first_other: int, way: Way
) -> Structure:
    """Faces that a cut made are of the shard they close, and what has grown together is one.

    shard : (F,) of the joined mesh; first_other : the first face of another piece
    """
    face = structure.origins["face"].parents
    own = shard[face]
    at = structure.topology.corners[structure.topology.face_starts[:-1]]
    island = islands(pieces)[at]
    if way == "join":
        # What has grown together is one shard, the first of them.
        first = np.full(len(pieces.points), own.max(initial=0))
        np.minimum.at(first, island, own)
        own = first[island]
    else:
        mine = face < first_other
        of_island = np.zeros(len(pieces.points), own.dtype)
        of_island[island[mine]] = own[mine]
        own = np.where(mine, own, of_island[island])
    _, number = np.unique(own, return_inverse=True)
    return as_shards(structure, number.reshape(-1).astype(np.int32), own)


def _smoothing(own: Mesh, other: Mesh, face: np.ndarray, way: Way) -> np.ndarray:
    """(F,) int32 smoothing groups: those of this mesh, and after them those of the other one. Where
    that one has none its faces, which are walls of the cut, are divided where they are sharp.

    face : (F,) of both meshes, one after the other
    """
    groups, others = groups_of(own), groups_of(other)
    if way != "join" and other.get("face", SMOOTHING) is None:
        others = groups_by_angle(other, SHARP)
    together = np.concatenate([groups, others + 1 + groups.max(initial=0)])
    found: np.ndarray = together[face].astype(np.int32)
    return found


def _marks(
    whole: Mesh, face: np.ndarray, by_cut: np.ndarray, band: np.ndarray
) -> dict[str, dict[str, np.ndarray]]:
    """Stored masks of the cut; what earlier cuts made stays marked.

    face : (F,) of the joined mesh; by_cut : (F,) bool; band : (P,)
    """
    marks = by_cut.astype(np.float32)
    before = whole.get("face", MASK + CUT)
    if before is not None:
        marks = np.maximum(marks, before[face])
    return {"point": {MASK + BAND: band}, "face": {MASK + CUT: marks}}


def cut(
    whole: Mesh,
    parts: Sequence[Mesh],
    names: Sequence[str],
    way: Way,
    width: float,
    chosen: np.ndarray | None = None,
    followed: bool = False,
) -> Broken:
    """A solid cut with another, or an open surface with a solid.

    whole : the parts as one mesh; parts : this mesh and the one that it is cut with
    names : what they are called in errors
    width : metres, of the band of points along the cut
    chosen : (F,) bool, faces of this mesh that are cut, whole shards; None for all
    followed : what the cut made inside goes along with the surface of this mesh, instead of with
        the other one
    Raises ZygomorphError where either has no inside.
    """
    own, other = parts
    as_sheet = way != "join" and is_open(own)
    second = solid_of(other, names[1])
    if as_sheet:
        pieces, first = _sheet(own, second, names[0], way)
    else:
        first = solid_of(own, names[0], chosen)
        pieces = _result((first, second), way)
        rest = as_they_were(first)
        pieces = pieces if rest is None else one_more(pieces, rest)
    sources = _sources((first, second), parts)
    pieces, where = in_old_order(pieces, located(pieces, sources), sources)
    faces = faces_of(pieces, sources, where, whole.topology)
    made = structure_of_pieces(pieces, sources, where, faces)
    if as_sheet:
        course = _rim(pieces, where.exact)
    else:
        course = _course(pieces, sources.rank[pieces.source])
    face, first_other = made.origins["face"].parents, own.topology.face_count
    band = _near(pieces.points, course, width)
    by_cut = (face >= first_other) & (way != "join")
    marks = _marks(whole, face, by_cut, band)
    marks["face"][SMOOTHING] = _smoothing(own, other, face, way)
    made = replace(made, attributes=marks)
    shard = whole.get("face", SHARD)
    if shard is not None:
        made = _shards(made, pieces, shard, first_other, way)
    inside = made.origins["point"].parents.reshape(-1, 3)[:, 0] >= len(own.points)
    return Broken(
        made.topology,
        made.origins,
        made.attributes,
        place=places_of(own.points, made.origins["point"], pieces.points, inside)
        if followed
        else made.origins["point"],
    )


def _rim(pieces: Pieces, exact: np.ndarray) -> np.ndarray:
    """(n, 2) points of the edges of an open surface that a cut made: those with one triangle whose
    ends lie between the old points."""
    ends, keys = _sides(pieces)
    _, first, times = np.unique(keys, return_index=True, return_counts=True)
    between = np.ones(len(pieces.points), bool)
    between[pieces.triangles.reshape(-1)[exact >= 0]] = False
    edges = ends[first[times == 1]]
    found: np.ndarray = edges[between[edges].all(axis=1)]
    return found
