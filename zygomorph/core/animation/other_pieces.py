"""What steps need of another piece: its points one for one, or a search over its surface."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context, Other
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.surface_search import SurfaceSearch, search_of


def matching_points(mesh: Mesh, other: Other) -> np.ndarray:
    """The other's points as this piece sees them, one for each of its own, (P, 3) float32.

    Raises ZygomorphError where there are more or fewer.
    """
    if len(other.mesh.points) != len(mesh.points):
        raise ZygomorphError(
            f"“{other.name}” has {len(other.mesh.points):,} points, this piece "
            f"{len(mesh.points):,}.",
            "Give both the same counts, or go by the nearest place where that can be chosen.",
        )
    return transformed(other.mesh.points, other.matrix)


def search_other(other: Other, context: Context) -> SurfaceSearch:
    """A search over the other piece as this one sees it; of a piece that stands still, the same at
    every frame. Raises ZygomorphError without faces."""

    def make() -> SurfaceSearch:
        triangles = other.mesh.topology.triangles(other.mesh.points)
        if len(triangles) == 0:
            raise ZygomorphError(f"“{other.name}” has no faces.", "Choose a piece with a surface.")
        return search_of(transformed(other.mesh.points, other.matrix), triangles)

    found: SurfaceSearch = context.memo.once(("search", other.key, other.matrix.tobytes()), make)
    return found
