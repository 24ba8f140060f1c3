"""What a mesh has in vain: points that nothing uses, and faces that are there twice."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.origins import Origin, carry_some
from zygomorph.core.geometry.topology import Topology


def loose_points(topology: Topology) -> np.ndarray:
    """Numbers of the points that no face and no curve uses."""
    used = np.zeros(topology.point_count, bool)
    used[topology.corners] = True
    used[topology.curve_points] = True
    return np.flatnonzero(~used)


def without_loose_points(mesh: Mesh) -> Mesh:
    """The mesh without points that nothing uses; one that has only such points keeps them."""
    topology = mesh.topology
    loose = loose_points(topology)
    if len(loose) in (0, topology.point_count):
        return mesh
    kept = np.delete(np.arange(topology.point_count), loose)
    number = np.zeros(topology.point_count, np.int32)
    number[kept] = np.arange(len(kept))
    attributes = carry_some(mesh, {"point": Origin.taken(kept)})
    return Mesh(
        np.ascontiguousarray(mesh.points[kept]),
        Topology(
            len(kept),
            number[topology.corners],
            topology.face_starts,
            number[topology.curve_points],
            topology.curve_starts,
            topology.curve_closed,
        ),
        attributes,
    )


def doubled_faces(topology: Topology) -> np.ndarray:
    """Numbers of the faces that have the same points as an earlier one, whichever way they look."""
    sizes = np.diff(topology.face_starts)
    doubled = []
    for size in np.unique(sizes):
        faces = np.flatnonzero(sizes == size)
        corners = topology.corners[topology.face_starts[faces][:, None] + np.arange(size)]
        _, first = np.unique(np.sort(corners, axis=1), axis=0, return_index=True)
        doubled.append(np.delete(faces, first))
    return np.sort(np.concatenate(doubled)) if doubled else np.zeros(0, int)


def without_doubled_faces(mesh: Mesh) -> Mesh:
    """The mesh with the first only of faces that have the same points."""
    topology = mesh.topology
    doubled = doubled_faces(topology)
    if len(doubled) == 0:
        return mesh
    faces = np.delete(np.arange(topology.face_count), doubled)
    corners = np.flatnonzero(~np.isin(topology.corner_face, doubled))
    sizes = np.diff(topology.face_starts)[faces]
    taken = {"corner": Origin.taken(corners), "face": Origin.taken(faces)}
    attributes = carry_some(mesh, taken)
    return Mesh(
        mesh.points,
        Topology(
            topology.point_count,
            topology.corners[corners],
            np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32),
            topology.curve_points,
            topology.curve_starts,
            topology.curve_closed,
        ),
        attributes,
    )
