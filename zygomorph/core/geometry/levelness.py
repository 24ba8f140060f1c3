"""Whether a surface faces the same way everywhere."""

from __future__ import annotations

from zygomorph.core.geometry.elements import Elements
from zygomorph.core.geometry.mesh import Mesh

# Of the cosine of two normals that are one: rounding of 32-bit points.
ROUNDING = 1e-4


def is_level(mesh: Mesh) -> bool:
    """Whether all faces look one way, or there are none."""
    if mesh.topology.face_count == 0:
        return True
    normals = Elements(mesh, "face").normals()
    return bool((normals @ normals[0]).min() > 1 - ROUNDING)
