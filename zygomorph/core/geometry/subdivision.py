"""Subdivision of polygons: plain, by midpoints, Catmull–Clark, and Loop.

Catmull–Clark turns every face into quads around its middle and moves the points towards a surface
that is smooth but for its points of other than four edges. E. Catmull, J. Clark, "Recursively
generated B-spline surfaces on arbitrary topological meshes", Computer-Aided Design 10 (1978). A
border becomes a cubic B-spline curve of its own, and a point of one face alone stays, so that a
sheet keeps its corners (T. DeRose, M. Kass, T. Truong, "Subdivision surfaces in character
animation", SIGGRAPH 1998), as does an edge that is a crease (H. Hoppe et al., "Piecewise smooth
surface reconstruction", SIGGRAPH 1994). Loop's scheme does the same for triangles (C. Loop, "Smooth
subdivision surfaces based on triangles", 1987). All from memory.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy

from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology

Way = Literal["smooth", "loop", "plain"]


@dataclass(frozen=True)
class _Level:
    """One halving of the chosen faces.

    points, corners : (new, old) sparse shares
    parents : (faces,) the old face of each new one; chosen : (faces,) bool, those to halve next
    creases : (k, 2) the points that each edge of a crease joins
    """

    topology: Topology
    points: scipy.sparse.csr_array
    corners: scipy.sparse.csr_array
    parents: np.ndarray
    chosen: np.ndarray
    creases: np.ndarray


def _rows(numbers: np.ndarray, count: int) -> scipy.sparse.csr_array:
    """A matrix that takes the elements of these numbers."""
    n = len(numbers)
    return scipy.sparse.csr_array((np.ones(n), (np.arange(n), numbers)), (n, count))


def edges_at(topology: Topology, pairs: np.ndarray) -> np.ndarray:
    """(E,) bool: the edges that join these pairs of points, (k, 2)."""
    low, high = pairs.min(axis=1), pairs.max(axis=1)
    width = max(topology.point_count, 1)
    edges = topology.edges.astype(np.int64)
    return np.isin(edges[:, 0] * width + edges[:, 1], low.astype(np.int64) * width + high)


def _halved(topology: Topology, chosen: np.ndarray, way: Way, creases: np.ndarray) -> _Level:
    smooth = way == "smooth"
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
        _point_shares(topology, chosen, halved, whole, way, edges_at(topology, creases)),
        _corner_shares(topology)[which[taken]],
        new_parents[order],
        chosen[new_parents[order]],
        _creases_after(topology, creases, halved, on_edge),
    )


def _creases_after(
    topology: Topology, creases: np.ndarray, halved: np.ndarray, on_edge: np.ndarray
) -> np.ndarray:
    """Creases whose halved edges are two each."""
    sharp = edges_at(topology, creases)
    whole = topology.edges[sharp & ~halved]
    cut, middle = topology.edges[sharp & halved], on_edge[sharp & halved]
    parts = [np.stack([cut[:, 0], middle], axis=1), np.stack([middle, cut[:, 1]], axis=1)]
    return np.concatenate([whole, *parts])


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
    topology: Topology,
    chosen: np.ndarray,
    halved: np.ndarray,
    whole: np.ndarray,
    way: Way,
    creases: np.ndarray,
) -> scipy.sparse.csr_array:
    """(new, P): old points, then those on edges, then those in faces."""
    count, edges = topology.point_count, topology.edges
    faces = _face_means(topology) @ _rows(topology.corners, count)
    ends = _rows(edges[:, 0], count) + _rows(edges[:, 1], count)
    if way == "plain":
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
    inner = (sides == 2) & (chosen_sides == 2) & ~creases
    midpoint = scipy.sparse.diags_array(np.where(inner, 0.0, 0.5)) @ ends
    old = _Around(topology, meant, halved, inner, ends)
    if way == "loop":
        # 3/8 of each end and 1/8 of each point across: 3 (mean of a triangle) is all three.
        across = edge_faces @ faces * 3 - ends * 2
        inside = scipy.sparse.diags_array(np.where(inner, 0.125, 0.0)) @ (ends * 3 + across)
        moved = old.by_loop()
    else:
        inside = scipy.sparse.diags_array(np.where(inner, 0.25, 0.0)) @ (ends + edge_faces @ faces)
        moved = old.by_catmull_clark(faces)
    return scipy.sparse.vstack([moved, (inside + midpoint)[halved], faces[whole]], format="csr")


class _Around:
    """What is around the old points: to where each goes, as (P, P) shares.

    Inside, the scheme says; on a border or a crease, ¾ of the point and ⅛ of each neighbour along
    it; elsewhere it stays. At the end of a crease inside the surface a point is as any other.
    """

    def __init__(
        self,
        topology: Topology,
        meant: np.ndarray,
        halved: np.ndarray,
        inner: np.ndarray,
        ends: scipy.sparse.csr_array,
    ) -> None:
        self.count = topology.point_count
        self.corner_points = topology.corners[meant]
        self.corner_faces = topology.corner_face[meant]
        self.face_count = topology.face_count
        self.ends = ends
        self.halved = halved
        self.rim = halved & ~inner
        self.valence = np.bincount(topology.edges[halved].reshape(-1), minlength=self.count)
        around = np.bincount(self.corner_points, minlength=self.count)
        rims = np.bincount(topology.edges[self.rim].reshape(-1), minlength=self.count)
        self.inside = (rims <= 1) & (self.valence >= 3) & (around == self.valence)
        self.border = (rims == 2) & (around >= 2) & ~self.inside

    def _neighbours(self, edges: np.ndarray) -> scipy.sparse.csr_array:
        """(P, P): 1 where one of these edges joins two points."""
        joined = (self.ends.T @ scipy.sparse.diags_array(edges.astype(float)) @ self.ends).tocsr()
        return joined - scipy.sparse.diags_array(joined.diagonal())

    def _moved(self, own: np.ndarray, others: scipy.sparse.csr_array) -> scipy.sparse.csr_array:
        """own : (P,) share of the point itself inside; others : shares of the others there"""
        kept = np.where(self.inside, own, np.where(self.border, 0.75, 1.0))
        eighth = scipy.sparse.diags_array(np.where(self.border, 0.125, 0.0))
        moved = scipy.sparse.diags_array(kept) + others + eighth @ self._neighbours(self.rim)
        found = scipy.sparse.csr_array(moved)
        found.eliminate_zeros()
        return found

    def by_catmull_clark(self, faces: scipy.sparse.csr_array) -> scipy.sparse.csr_array:
        """(F + 2 R + (n - 3) S) / n of the mean F of the n faces' middles, the mean R of the edges'
        midpoints, and the point S itself. faces : (F, P) the faces' middles"""
        n = np.maximum(self.valence, 1)
        square = scipy.sparse.diags_array(np.where(self.inside, 1 / n**2, 0.0))
        incidence = scipy.sparse.csr_array(
            (np.ones(len(self.corner_points)), (self.corner_points, self.corner_faces)),
            (self.count, self.face_count),
        )
        others = square @ (self._neighbours(self.halved) + incidence @ faces)
        return self._moved((n - 2) / n, others)

    def by_loop(self) -> scipy.sparse.csr_array:
        """1 - n β of the point and β of each neighbour, β = (5/8 - (3/8 + cos(2π/n)/4)²) / n."""
        n = np.maximum(self.valence, 1)
        beta = (0.625 - (0.375 + np.cos(2 * np.pi / n) / 4) ** 2) / n
        share = scipy.sparse.diags_array(np.where(self.inside, beta, 0.0))
        return self._moved(1 - n * beta, share @ self._neighbours(self.halved))


