"""Removing parts of a mesh: whole faces, points or curves, or along a contour of a mask.

The contour is that of marching triangles, the plane case of W. Lorensen, H. Cline, "Marching
Cubes", SIGGRAPH 1987: on each edge between a point inside and one outside it is met where the
weight, which is linear along the edge, is at the level.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.compact import renumbered, used_points
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.geometry.triangulation import triangulated


def without(
    topology: Topology,
    faces: np.ndarray,
    points: np.ndarray | None = None,
    curves: np.ndarray | None = None,
) -> Structure:
    """The topology without some of its parts, and without points that nothing uses any more.

    faces : (F,) bool, those that go; points : (P,) bool, with the faces that meet them
    curves : (K,) bool
    """
    starts, sizes = topology.face_starts, np.diff(topology.face_starts)
    gone = faces
    if points is not None:
        meets = np.bincount(topology.corner_face, points[topology.corners], len(sizes)) > 0
        gone = gone | meets
    kept_faces = np.flatnonzero(~gone)
    kept_corners = ragged(starts[:-1][kept_faces].astype(np.int64), sizes[kept_faces])
    used = used_points(topology, topology.corners[kept_corners], topology.point_count)
    if points is not None:
        used &= ~points
    curve_points, curve_starts, curve_closed = _curves_left(topology, points, curves)
    if curves is not None:
        held = np.zeros(topology.point_count, bool)
        held[topology.curve_points] = True
        held[curve_points] = False
        held[topology.corners[kept_corners]] = False
        used &= ~held
    kept, number = np.flatnonzero(used), renumbered(used)
    return Structure(
        Topology(
            len(kept),
            number[topology.corners[kept_corners]].astype(np.int32),
            np.concatenate([[0], np.cumsum(sizes[kept_faces])]).astype(np.int32),
            number[curve_points].astype(np.int32),
            curve_starts,
            curve_closed,
        ),
        {
            "point": Origin.taken(kept),
            "corner": Origin.taken(kept_corners),
            "face": Origin.taken(kept_faces),
        },
    )


def _curves_left(
    topology: Topology, points: np.ndarray | None, curves: np.ndarray | None
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Curves without some of them, and without points: what remains between these are curves."""
    along, starts = topology.curve_points, topology.curve_starts.astype(np.int64)
    closed = topology.curve_closed
    if curves is not None:
        kept = np.flatnonzero(~curves)
        sizes = np.diff(starts)[kept]
        along = along[ragged(starts[:-1][kept], sizes)]
        starts, closed = np.concatenate([[0], np.cumsum(sizes)]), closed[kept]
    if points is None or not points[along].any():
        return along, starts.astype(np.int32), closed
    curve = np.repeat(np.arange(len(closed)), np.diff(starts))
    gone = points[along]
    opened = np.bincount(curve[gone], minlength=len(closed)) > 0
    # A closed curve that loses points begins after one of them.
    order = np.arange(len(along))
    for each in np.flatnonzero(opened & closed):
        lo, hi = starts[each], starts[each + 1]
        order[lo:hi] = np.roll(order[lo:hi], -int(np.argmax(gone[lo:hi])))
    along, gone = along[order], gone[order]
    stays = np.flatnonzero(~gone)
    begins = np.ones(len(stays), bool)
    begins[1:] = (stays[1:] != stays[:-1] + 1) | (curve[stays[1:]] != curve[stays[:-1]])
    first = np.flatnonzero(begins)
    new_starts = np.concatenate([first, [len(stays)]]).astype(np.int32)
    of_curve = curve[stays[first]]
    return along[stays], new_starts, closed[of_curve] & ~opened[of_curve]


def cut_along(topology: Topology, weights: np.ndarray, level: float) -> Structure:
    """The surface where weights, (P,) float32, are below a level, cut exactly along it."""
    inside = weights < level
    of_face = np.bincount(
        topology.corner_face, inside[topology.corners], topology.face_count
    ).astype(int)
    crossed = (of_face > 0) & (of_face < np.diff(topology.face_starts))
    first = triangulated(topology, crossed)
    return _cut_triangles(first.topology, weights, inside, level).after(first)


def _cut_triangles(
    topology: Topology, weights: np.ndarray, inside: np.ndarray, level: float
) -> Structure:
    corners, after = topology.corners, topology.next_corner
    count, face_of = topology.point_count, topology.corner_face
    kept = inside[corners]
    crosses = kept != kept[after]
    # A corner that stays keeps its place, and a side that crosses the level has one after it.
    slots = np.stack([kept, crosses], axis=1)
    edge_used = np.zeros(len(topology.edges), bool)
    edge_used[topology.side_edges[crosses]] = True
    edges = topology.edges[edge_used]
    a, b = weights[edges[:, 0]].astype(np.float64), weights[edges[:, 1]].astype(np.float64)
    share = (level - a) / np.where(a == b, 1, b - a)
    number = np.cumsum(edge_used) - 1
    point = np.stack([corners, count + number[topology.side_edges]], axis=1)[slots]
    sizes = np.bincount(face_of, slots.sum(axis=1), topology.face_count).astype(int)
    kept_faces = np.flatnonzero(sizes >= 3)

    # Shares of corners: itself, or between it and the next as along its edge.
    begins = topology.edges[topology.side_edges, 0] == corners
    along = np.zeros(len(corners))
    along[crosses] = share[number[topology.side_edges[crosses]]]
    along = np.where(begins, along, 1 - along)
    own = np.repeat(np.arange(len(corners)), 2).reshape(-1, 2)
    to_next = np.stack([np.zeros(len(corners)), along], axis=1)[slots]
    parents = np.stack([own, after[own]], axis=2)[slots]

    all_parents = np.concatenate([np.repeat(np.arange(count), 2).reshape(-1, 2), edges])
    all_shares = np.concatenate([np.zeros(count), share])
    used = used_points(topology, point, count + len(edges))
    used[:count] &= inside
    renumber = renumbered(used)
    curve_points, curve_starts, curve_closed = _curves_left(topology, ~inside, None)
    chosen = np.flatnonzero(used)
    continues = np.where(chosen < count, chosen, -1)
    point_origin = Origin.mixed(
        all_parents[chosen], np.stack([1 - all_shares[chosen], all_shares[chosen]], axis=1)
    )
    return Structure(
        Topology(
            len(chosen),
            renumber[point].astype(np.int32),
            np.concatenate([[0], np.cumsum(sizes[kept_faces])]).astype(np.int32),
            renumber[curve_points].astype(np.int32),
            curve_starts,
            curve_closed,
        ),
        {
            "point": Origin(
                point_origin.starts,
                point_origin.parents,
                point_origin.weights,
                continues.astype(np.int32),
            ),
            "corner": Origin.mixed(parents, np.stack([1 - to_next, to_next], axis=1)),
            "face": Origin.taken(kept_faces),
        },
    )
