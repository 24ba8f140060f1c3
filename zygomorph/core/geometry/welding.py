"""Points at one place become one point."""

from __future__ import annotations

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.repair.merge import without_repeats
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology

# Points nearer than this share of the size are at one place.
NEAR = 1e-5


def welded(mesh: Mesh, chosen: np.ndarray) -> Structure:
    """Points of chosen faces, (F,) bool, that are at one place are joined; faces that this leaves
    without a surface go."""
    topology = mesh.topology
    number = np.arange(topology.point_count)
    mine = np.unique(topology.corners[chosen[topology.corner_face]])
    if len(mine):
        places = mesh.points[mine].astype(np.float64)
        near = max(float(np.ptp(places, axis=0).max()) * NEAR, 1e-12)
        pairs = scipy.spatial.cKDTree(places).query_pairs(near, output_type="ndarray")
        links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (len(mine), len(mine)))
        group = scipy.sparse.csgraph.connected_components(links, directed=False)[1]
        first = np.full(int(group.max()) + 1, len(number))
        np.minimum.at(first, group, mine)
        number[mine] = first[group]
    kept_points, new = np.unique(number, return_inverse=True)
    size = np.bincount(new)
    order = np.argsort(new, kind="stable")
    matrix = scipy.sparse.csr_array(
        (np.repeat(1 / size, size), order, np.concatenate([[0], np.cumsum(size)])),
        (len(size), topology.point_count),
    )
    corners = new[topology.corners]
    kept, starts, faces = without_repeats(corners, topology.face_starts)
    return Structure(
        Topology(
            len(size),
            corners[kept].astype(np.int32),
            starts.astype(np.int32),
            new[topology.curve_points].astype(np.int32),
            topology.curve_starts,
            topology.curve_closed,
        ),
        {
            "point": Origin.of_matrix(matrix, kept_points),
            "corner": Origin.taken(kept),
            "face": Origin.taken(faces),
        },
    )
