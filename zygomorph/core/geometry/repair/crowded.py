"""Edges of more than two faces, at which a surface has no inside and no outside."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.origins import Origin, carry_some
from zygomorph.core.geometry.repair.shells import edge_uses
from zygomorph.core.geometry.topology import Topology


def _components(count: int, pairs: np.ndarray) -> np.ndarray:
    links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (count, count))
    return scipy.sparse.csgraph.connected_components(links, directed=False)[1]


def _linked_sides(topology: Topology) -> np.ndarray:
    """(L, 2) sides of faces that go on into each other: the two of an ordinary edge, and at a
    crowded one the two that belong to the same sheet."""
    order, first, uses = edge_uses(topology)
    two = first[uses == 2]
    links = [np.stack([order[two], order[two + 1]], axis=1)]
    sheet = _components(topology.face_count, topology.corner_face[links[0]])
    for begin, count in zip(first[uses > 2], uses[uses > 2], strict=True):
        sides = order[begin : begin + count]
        _, place, members = np.unique(
            sheet[topology.corner_face[sides]], return_inverse=True, return_counts=True
        )
        for k in np.flatnonzero(members == 2):
            links.append(sides[place == k][None, :])
    return np.concatenate(links)


def parted(mesh: Mesh) -> Mesh:
    """The mesh with points of their own for each sheet at its crowded edges, so that none has more
    than two faces; where two faces of one sheet meet there among others, they stay together.

    Points elsewhere stay as they are, the copies follow all others.
    """
    topology = mesh.topology
    order, first, uses = edge_uses(topology)
    crowded = order[np.repeat(first, uses)[np.repeat(uses > 2, uses)]]
    if len(crowded) == 0:
        return mesh
    sides = topology.sides_of_faces
    at_stake = np.zeros(topology.point_count, bool)
    at_stake[sides[crowded]] = True
    # A side begins in its own corner and ends in the next one of its face.
    corner_count = len(topology.corners)
    following = np.arange(1, corner_count + 1)
    following[topology.face_starts[1:] - 1] = topology.face_starts[:-1]
    one, other = _linked_sides(topology).T
    same_way = sides[one, 0] == sides[other, 0]
    begins = np.stack([one, np.where(same_way, other, following[other])], axis=1)
    ends = np.stack([following[one], np.where(same_way, following[other], other)], axis=1)
    fan = _components(corner_count, np.concatenate([begins, ends]))
    # The first fan of a point keeps it; each further one gets a copy.
    corners = topology.corners.astype(np.int64)
    keys = np.where(at_stake[corners], corners * corner_count + fan, corners * corner_count)
    used, place = np.unique(keys, return_inverse=True)
    owner = used // corner_count
    is_copy = np.concatenate([[False], owner[1:] == owner[:-1]])
    number = owner.copy()
    number[is_copy] = topology.point_count + np.arange(is_copy.sum())
    taken = np.concatenate([np.arange(topology.point_count), owner[is_copy]])
    attributes = carry_some(mesh, {"point": Origin.taken(taken)})
    return replace(
        mesh,
        points=np.ascontiguousarray(mesh.points[taken]),
        topology=replace(
            topology,
            point_count=len(taken),
            corners=number[place].astype(np.int32),
            grid=None,
        ),
        attributes=attributes,
    )
