"""Cutting polygons apart along some of their edges: points there become one for each side."""

from __future__ import annotations

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import SHARD, Mesh
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology


def edge_sides(topology: Topology) -> tuple[np.ndarray, np.ndarray]:
    """Sides of polygons in the order of their edges, (C,) int, and where those of each edge begin,
    (E + 1,). A side has the number of the corner that it begins at."""
    return topology.derived(("edge sides",), lambda: _edge_sides(topology))


def _edge_sides(topology: Topology) -> tuple[np.ndarray, np.ndarray]:
    order = np.argsort(topology.side_edges, kind="stable")
    counts = np.bincount(topology.side_edges, minlength=len(topology.edges))
    return order, np.concatenate([[0], np.cumsum(counts)])


def meetings(topology: Topology) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Where sides meet: the edge, and two sides of it that follow one another, each (M,) int.

    An edge of two faces has one meeting, one of three faces has two.
    """
    order, _ = edge_sides(topology)
    edge = topology.side_edges[order]
    same = edge[1:] == edge[:-1]
    return edge[1:][same], order[:-1][same], order[1:][same]


def sharp_edges(mesh: Mesh, degrees: float) -> np.ndarray:
    """(E,) bool: edges at which faces meet at more than so many degrees, seen from outside."""
    topology = mesh.topology
    areas = face_vector_areas(mesh).astype(np.float64)
    units = areas / np.maximum(np.linalg.norm(areas, axis=1, keepdims=True), 1e-30)
    edge, one, other = meetings(topology)
    faces = topology.corner_face
    cosine = np.einsum("ij,ij->i", units[faces[one]], units[faces[other]])
    found = np.zeros(len(topology.edges), bool)
    # A face without an area has no direction, and no sharp edge.
    flat = np.linalg.norm(areas, axis=1) <= 1e-20
    known = ~(flat[faces[one]] | flat[faces[other]])
    found[edge[known & (cosine < np.cos(np.radians(degrees)) - 1e-6)]] = True
    return found


def edges_around(topology: Topology, chosen: np.ndarray) -> np.ndarray:
    """(E,) bool: edges between chosen faces, (F,) bool, and others."""
    edge, one, other = meetings(topology)
    faces = topology.corner_face
    found = np.zeros(len(topology.edges), bool)
    found[edge[chosen[faces[one]] != chosen[faces[other]]]] = True
    return found


def parts_between(topology: Topology, cut: np.ndarray) -> np.ndarray:
    """(F,) int32: the part each face is of where the faces are cut apart at these edges, (E,) bool;
    parts are numbered in the order of their first faces."""
    edge, one, other = meetings(topology)
    joined = ~cut[edge]
    faces = topology.corner_face
    count = topology.face_count
    links = scipy.sparse.coo_array(
        (np.ones(np.count_nonzero(joined), bool), (faces[one[joined]], faces[other[joined]])),
        (count, count),
    )
    labels = scipy.sparse.csgraph.connected_components(links, directed=False)[1]
    _, first, inverse = np.unique(labels, return_index=True, return_inverse=True)
    rank = np.empty(len(first), np.int32)
    rank[np.argsort(first)] = np.arange(len(first), dtype=np.int32)
    return rank[inverse]


def _points_between(topology: Topology, cut: np.ndarray) -> np.ndarray:
    """(C,) int: corners that stay one point have one number, whatever it is."""
    edge, one, other = meetings(topology)
    joined = ~cut[edge]
    one, other = one[joined], other[joined]
    after, corners = topology.next_corner, topology.corners
    opposed = corners[one] != corners[other]
    # The beginning of one side is the end of the other where both run against each other.
    begins = np.where(opposed, after[other], other)
    ends = np.where(opposed, other, after[other])
    count = len(corners)
    rows = np.concatenate([one, after[one]])
    columns = np.concatenate([begins, ends])
    links = scipy.sparse.coo_array((np.ones(len(rows), bool), (rows, columns)), (count, count))
    return scipy.sparse.csgraph.connected_components(links, directed=False)[1]


def _points_at_cuts(topology: Topology, cut: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The corners at points of edges that are cut, (k,) int, and as in ``_points_between`` a number
    for each. Only what lies around these is looked at."""
    corners, after, edge_of = topology.corners, topology.next_corner, topology.side_edges
    touched = np.zeros(topology.point_count, bool)
    touched[topology.edges[cut]] = True
    mine = np.flatnonzero(touched[corners])
    local = np.full(len(corners), -1)
    local[mine] = np.arange(len(mine))
    sides = np.flatnonzero(~cut[edge_of] & (touched[corners] | touched[corners[after]]))
    sides = sides[np.argsort(edge_of[sides], kind="stable")]
    same = edge_of[sides][1:] == edge_of[sides][:-1]
    one, other = sides[:-1][same], sides[1:][same]
    opposed = corners[one] != corners[other]
    pairs = np.concatenate(
        [
            np.stack([one, np.where(opposed, after[other], other)], axis=1),
            np.stack([after[one], np.where(opposed, other, after[other])], axis=1),
        ]
    )
    pairs = local[pairs[touched[corners[pairs[:, 0]]]]]
    links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (len(mine), len(mine)))
    return mine, scipy.sparse.csgraph.connected_components(links, directed=False)[1]


