"""Plane parts with a depth: two caps, walls between them, and a bevel along their rims."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely

from zygomorph.core.budget import within_budget
from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.mesh import SHARD, SMOOTHING, UV, Mesh, make_curves, make_mesh
from zygomorph.core.geometry.outlines.contour import Contour
from zygomorph.core.geometry.outlines.region import Faces, faces_of
from zygomorph.core.geometry.repair.shells import edge_uses
from zygomorph.core.geometry.smoothing import groups_by_angle
from zygomorph.core.geometry.topology import Topology, turned_over

# A sharp corner is drawn in by no more than so many widths of the bevel.
MITRE_LIMIT = 3.0
HALVINGS = 12
# Degrees at which a wall turns from which on its edge is drawn sharp.
SHARP = 40.0


@dataclass(frozen=True)
class Solid:
    """depth, cell : metres; a cell of 0 leaves the faces as large as they come
    bevel : metres that rims are drawn in by; rounds : faces across a bevel
    """

    depth: float
    bevel: float
    rounds: int
    cell: float


@dataclass(frozen=True)
class _Piece:
    points: np.ndarray
    corners: np.ndarray
    sizes: np.ndarray


def flat_mesh(parts: Sequence[tuple[int, shapely.Polygon]], cell: float) -> Mesh:
    """Parts as faces in the plane of x and y, which look along z.

    parts : the number of the shard each is of, and the part
    """
    pieces, shards = [], []
    for shard, area in parts:
        go_on()
        faces = faces_of(area, cell)
        pieces.append(_Piece(_at(faces.points, 0.0), faces.corners, np.diff(faces.starts)))
        shards.append(np.full(len(faces.starts) - 1, shard))
    return _joined(pieces, np.concatenate(shards))


def solid_mesh(parts: Sequence[tuple[int, shapely.Polygon]], solid: Solid) -> Mesh:
    """Parts with a depth, half of it before and half behind the plane of x and y."""
    pieces, shards = [], []
    made = 0
    for shard, area in parts:
        go_on()
        piece = _solid(area, solid)
        pieces.append(piece)
        made += len(piece.points)
        within_budget(made)
        shards.append(np.full(len(piece.sizes), shard))
    mesh = _joined(pieces, np.concatenate(shards))
    return mesh.with_attribute("face", SMOOTHING, groups_by_angle(mesh, SHARP))


def curve_mesh(contours: Sequence[Contour]) -> Mesh:
    """Contours as curves in the plane of x and y."""
    return make_curves([_at(c.points, 0.0) for c in contours], [c.closed for c in contours])


def _at(points: np.ndarray, depth: float) -> np.ndarray:
    return np.concatenate([points, np.full((len(points), 1), depth)], axis=1)


def _joined(pieces: Sequence[_Piece], shards: np.ndarray) -> Mesh:
    first = np.cumsum([0, *(len(p.points) for p in pieces[:-1])])
    corners = np.concatenate([p.corners + f for p, f in zip(pieces, first, strict=True)])
    starts = np.concatenate([[0], np.cumsum(np.concatenate([p.sizes for p in pieces]))])
    points = np.concatenate([p.points for p in pieces])
    low, high = points[:, :2].min(axis=0), points[:, :2].max(axis=0)
    uv = (points[corners, :2] - low) / max(float((high - low).max()), 1e-12)
    attributes = {
        "corner": {UV: uv.astype(np.float32)},
        "face": {SHARD: shards.astype(np.int32)},
    }
    return make_mesh(points, corners, starts, attributes)


def _drawn_in(ring: np.ndarray) -> np.ndarray:
    """(n, 2) for each point of a ring how it moves where the ring is drawn in by 1, towards the
    left of its way."""
    before, after = np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0)

    def left_of(way: np.ndarray) -> np.ndarray:
        length = np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-300)
        return np.stack([-way[:, 1], way[:, 0]], axis=1) / length

    one, other = left_of(ring - before), left_of(after - ring)
    between = 1 + np.einsum("ij,ij->i", one, other)
    mitre = (one + other) / np.maximum(between, 1e-9)[:, None]
    length = np.linalg.norm(mitre, axis=1, keepdims=True)
    return mitre * np.minimum(1.0, MITRE_LIMIT / np.maximum(length, 1e-9))


def _rings(area: shapely.Polygon) -> list[np.ndarray]:
    return [shapely.get_coordinates(r)[:-1] for r in (area.exterior, *area.interiors)]


def inset(area: shapely.Polygon, width: float) -> tuple[shapely.Polygon, float]:
    """The part drawn in by a width, point by point, or by as much of it as its thinnest place
    allows; and how much that is."""
    rings = _rings(area)
    ways = [_drawn_in(ring) for ring in rings]

    def drawn(by: float) -> shapely.Polygon | None:
        moved = [ring + by * way for ring, way in zip(rings, ways, strict=True)]
        made = shapely.Polygon(moved[0], moved[1:])
        keeps_its_sides = made.exterior.is_ccw and not any(r.is_ccw for r in made.interiors)
        return made if keeps_its_sides and made.is_valid and made.area > 0 else None

    found = drawn(width)
    if found is not None:
        return found, width
    low, high, best = 0.0, width, area
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        found = drawn(middle)
        if found is None:
            high = middle
        else:
            low, best = middle, found
    return best, low


def _onto(points: np.ndarray, inner: list[np.ndarray], outer: list[np.ndarray]) -> np.ndarray:
    """Places on outer rings that belong to places on the rings drawn in from them.

    Both have the same points in the same order; a place between two of them stays between them.
    """
    a = np.concatenate(inner)
    b = np.concatenate([np.roll(r, -1, axis=0) for r in inner])
    to_a = np.concatenate(outer)
    to_b = np.concatenate([np.roll(r, -1, axis=0) for r in outer])
    way = b - a
    length = np.maximum(np.einsum("ij,ij->i", way, way), 1e-300)
    made = np.empty_like(points)
    for begin in range(0, len(points), 1024):
        go_on()
        here = points[begin : begin + 1024]
        share = np.einsum("pij,ij->pi", here[:, None] - a[None], way) / length
        share = np.clip(share, 0, 1)
        nearest = a[None] + share[..., None] * way[None]
        apart = ((nearest - here[:, None]) ** 2).sum(axis=2)
        best = np.argmin(apart, axis=1)
        at = share[np.arange(len(here)), best][:, None]
        made[begin : begin + 1024] = to_a[best] + at * (to_b[best] - to_a[best])
    return made


def _border(faces: Faces) -> np.ndarray:
    """(B, 2) sides of faces that no other shares, in the direction of their face."""
    topology = Topology(len(faces.points), faces.corners, faces.starts)
    order, first, uses = edge_uses(topology)
    return topology.sides_of_faces[order[first[uses == 1]]]


def _solid(area: shapely.Polygon, solid: Solid) -> _Piece:
    half = solid.depth / 2
    drawn, width = area, 0.0
    if solid.bevel > 0 and half > 0:
        drawn, width = inset(area, min(solid.bevel, half))
    faces = faces_of(drawn, solid.cell)
    border = _border(faces)
    rim = np.unique(border)
    inner = faces.points[rim]
    outer = _onto(inner, _rings(drawn), _rings(area)) if width else inner
    # Around a quarter: from the cap, drawn in by the whole width, to the wall.
    angle = np.linspace(np.pi / 2, 0, solid.rounds + 1) if width else np.zeros(1)
    share = 1 - np.cos(angle)
    depth = half - width + width * np.sin(angle)
    rows = max(1, round((solid.depth - 2 * width) / solid.cell)) if solid.cell > 0 else 1
    straight = solid.depth - 2 * width > 1e-9 * solid.depth
    wall = np.linspace(depth[-1], -depth[-1], rows + 1)[1:-1] if straight else np.zeros(0)
    back = -depth[::-1] if straight else -depth[::-1][1:]
    shares = np.concatenate([share, np.zeros(len(wall)), share[::-1][-len(back) :]])
    depths = np.concatenate([depth, wall, back])
    between = [
        _at(outer + s * (inner - outer), d) for s, d in zip(shares[1:-1], depths[1:-1], strict=True)
    ]
    count = len(faces.points)
    points = np.concatenate([_at(faces.points, half), _at(faces.points, -half), *between])
    column = np.full(count, -1)
    column[rim] = np.arange(len(rim))
    numbers = [rim, *(2 * count + k * len(rim) + np.arange(len(rim)) for k in range(len(between)))]
    numbers.append(rim + count)
    a, b = column[border].T
    walls = [
        np.stack([upper[b], upper[a], lower[a], lower[b]], axis=1)
        for upper, lower in pairwise(numbers)
    ]
    sizes = np.diff(faces.starts)
    # The cap behind is the one before, seen from the other side.
    backward = turned_over(faces.starts)
    corners = [faces.corners, faces.corners[backward] + count, *(w.reshape(-1) for w in walls)]
    quads = np.full(sum(len(w) for w in walls), 4)
    return _Piece(points, np.concatenate(corners), np.concatenate([sizes, sizes, quads]))
