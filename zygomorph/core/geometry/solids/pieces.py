"""What is left of solids that were cut, as one change of topology with the origin of everything.

Every triangle of a result is a part of a triangle that there was before. From where its corners lie
in that one, all that is known of points, corners and faces follows. Faces that were not cut stay
the polygons they were.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import manifold3d
import numpy as np
import scipy

from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology


@dataclass(frozen=True, eq=False)
class Sources:
    """The triangles that results are parts of, S of them.

    places : (S, 3, 3) float64, their corners in metres
    corners : (S, 3) int, as corners of the mesh; points : (S, 3) int, as its points; faces : (S,)
        int. Below 0 of a triangle that is of no mesh
    rank : (S,) int: where triangles of several ranks meet in a point, it comes from the lowest
    """

    places: np.ndarray
    corners: np.ndarray
    points: np.ndarray
    faces: np.ndarray
    rank: np.ndarray


@dataclass(frozen=True, eq=False)
class Pieces:
    """Results of cutting, one after the other.

    points : (P, 3) float64, metres; triangles : (T, 3) int
    source : (T,) int, the triangle that each is a part of; piece : (T,) int, the result
    """

    points: np.ndarray
    triangles: np.ndarray
    source: np.ndarray
    piece: np.ndarray


def collected(results: Sequence[manifold3d.Manifold], first: Mapping[int, int]) -> Pieces:
    """first : from the number of each original to that of its first triangle among all sources"""
    points, triangles, source, piece = [], [], [], []
    begin = 0
    for number, result in enumerate(results):
        mesh = result.to_mesh64()
        places = np.asarray(mesh.vert_properties)[:, :3]
        faces = np.asarray(mesh.tri_verts).astype(np.int64)
        begins = np.asarray(mesh.run_index).astype(np.int64) // 3
        runs = begins[1:] - begins[:-1]
        # What was cut with on the way is named, too, but has left no triangles.
        originals = np.asarray(mesh.run_original_id)[runs > 0].tolist()
        offsets = np.array([first[original] for original in originals], np.int64)
        points.append(places)
        triangles.append(faces + begin)
        source.append(
            np.asarray(mesh.face_id).astype(np.int64) + np.repeat(offsets, runs[runs > 0])
        )
        piece.append(np.full(len(faces), number))
        begin += len(places)
    if not points:
        none = np.zeros(0, np.int64)
        return Pieces(np.zeros((0, 3)), none.reshape(0, 3), none, none)
    return Pieces(*(np.concatenate(each) for each in (points, triangles, source, piece)))


def one_more(first: Pieces, then: Pieces) -> Pieces:
    """Both, the second as one more result."""
    count = int(first.piece.max(initial=-1)) + 1
    return Pieces(
        np.concatenate([first.points, then.points]),
        np.concatenate([first.triangles, then.triangles + len(first.points)]),
        np.concatenate([first.source, then.source]),
        np.concatenate([first.piece, then.piece + count]),
    )


def islands(pieces: Pieces) -> np.ndarray:
    """(P,) int: the connected part that each point is of."""
    count = len(pieces.points)
    pairs = pieces.triangles[:, [0, 1, 1, 2]].reshape(-1, 2)
    links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (count, count))
    found: np.ndarray = scipy.sparse.csgraph.connected_components(links, directed=False)[1]
    return found


def shares_in(places: np.ndarray, corners: np.ndarray) -> np.ndarray:
    """Barycentric shares of places, (n, 3), in triangles, (n, 3, 3); (n, 3), none below 0.

    C. Ericson, "Real-Time Collision Detection", 2005, section 3.4.
    """
    first, second = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    to = places - corners[:, 0]
    d00 = np.einsum("ij,ij->i", first, first)
    d01 = np.einsum("ij,ij->i", first, second)
    d11 = np.einsum("ij,ij->i", second, second)
    d20 = np.einsum("ij,ij->i", to, first)
    d21 = np.einsum("ij,ij->i", to, second)
    area = d00 * d11 - d01 * d01
    safe = np.where(area > 0, area, 1)
    v = np.where(area > 0, (d11 * d20 - d01 * d21) / safe, 0)
    w = np.where(area > 0, (d00 * d21 - d01 * d20) / safe, 0)
    shares = np.maximum(np.stack([1 - v - w, v, w], axis=1), 0)
    found: np.ndarray = shares / shares.sum(axis=1, keepdims=True)
    return found


@dataclass(frozen=True, eq=False)
class Located:
    """Where the corners of the pieces lie in the triangles they come from, one entry a corner.

    source : (3T,) the triangle that each comes from
    shares : (3T, 3); exact : (3T,) which of its three corners each is, or -1
    chosen : (P,) for each point the corner that tells where it comes from
    """

    source: np.ndarray
    shares: np.ndarray
    exact: np.ndarray
    chosen: np.ndarray


def located(pieces: Pieces, sources: Sources) -> Located:
    source = np.repeat(pieces.source, 3)
    at = pieces.triangles.reshape(-1)
    places, corners = pieces.points[at], sources.places[source]
    # Column by column: a reduction over so short an axis takes several times as long.
    x, y, z = (corners[:, :, axis] == places[:, axis, None] for axis in range(3))
    same = x & y & z
    exact = np.select([same[:, 0], same[:, 1], same[:, 2]], [0, 1, 2], -1)
    shares = np.eye(3)[np.maximum(exact, 0)]
    between = np.flatnonzero(exact < 0)
    shares[between] = shares_in(places[between], corners[between])
    # Of all corners at a point the one of the lowest rank, and of these one that is a whole corner.
    order = np.lexsort((exact < 0, sources.rank[source], at))
    _, first = np.unique(at[order], return_index=True)
    return Located(source, shares, exact, order[first])


def _once(parents: np.ndarray, valid: np.ndarray) -> np.ndarray:
    """(n,) the parents, each once, where it is first met; -1 elsewhere."""
    found = np.full(len(parents), -1)
    mine = np.flatnonzero(valid)
    _, first = np.unique(parents[mine], return_index=True)
    found[mine[first]] = parents[mine[first]]
    return found


def _mixed(parents: np.ndarray, shares: np.ndarray, continues: np.ndarray) -> Origin:
    made = Origin.mixed(parents, shares)
    return Origin(made.starts, made.parents, made.weights, continues.astype(np.int32))


@dataclass(frozen=True, eq=False)
class Faces:
    """Faces of the result: polygons that were not cut, and triangles of the others.

    corners : (C,) int, as corners of the pieces' triangles; starts : (F + 1,)
    source : (F,) a triangle that each is a part of; piece : (F,)
    """

    corners: np.ndarray
    starts: np.ndarray
    source: np.ndarray
    piece: np.ndarray


def faces_of(pieces: Pieces, sources: Sources, located: Located, topology: Topology) -> Faces:
    """topology : of the mesh that the sources are triangles of"""
    face = sources.faces[pieces.source]
    exact = located.exact.reshape(-1, 3)
    # A polygon was not cut where all its triangles are there as they were, in one piece; the
    # library may have turned them about.
    around = (exact - exact[:, :1]) % 3
    intact = (face >= 0) & (exact >= 0).all(axis=1) & (around == np.arange(3)).all(axis=1)
    counts = np.bincount(sources.faces[sources.faces >= 0], minlength=topology.face_count)
    found = np.bincount(face[intact], minlength=topology.face_count)
    low, high = np.full((2, topology.face_count), -1)
    low[face[intact][::-1]] = pieces.piece[intact][::-1]
    high[face[intact]] = pieces.piece[intact]
    stays = (found == counts) & (low == high) & (counts > 0)
    polygons = np.flatnonzero(stays)
    is_part = intact & stays[np.maximum(face, 0)]
    rest = np.flatnonzero(~is_part)

    # Corners of polygons, found through the triangles that they were cut into.
    of_corner = np.full(len(topology.corners), -1)
    parts = np.flatnonzero(is_part)
    of_source = np.take_along_axis(sources.corners[pieces.source[parts]], exact[parts], 1)
    of_corner[of_source] = 3 * parts[:, None] + np.arange(3)
    sizes = np.diff(topology.face_starts)[polygons]
    own = of_corner[ragged(topology.face_starts[:-1][polygons], sizes)]
    triangles = 3 * rest[:, None] + np.arange(3)
    corners = np.concatenate([own, triangles.reshape(-1)])
    all_sizes = np.concatenate([sizes, np.full(len(rest), 3)]).astype(np.int64)
    source_of_face = np.full(topology.face_count, len(sources.faces))
    np.minimum.at(source_of_face, face[parts], pieces.source[parts])
    source = np.concatenate([source_of_face[polygons], pieces.source[rest]])
    piece = np.concatenate([low[polygons], pieces.piece[rest]])
    order = np.lexsort((source, piece))
    starts = np.concatenate([[0], np.cumsum(all_sizes)])
    ordered = all_sizes[order]
    return Faces(
        corners[ragged(starts[:-1][order], ordered)],
        np.concatenate([[0], np.cumsum(ordered)]).astype(np.int32),
        source[order],
        piece[order],
    )


def in_old_order(pieces: Pieces, where: Located, sources: Sources) -> tuple[Pieces, Located]:
    """The same with points that were there before first, in their old order: what was not cut is
    as it was. Points that no triangle uses are left out."""
    at = pieces.triangles.reshape(-1)
    used = np.zeros(len(pieces.points), bool)
    used[at] = True
    old = sources.points[where.source[where.chosen], where.exact[where.chosen]]
    whole = (where.exact[where.chosen] >= 0) & (old >= 0)
    own = np.full(len(pieces.points), np.iinfo(np.int64).max)
    own[used] = np.where(whole, old, own[used])
    order = np.argsort(own, kind="stable")
    order = order[used[order]]
    number = np.zeros(len(pieces.points), np.int64)
    number[order] = np.arange(len(order))
    compact = np.cumsum(used) - 1
    return (
        Pieces(pieces.points[order], number[pieces.triangles], pieces.source, pieces.piece),
        replace(where, chosen=where.chosen[compact[order]]),
    )


def structure_of_pieces(
    pieces: Pieces, sources: Sources, where: Located, faces: Faces
) -> Structure:
    """The new topology with the origin of everything.

    where : of each corner a triangle of the mesh, also of those that were made by cutting
    """
    at = pieces.triangles.reshape(-1)[faces.corners]
    chosen = where.chosen
    whole = where.exact[chosen]
    parents = sources.points[where.source[chosen]]
    own = np.take_along_axis(parents, np.maximum(whole, 0)[:, None], 1)[:, 0]
    face = sources.faces[faces.source]
    made = face < 0
    first = faces.corners[faces.starts[:-1][made]]
    face[made] = sources.faces[where.source[first]]
    taken = Origin.taken(face)
    return Structure(
        Topology(len(pieces.points), at.astype(np.int32), faces.starts),
        {
            "point": _mixed(parents, where.shares[chosen], _once(own, whole >= 0)),
            "corner": Origin.mixed(
                sources.corners[where.source[faces.corners]], where.shares[faces.corners]
            ),
            "face": Origin(
                taken.starts, taken.parents, continues=_once(face, ~made).astype(np.int32)
            ),
        },
    )
