"""The skin of soft balls as a change of topology of the points that are balls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.balls.balls import Balls
from zygomorph.core.geometry.mesh import Mesh, uniform_faces
from zygomorph.core.geometry.normals import with_normals
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology


@dataclass(frozen=True, eq=False)
class BallSkin(Structure):
    """points, normals : (P, 3) float32, as the field has them"""

    points: np.ndarray = None  # type: ignore[assignment]
    normals: np.ndarray = None  # type: ignore[assignment]

    def carried(self, mesh: Mesh, points: np.ndarray) -> Mesh:
        made = super().carried(mesh, points)
        return with_normals(made, self.normals) if points is self.points else made


def ball_skin(balls: Balls, cell: float) -> BallSkin:
    """The skin on voxels of a size, metres; each of its points takes what is known from the ball
    that is strongest there."""
    skin = balls.skin(cell)
    corners, starts = uniform_faces(skin.triangles)
    topology = Topology(
        len(skin.points),
        np.ascontiguousarray(corners, np.int32),
        np.ascontiguousarray(starts, np.int32),
    )
    strongest = np.maximum(balls.strongest(skin.points), 0)
    point = Origin.taken(strongest)
    new = np.full(len(point), -1, np.int32)
    origins = {"point": Origin(point.starts, point.parents, continues=new)}
    return BallSkin(topology, origins, points=skin.points, normals=skin.normals)