def points_after(topology: Topology, chosen: np.ndarray, smooth: bool) -> int:
    """How many points one halving makes."""
    sizes = np.diff(topology.face_starts)
    halved = np.unique(topology.side_edges[chosen[topology.corner_face]])
    whole = chosen if smooth else chosen & (sizes != 3)
    return topology.point_count + len(halved) + int(np.count_nonzero(whole))


def subdivided(
    topology: Topology,
    levels: int,
    way: Way,
    chosen: np.ndarray | None = None,
    creases: np.ndarray | None = None,
) -> Structure:
    """Every chosen face halved so many times.

    way : "smooth", Catmull–Clark; "loop", of triangles only; "plain": points stay, and triangles
        become four triangles
    creases : (E,) bool, edges that stay sharp, or None
    chosen : (F,) bool, or None for all. Where it ends the surface has a border of its own, and
        faces beside it take the new points into their rings, so that nothing tears
    """
    meant = np.ones(topology.face_count, bool) if chosen is None else chosen
    points = scipy.sparse.eye_array(topology.point_count, format="csr")
    corners = scipy.sparse.eye_array(len(topology.corners), format="csr")
    parents = np.arange(topology.face_count)
    made = topology
    sharp = topology.edges[:0] if creases is None else topology.edges[creases]
    for _ in range(levels):
        go_on()
        level = _halved(made, meant, way, sharp)
        points, corners = level.points @ points, level.corners @ corners
        parents, meant, made = parents[level.parents], level.chosen, level.topology
        sharp = level.creases
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
