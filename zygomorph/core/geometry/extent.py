"""How large a mesh is, for values that are to suit it."""

from __future__ import annotations

from dataclasses import dataclass

from zygomorph.core.geometry.mesh import Mesh


@dataclass(frozen=True)
class Extent:
    """middle : (3,) of the box, rounded to 0.1 mm; size : its longest side, metres, above 0"""

    middle: list[float]
    size: float

    def share(self, part: float) -> float:
        """A part of the size, in two figures."""
        return float(f"{self.size * part:.2g}")


def extent_of(mesh: Mesh) -> Extent | None:
    """None where there are no points, or all lie in one place."""
    if len(mesh.points) == 0:
        return None
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    size = float((high - low).max())
    return Extent([round(float(m), 4) for m in (low + high) / 2], size) if size else None
