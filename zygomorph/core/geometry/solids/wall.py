"""An open surface as a wall: the surface itself, a back at some depth below it, and a rim."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.extrusion import Extrusion, extruded, positions
from zygomorph.core.geometry.mesh import Mesh


def wall_structure(mesh: Mesh) -> Extrusion:
    """Its first faces are those of the surface, in their order."""
    everything = np.ones(mesh.topology.face_count, bool)
    return extruded(mesh.topology, everything, True, 1, True, "")


def wall_points(mesh: Mesh, structure: Extrusion, thickness: float) -> np.ndarray:
    """(n, 3) float32; thickness : metres below the surface, against its normals"""
    count = mesh.topology.face_count
    none = np.zeros(count, np.float32)
    depth = np.full(count, -thickness, np.float32)
    return positions(mesh, structure.tops, depth, none, none)


def as_wall(mesh: Mesh, thickness: float) -> Mesh:
    structure = wall_structure(mesh)
    return structure.carried(mesh, wall_points(mesh, structure, thickness))
