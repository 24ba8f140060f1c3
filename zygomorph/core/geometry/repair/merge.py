"""Join points that are the same, or nearly, and take out the faces that this leaves without a
surface."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.origins import Origin, carry_attributes, carry_some
from zygomorph.core.geometry.topology import Topology


def without_repeats(
    corners: np.ndarray, starts: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Polygons without corners that repeat the one before, and without those of fewer than three.

    Returns numbers of the corners kept, the new face starts, and numbers of the faces kept.
    """
    count = len(starts) - 1
    face = np.repeat(np.arange(count), np.diff(starts))
    following = np.arange(1, len(corners) + 1)
    filled = np.diff(starts) > 0
    following[starts[1:][filled] - 1] = starts[:-1][filled]
    repeats = corners == corners[np.minimum(following, len(corners) - 1)] if len(corners) else []
    keep = ~np.asarray(repeats, bool)
    sizes = np.bincount(face[keep], minlength=count)
    good = sizes >= 3
    keep &= good[face]
    new_starts = np.concatenate([[0], np.cumsum(sizes[good])])
    return np.flatnonzero(keep), new_starts, np.flatnonzero(good)


def close_groups(points: np.ndarray, distance: float) -> np.ndarray:
    """(P,) number of the group of each point; points within the distance of each other, or linked
    by such points, are of one group."""
    pairs = scipy.spatial.cKDTree(points).query_pairs(distance, output_type="ndarray")
    links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (len(points), len(points)))
    return scipy.sparse.csgraph.connected_components(links, directed=False)[1]


def joined(mesh: Mesh, distance: float) -> Mesh:
    """The mesh with points within the distance of each other joined in their middle.

    distance : metres; nothing is joined at 0
    """
    if distance <= 0 or mesh.topology.face_count == 0:
        return mesh
    group = close_groups(mesh.points, distance)
    if group.max() + 1 == len(mesh.points):
        return mesh
    _, first, number = np.unique(group, return_index=True, return_inverse=True)
    topology = mesh.topology
    corners = number[topology.corners]
    kept, starts, faces = without_repeats(corners, topology.face_starts)
    attributes = carry_attributes(
        mesh,
        {
            "point": Origin.taken(first),
            "corner": Origin.taken(kept),
            "face": Origin.taken(faces),
        },
    )
    size = np.bincount(number)
    middle = np.stack([np.bincount(number, axis) / size for axis in mesh.points.T], axis=1)
    return Mesh(
        np.ascontiguousarray(middle, np.float32),
        Topology(
            len(first),
            corners[kept].astype(np.int32),
            starts.astype(np.int32),
            number[topology.curve_points].astype(np.int32),
            topology.curve_starts,
            topology.curve_closed,
        ),
        attributes,
    )


def split_by(mesh: Mesh, label: np.ndarray) -> Mesh:
    """The mesh with a point of its own for each label of the faces around it, so that faces of
    different labels can be moved apart; curves get points of their own too.

    label : (F,) whole numbers
    """
    topology = mesh.topology
    keys = label[topology.corner_face].astype(np.int64) * topology.point_count + topology.corners
    own = (int(label.max(initial=0)) + 1) * topology.point_count + topology.curve_points
    used, places = np.unique(np.concatenate([keys, own]), return_inverse=True)
    corners, curve_points = np.split(places, [len(keys)])
    points = used % topology.point_count
    attributes = carry_some(mesh, {"point": Origin.taken(points)})
    return replace(
        mesh,
        points=np.ascontiguousarray(mesh.points[points]),
        topology=Topology(
            len(points),
            corners.astype(np.int32),
            topology.face_starts,
            curve_points.astype(np.int32),
            topology.curve_starts,
            topology.curve_closed,
        ),
        attributes=attributes,
    )
