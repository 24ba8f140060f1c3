"""Subdivision of polygons: plain, by midpoints, and Catmull–Clark.

Catmull–Clark turns every face into quads around its middle and moves the points towards a surface
that is smooth but for its points of other than four edges. E. Catmull, J. Clark, "Recursively
generated B-spline surfaces on arbitrary topological meshes", Computer-Aided Design 10 (1978). A
border becomes a cubic B-spline curve of its own, and a point of one face alone stays, so that a
sheet keeps its corners (T. DeRose, M. Kass, T. Truong, "Subdivision surfaces in character
animation", SIGGRAPH 1998). Both from memory.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology


@dataclass(frozen=True)
class _Level:
    """One halving of the chosen faces.

    points, corners : (new, old) sparse shares
    parents : (faces,) the old face of each new one; chosen : (faces,) bool, those to halve next
    """

    topology: Topology
    points: scipy.sparse.csr_array
    corners: scipy.sparse.csr_array
    parents: np.ndarray
    chosen: np.ndarray


def _rows(numbers: np.ndarray, count: int) -> scipy.sparse.csr_array:
    """A matrix that takes the elements of these numbers."""
    n = len(numbers)
    return scipy.sparse.csr_array((np.ones(n), (np.arange(n), numbers)), (n, count))


def _halved(topology: Topology, chosen: np.ndarray, smooth: bool) -> _Level:
    corners, starts = topology.corners, topology.face_starts
    sizes = np.diff(starts)
    count = topology.point_count
    corner_face = topology.corner_face
    numbers = np.arange(len(corners))
    after = topology.next_corner
    before = np.empty_like(after)
    before[after] = numbers
    edges, side_edge = topology.edges, topology.side_edges
    meant = chosen[corner_face]

    # New points: one on each side of a chosen face, and one in its middle.
    halved = np.zeros(len(edges), bool)
    halved[side_edge[meant]] = True
    on_edge = np.cumsum(halved) - 1 + count
    whole = chosen if smooth else chosen & (sizes != 3)
    middle = np.cumsum(whole) - 1 + count + np.count_nonzero(halved)

    # Faces, each as a list of corners; a corner is told as a row of shares of the old corners.
    on_side = on_edge[side_edge]
    half = len(corners) + numbers  # stands for the middle of the side after a corner
    centre = 2 * len(corners) + corner_face  # stands for the middle of a face
    parts: list[tuple[np.ndarray, np.ndarray, np.ndarray]] = []

    def part(face: np.ndarray, *rings: tuple[np.ndarray, np.ndarray]) -> None:
        """Faces of one size: their parents, and the point and the corner at each place."""
        parts.append(
            (face, np.stack([p for p, _ in rings], axis=1), np.stack([c for _, c in rings], axis=1))
        )

    at = np.flatnonzero(whole[corner_face])
    face, back = corner_face[at], before[at]
    part(
        face,
        (corners[at], at),
        (on_side[at], half[at]),
        (middle[face], centre[at]),
        (on_side[back], half[back]),
    )
    at = np.flatnonzero(meant & ~whole[corner_face])
    back = before[at]
    part(corner_face[at], (corners[at], at), (on_side[at], half[at]), (on_side[back], half[back]))
    first = starts[:-1][chosen & ~whole]
    part(corner_face[first], *((on_side[first + k], half[first + k]) for k in range(3)))

    # Neighbours that are not chosen take the new points into their rings.
    extra = halved[side_edge] & ~meant
    kept = np.flatnonzero(~chosen)
    kept_sizes = sizes[kept] + np.bincount(corner_face[extra], minlength=len(sizes))[kept]
    slot_point = np.stack([corners, on_side], axis=1)[~meant]
    slot_corner = np.stack([numbers, half], axis=1)[~meant]
    used = np.stack([np.ones(len(corners), bool), extra], axis=1)[~meant]

    new_parents = np.concatenate([*(p[0] for p in parts), kept])
    new_sizes = np.concatenate(
        [*(np.full(len(p[0]), p[1].shape[1]) for p in parts), kept_sizes]
    ).astype(np.int64)
    points = np.concatenate([*(p[1].reshape(-1) for p in parts), slot_point[used]])
    which = np.concatenate([*(p[2].reshape(-1) for p in parts), slot_corner[used]])
    # In the order of the faces they come from.
    order = np.argsort(new_parents, kind="stable")
    first_corner = np.concatenate([[0], np.cumsum(new_sizes)])[:-1]
    taken = ragged(first_corner[order], new_sizes[order])
    made = Topology(
        int(count + np.count_nonzero(halved) + np.count_nonzero(whole)),
        points[taken].astype(np.int32),
        np.concatenate([[0], np.cumsum(new_sizes[order])]).astype(np.int32),
        topology.curve_points,
        topology.curve_starts,
        topology.curve_closed,
    )
    return _Level(
        made,
        _point_shares(topology, chosen, halved, whole, smooth),
        _corner_shares(topology)[which[taken]],
        new_parents[order],
        chosen[new_parents[order]],
    )


def _face_means(topology: Topology) -> scipy.sparse.csr_array:
    """(F, C): the mean of a face's corners."""
    sizes = np.diff(topology.face_starts)
    return scipy.sparse.csr_array(
        (
            np.repeat(1 / np.maximum(sizes, 1), sizes),
            np.arange(len(topology.corners)),
            topology.face_starts,
        ),
        (topology.face_count, len(topology.corners)),
    )


