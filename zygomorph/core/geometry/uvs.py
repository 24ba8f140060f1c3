"""UVs, which lie on corners, as they are read at points."""

from __future__ import annotations

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import UV, Mesh


def uv_of_corners(mesh: Mesh) -> np.ndarray:
    """(C, 2) float32. Raises ZygomorphError where the form has none."""
    uv = mesh.get("corner", UV)
    if uv is None:
        raise ZygomorphError(
            "The form has no UVs.", "Use positions, or a form that has them, such as a sheet."
        )
    return uv


def uv_of_points(mesh: Mesh) -> np.ndarray:
    """(P, 2) float32: of each point, the UV of its first corner; 0 of a point without corners."""
    known = mesh.get("point", UV)
    if known is not None:
        return known
    found = np.zeros((len(mesh.points), 2), np.float32)
    # Later entries win, so that the order turned round leaves the first corner's.
    found[mesh.topology.corners[::-1]] = uv_of_corners(mesh)[::-1]
    return found
