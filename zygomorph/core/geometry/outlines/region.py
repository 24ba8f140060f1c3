"""What contours enclose, cut into faces by a grid.

Noding and polygonizing are those of GEOS (through shapely): every crossing becomes one point that
all faces around it share, so that nothing tears where they are bent.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.outlines.contour import Contour

# Faces of a grid beyond which it is refused before GEOS begins.
MOST_CELLS = 2_000_000


@dataclass(frozen=True)
class Faces:
    """points : (P, 2) float64; corners, starts : as in a mesh, counter-clockwise"""

    points: np.ndarray
    corners: np.ndarray
    starts: np.ndarray


def winding_numbers(places: np.ndarray, contours: Sequence[Contour]) -> np.ndarray:
    """(n,) how often closed contours go around places (Sunday, "Inclusion of a point in a
    polygon"): edges that cross upward to the right count for it, downward against it."""
    found = np.zeros(len(places), int)
    x, y = places[:, :1], places[:, 1:]
    for contour in contours:
        a = contour.points
        b = np.roll(a, -1, axis=0)
        left = (b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (x - a[:, 0]) * (b[:, 1] - a[:, 1])
        up = (a[:, 1] <= y) & (b[:, 1] > y) & (left > 0)
        down = (a[:, 1] > y) & (b[:, 1] <= y) & (left < 0)
        found += up.sum(axis=1) - down.sum(axis=1)
    return found


def area_of(contours: Sequence[Contour], rule: str = "nonzero") -> list[shapely.Polygon]:
    """The parts that closed contours enclose, by the rules of SVG 2: "nonzero" or "evenodd".

    Each has its outer ring counter-clockwise and its holes clockwise. Contours may cross
    themselves and each other.
    """
    rings = [shapely.LinearRing(c.points) for c in contours if c.closed and len(c.points) > 2]
    if not rings:
        return []
    faces = shapely.get_parts(shapely.polygonize([shapely.unary_union(rings)]))
    if len(faces) == 0:
        return []
    inside = shapely.point_on_surface(faces)
    places = np.stack([shapely.get_x(inside), shapely.get_y(inside)], axis=1)
    number = winding_numbers(places, [c for c in contours if c.closed])
    kept = faces[number != 0 if rule == "nonzero" else number % 2 == 1]
    whole = shapely.get_parts(shapely.unary_union(kept))
    parts = [part for part in whole if isinstance(part, shapely.Polygon) and part.area > 0]
    return [shapely.geometry.polygon.orient(part) for part in parts]


def _grid(low: np.ndarray, high: np.ndarray, cell: float) -> list[shapely.LineString]:
    """Lines of a grid that passes through the origin, over a box."""
    first, last = np.floor(low / cell), np.ceil(high / cell)
    across, along = (np.arange(a, b + 1) * cell for a, b in zip(first, last, strict=True))
    if len(across) * len(along) > MOST_CELLS:
        raise ZygomorphError(
            f"A grid of {cell:.3g} m has {len(across) * len(along):,} cells here; the limit is "
            f"{MOST_CELLS:,}.",
            "Make the cells larger.",
        )
    upright = [shapely.LineString([(x, along[0]), (x, along[-1])]) for x in across]
    level = [shapely.LineString([(across[0], y), (across[-1], y)]) for y in along]
    return upright + level


def _single_rings(faces: np.ndarray) -> list[np.ndarray]:
    """Rings of faces; those with holes are cut into triangles."""
    rings: list[np.ndarray] = []
    for face in faces:
        if face.interiors:
            pieces = shapely.get_parts(shapely.constrained_delaunay_triangles(face))
            rings += [shapely.get_coordinates(p.exterior)[:-1] for p in pieces]
        else:
            rings.append(shapely.get_coordinates(face.exterior)[:-1])
    return rings


def faces_of(area: shapely.Polygon, cell: float) -> Faces:
    """A part cut into faces by a grid of cells (m), or as triangles where the cell is 0.

    Every point of the part's own rings is kept.
    """
    if cell > 0:
        bounds = np.array(area.bounds)
        lines = _grid(bounds[:2], bounds[2:], cell)
        cut = shapely.get_parts(shapely.polygonize([shapely.unary_union([area.boundary, *lines])]))
        shapely.prepare(area)
        rings = _single_rings(cut[shapely.contains(area, shapely.point_on_surface(cut))])
    else:
        pieces = shapely.get_parts(shapely.constrained_delaunay_triangles(area))
        rings = [shapely.get_coordinates(p.exterior)[:-1] for p in pieces]
    rings = [ring if _turns_left(ring) else ring[::-1] for ring in rings]
    every = np.concatenate(rings)
    points, corners = np.unique(every, axis=0, return_inverse=True)
    starts = np.concatenate([[0], np.cumsum([len(ring) for ring in rings])])
    return Faces(points, corners.ravel(), starts)


def _turns_left(ring: np.ndarray) -> bool:
    following = np.roll(ring, -1, axis=0)
    return float((ring[:, 0] * following[:, 1] - following[:, 0] * ring[:, 1]).sum()) > 0
