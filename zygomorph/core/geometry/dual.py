"""The dual of a polygon mesh: a point for each face, and a face for each point."""

from __future__ import annotations

import numpy as np
import scipy

from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.rings import corners_before, rings_of
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology


def _means(topology: Topology) -> scipy.sparse.csr_array:
    """(F, C): the mean of the corners of each face."""
    sizes = np.diff(topology.face_starts)
    shares = np.repeat(1 / np.maximum(sizes, 1), sizes)
    return scipy.sparse.csr_array(
        (shares, np.arange(len(topology.corners)), topology.face_starts),
        (topology.face_count, len(topology.corners)),
    )


def dual(topology: Topology, keep_rim: bool) -> Structure:
    """Faces and points change places.

    keep_rim : along a border, the middles of its edges and its points are points too, so that the
        surface ends where it did; otherwise points on a border become no faces
    """
    rings, face_of = rings_of(topology), topology.corner_face
    before, after = corners_before(topology), topology.next_corner
    sizes = np.diff(rings.starts)
    opened = ~rings.closed
    made = (sizes >= 3) & rings.closed
    if keep_rim:
        made |= opened
    extra = np.where(opened, 3, 0) if keep_rim else np.zeros(len(sizes), int)
    lengths = np.where(made, sizes + extra, 0)
    starts = np.concatenate([[0], np.cumsum(lengths)])
    # Every corner of the new faces comes from the middle of a face or of a side, or a corner.
    count, corner_count = topology.face_count, len(topology.corners)
    own = np.empty(starts[-1], np.int64)
    ring_of = np.repeat(np.arange(len(sizes)), sizes)
    into = np.arange(corner_count) - rings.starts[ring_of] + (extra > 0)[ring_of]
    kept = made[ring_of]
    own[(starts[ring_of] + into)[kept]] = face_of[rings.corners[kept]]
    if keep_rim:
        open_rings = np.flatnonzero(opened)
        first, last = (
            rings.corners[rings.starts[:-1][opened]],
            rings.corners[rings.starts[1:][opened] - 1],
        )
        own[starts[open_rings]] = count + first
        own[starts[open_rings + 1] - 2] = count + before[last]
        own[starts[open_rings + 1] - 1] = count + corner_count + first
    one = scipy.sparse.eye_array(corner_count, format="csr")
    following = scipy.sparse.csr_array(
        (np.ones(corner_count), (np.arange(corner_count), after)), (corner_count, corner_count)
    )
    shares = scipy.sparse.vstack([_means(topology), (one + following) / 2, one], format="csr")

    # Places that are met at several corners are one point: the middle of a side by its edge, a
    # corner by its point.
    name = own.copy()
    side = (own >= count) & (own < count + corner_count)
    name[side] = count + topology.side_edges[own[side] - count]
    corner = own >= count + corner_count
    name[corner] = count + corner_count + topology.corners[own[corner] - count - corner_count]
    # All faces stay points, even where none of the new faces meets them.
    names = np.concatenate([np.arange(count), name])
    _, first_met, numbers = np.unique(names, return_index=True, return_inverse=True)
    places = np.concatenate([np.arange(count), own])[first_met]
    used = np.zeros(len(places), bool)
    used[numbers[count:]] = True
    renumber = np.cumsum(used) - 1
    to_points = scipy.sparse.csr_array(
        (np.ones(corner_count), (np.arange(corner_count), topology.corners)),
        (corner_count, topology.point_count),
    )
    points = shares[places[used]] @ to_points
    ring_corner = scipy.sparse.csr_array(
        (np.repeat(1 / np.maximum(sizes, 1), sizes), face_of[rings.corners], rings.starts),
        (len(sizes), count),
    )
    faces = ring_corner[np.flatnonzero(made)]
    return Structure(
        Topology(
            int(used.sum()),
            renumber[numbers[count:]].astype(np.int32),
            np.concatenate([[0], np.cumsum(lengths[made])]).astype(np.int32),
        ),
        {
            "point": Origin.of_matrix(points, np.full(points.shape[0], -1)),
            "corner": Origin.of_matrix(shares[own], np.full(len(own), -1)),
            "face": Origin.of_matrix(faces, np.full(faces.shape[0], -1)),
        },
    )
