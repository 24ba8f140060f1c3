"""What steps need of another piece: its points one for one, or a search over its surface."""

from __future__ import annotations

from collections.abc import Hashable

import numpy as np

from zygomorph.core.animation.context import Context, Other
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import REST, Mesh
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


def mesh_beside(piece_id: str, context: Context) -> tuple[str, Mesh, Hashable]:
    """The name of another piece, its mesh as this piece sees it, and what is the same for the same
    mesh. It is at rest as it stands."""
    other = context.other(piece_id)
    key = ("beside", other.key, other.matrix.tobytes())

    def make() -> Mesh:
        points = transformed(other.mesh.points, other.matrix)
        return other.mesh.moved(points).with_attribute("point", REST, points)

    mesh: Mesh = context.memo.once(key, make)
    return other.name, mesh, key
