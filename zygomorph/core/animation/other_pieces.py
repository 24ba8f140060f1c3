"""What steps need of another piece: its points one for one, or a search over its surface."""

from __future__ import annotations

import hashlib

import numpy as np

from zygomorph.core.cache import BoundedCache
from zygomorph.core.context import Other
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.mesh import Mesh
from zygomorph.core.place import transformed
from zygomorph.core.surface_search import SurfaceSearch, search_of

# Trees over pieces that stand still serve every frame.
_trees: BoundedCache[SurfaceSearch] = BoundedCache(128_000_000)


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


def search_other(other: Other) -> SurfaceSearch:
    """A search over the other piece as this one sees it. Raises ZygomorphError without faces."""
    key = hashlib.blake2b(other.key.encode() + other.matrix.tobytes()).hexdigest()
    found = _trees.get(key)
    if found is None:
        triangles = other.mesh.topology.triangles(other.mesh.points)
        if len(triangles) == 0:
            raise ZygomorphError(f"“{other.name}” has no faces.", "Choose a piece with a surface.")
        found = search_of(transformed(other.mesh.points, other.matrix), triangles)
        _trees.put(key, found, found.size_in_bytes)
    return found