def cut_apart(topology: Topology, cut: np.ndarray, elsewhere: bool = True) -> Structure:
    """The faces cut apart along edges, (E,) bool; no point has moved yet.

    elsewhere : whether faces that share a point without an edge are cut apart there, too, away from
        the edges

    Each point stays where it was in the ring it is first met in; its other rings have points of
    their own, after all old ones. All keep its id, so that chance still moves them together.
    """
    corners = topology.corners
    count = topology.point_count
    mine = np.arange(len(corners))
    if not elsewhere:
        mine, group = _points_at_cuts(topology, cut)
    else:
        group = mine if bool(cut.all()) else _points_between(topology, cut)
    # One entry for each ring around each point, in the order of points and of first corners.
    _, first, ring = np.unique(group, return_index=True, return_inverse=True)
    own = corners[mine[first]]
    order = np.lexsort((first, own))
    is_first = np.concatenate([[True], own[order][1:] != own[order][:-1]])[: len(order)]
    number = np.empty(len(order), np.int64)
    number[order[is_first]] = own[order[is_first]]
    extra = order[~is_first]
    number[extra] = count + np.arange(len(extra))
    parents = np.concatenate([np.arange(count), own[extra]])
    new_corners = corners.copy()
    new_corners[mine] = number[ring]
    made = Topology(
        len(parents),
        new_corners.astype(np.int32),
        topology.face_starts,
        topology.curve_points,
        topology.curve_starts,
        topology.curve_closed,
        cut=topology.cut,
    )
    return Structure(
        made,
        {
            "point": Origin.taken(parents),
            "corner": Origin.taken(np.arange(len(corners))),
            "face": Origin.taken(np.arange(topology.face_count)),
        },
    )


def as_shards(
    structure: Structure, shard: np.ndarray, known: np.ndarray | None = None
) -> Structure:
    """The same whose faces are of these shards.

    shard : (F,) int32, of each new face
    known : (F,) the shards that the same faces were of before; of several that come from one, the
        first goes on as it
    """
    own = dict(structure.attributes.get("face", {}))
    attributes = {**structure.attributes, "face": {**own, SHARD: shard}}
    origins = dict(structure.origins)
    if known is not None and len(shard):
        _, first = np.unique(shard, return_index=True)
        parents = known[first]
        _, of_old = np.unique(parents, return_index=True)
        continues = np.full(len(parents), -1)
        continues[of_old] = parents[of_old]
        taken = Origin.taken(parents)
        origins["shard"] = Origin(taken.starts, taken.parents, continues=continues)
    return Structure(structure.topology, origins, attributes)
