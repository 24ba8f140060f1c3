"""Faces that lie in one another and look the same way: which is in front changes from pixel to
pixel, and the picture shimmers."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import scipy

from zygomorph.core.geometry.elements import face_centres
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.inspect.findings.finding import Finding, Look

# As shares of the size, and of the area: what a stage of today cannot tell apart.
CLOSE = 2e-6
LIKE = 1e-3
TINY = 1e-8
MOST_FACES = 500_000
# Fewer than this share of the faces are a slip that nobody sees.
SEEN = 0.002


def overlapping_faces(mesh: Mesh) -> np.ndarray:
    """(n,) faces that another one equals in place, size and direction."""
    count = mesh.topology.face_count
    if not 1 < count <= MOST_FACES:
        return np.zeros(0, np.int64)
    size = float(np.ptp(mesh.points, axis=0).max())
    centres, areas = face_centres(mesh).astype(np.float64), face_vector_areas(mesh)
    pairs = scipy.spatial.cKDTree(centres).query_pairs(CLOSE * size, output_type="ndarray")
    if len(pairs) == 0:
        return np.zeros(0, np.int64)
    one, other = areas[pairs[:, 0]], areas[pairs[:, 1]]
    length = np.linalg.norm(one, axis=1)
    # What has shrunk to nothing is not seen.
    seen = length > TINY * size**2
    same = np.linalg.norm(one - other, axis=1) <= LIKE * length
    return np.unique(pairs[same & seen])


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        last = look.plan(piece["id"]).steps[-1]
        found = look.result(piece["id"], last.id)
        mesh = found.geometry.bases[0] if found.geometry.copies else found.geometry.mesh
        faces = overlapping_faces(mesh)
        if len(faces) <= SEEN * mesh.topology.face_count:
            continue
        at = face_centres(mesh)[faces[0]]
        place = found.place[:3, :3] @ at + found.place[:3, 3]
        yield Finding(
            "faces_overlap",
            piece["id"],
            f"{len(faces):,} faces lie in one another",
            "They look the same way at the same place, so that the picture shimmers. Move them "
            "apart, join what lies twice, or remove it.",
            last.id,
            place=(float(place[0]), float(place[1]), float(place[2])),
        )