def _corner_shares(topology: Topology) -> scipy.sparse.csr_array:
    """Of what a corner, the middle of the side after it, and the middle of a face are made."""
    count = len(topology.corners)
    own = scipy.sparse.eye_array(count, format="csr")
    side = (own + _rows(topology.next_corner, count)) / 2
    return scipy.sparse.vstack([own, side, _face_means(topology)], format="csr")


def _point_shares(
    topology: Topology, chosen: np.ndarray, halved: np.ndarray, whole: np.ndarray, smooth: bool
) -> scipy.sparse.csr_array:
    """(new, P): old points, then those on edges, then those in faces."""
    count, edges = topology.point_count, topology.edges
    faces = _face_means(topology) @ _rows(topology.corners, count)
    ends = _rows(edges[:, 0], count) + _rows(edges[:, 1], count)
    if not smooth:
        old = scipy.sparse.eye_array(count, format="csr")
        return scipy.sparse.vstack([old, ends[halved] / 2, faces[whole]], format="csr")
    of_face = topology.corner_face
    meant = chosen[of_face]
    edge_faces = scipy.sparse.csr_array(
        (np.ones(np.count_nonzero(meant)), (topology.side_edges[meant], of_face[meant])),
        (len(edges), topology.face_count),
    )
    sides = np.bincount(topology.side_edges, minlength=len(edges))
    chosen_sides = np.bincount(topology.side_edges[meant], minlength=len(edges))
    inner = (sides == 2) & (chosen_sides == 2)
    quarter = scipy.sparse.diags_array(np.where(inner, 0.25, 0.0)) @ (ends + edge_faces @ faces)
    midpoint = scipy.sparse.diags_array(np.where(inner, 0.0, 0.5)) @ ends
    on_edges = (quarter + midpoint)[halved]
    return scipy.sparse.vstack(
        [_old_points(topology, meant, halved, inner, faces, ends), on_edges, faces[whole]],
        format="csr",
    )


def _old_points(
    topology: Topology,
    meant: np.ndarray,
    halved: np.ndarray,
    inner: np.ndarray,
    faces: scipy.sparse.csr_array,
    ends: scipy.sparse.csr_array,
) -> scipy.sparse.csr_array:
    """(P, P): where the old points go. Inside, (F + 2 R + (n - 3) S) / n of the mean F of the n
    faces' middles, the mean R of the edges' midpoints and the point S itself; on a border,
    ¾ S and ⅛ of each neighbour along it; elsewhere nowhere."""
    count = topology.point_count
    at = topology.corners[meant]
    valence = np.bincount(topology.edges[halved].reshape(-1), minlength=count)
    around = np.bincount(at, minlength=count)
    rim = halved & ~inner
    rim_edges = np.bincount(topology.edges[rim].reshape(-1), minlength=count)
    inside = (rim_edges == 0) & (valence >= 3) & (around == valence)
    border = (rim_edges == 2) & (around >= 2)
    n = np.maximum(valence, 1)
    own = np.where(inside, (n - 2) / n, np.where(border, 0.75, 1.0))
    square = np.where(inside, 1 / n**2, 0.0)
    incidence = scipy.sparse.csr_array(
        (np.ones(len(at)), (at, topology.corner_face[meant])), (count, topology.face_count)
    )

    def neighbours(edges: np.ndarray) -> scipy.sparse.csr_array:
        joined = (ends.T @ scipy.sparse.diags_array(edges.astype(float)) @ ends).tocsr()
        return joined - scipy.sparse.diags_array(joined.diagonal())

    moved = scipy.sparse.diags_array(own)
    moved += scipy.sparse.diags_array(square) @ (neighbours(halved & inner) + incidence @ faces)
    moved += scipy.sparse.diags_array(np.where(border, 0.125, 0.0)) @ neighbours(rim)
    found = scipy.sparse.csr_array(moved)
    found.eliminate_zeros()
    return found


def points_after(topology: Topology, chosen: np.ndarray, smooth: bool) -> int:
    """How many points one halving makes."""
    sizes = np.diff(topology.face_starts)
    halved = np.unique(topology.side_edges[chosen[topology.corner_face]])
    whole = chosen if smooth else chosen & (sizes != 3)
    return topology.point_count + len(halved) + int(np.count_nonzero(whole))


def subdivided(
    topology: Topology, levels: int, smooth: bool, chosen: np.ndarray | None = None
) -> Structure:
    """Every chosen face halved so many times.

    smooth : Catmull–Clark; otherwise points stay, and triangles become four triangles
    chosen : (F,) bool, or None for all. Where it ends the surface has a border of its own, and
        faces beside it take the new points into their rings, so that nothing tears
    """
    meant = np.ones(topology.face_count, bool) if chosen is None else chosen
    points = scipy.sparse.eye_array(topology.point_count, format="csr")
    corners = scipy.sparse.eye_array(len(topology.corners), format="csr")
    parents = np.arange(topology.face_count)
    made = topology
    for _ in range(levels):
        go_on()
        level = _halved(made, meant, smooth)
        points, corners = level.points @ points, level.corners @ corners
        parents, meant, made = parents[level.parents], level.chosen, level.topology
    continues = np.full(made.point_count, -1)
    continues[: topology.point_count] = np.arange(topology.point_count)
    face_origin = Origin.taken(parents)
    same = np.where(meant, -1, parents) if levels else parents
    return Structure(
        made,
        {
            "point": Origin.of_matrix(points, continues),
            "corner": Origin.of_matrix(corners, np.full(len(made.corners), -1)),
            "face": Origin(face_origin.starts, face_origin.parents, continues=same),
        },
    )
