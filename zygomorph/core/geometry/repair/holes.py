"""Holes of a mesh, and faces that fill them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.origins import Origin, carry_attributes
from zygomorph.core.geometry.repair.shells import edge_uses, parts_of
from zygomorph.core.geometry.topology import Topology

# Holes of more sides get a point in their middle.
MOST_SIDES = 4
# An opening as large as this share of its part belongs to its shape: the rim of a cup, the border
# of a sheet. A rule of thumb (common practice); what it takes for a rim can be filled too.
RIM = 0.3


def _border_sides(topology: Topology) -> np.ndarray:
    """Numbers of the sides that no other face shares."""
    order, first, uses = edge_uses(topology)
    return np.sort(order[first[uses == 1]])


def hole_sides(topology: Topology) -> list[np.ndarray]:
    """For each hole the numbers of its sides, in order around it, as the faces beside it go.

    Where holes touch in a point, the way is cut there, so that no hole passes a point twice.
    """
    sides = _border_sides(topology)
    begin, end = topology.sides_of_faces[sides].T.tolist()
    leaving: dict[int, list[int]] = {}
    for k, point in enumerate(begin):
        leaving.setdefault(point, []).append(k)
    holes = []
    for start in list(leaving):
        path: list[int] = []
        seen: dict[int, int] = {}
        here = start
        while True:
            if here in seen:
                holes.append(sides[path[seen[here] :]])
                for k in path[seen[here] :]:
                    seen.pop(begin[k], None)
                path = path[: len(path) - len(holes[-1])]
            if not leaving.get(here):
                break
            seen[here] = len(path)
            step = leaving[here].pop()
            path.append(step)
            here = end[step]
    return holes


@dataclass(frozen=True, eq=False)
class Opening:
    """sides : numbers of its sides, in order around it
    around : its length all around, in the unit of the points
    middle : (3,) mean of its points
    is_rim : whether it is so large that it belongs to the shape of its part
    """

    sides: np.ndarray
    around: float
    middle: np.ndarray
    is_rim: bool


def openings(mesh: Mesh) -> list[Opening]:
    """Holes and rims of a mesh, those of the greatest length first."""
    topology = mesh.topology
    if topology.face_count == 0:
        return []
    points = mesh.points.astype(np.float64)
    part = parts_of(topology)
    of_corner = part[topology.corner_face]
    low = np.full((int(part.max()) + 1, 3), np.inf)
    high = -low
    np.minimum.at(low, of_corner, points[topology.corners])
    np.maximum.at(high, of_corner, points[topology.corners])
    extent = np.linalg.norm(high - low, axis=1)
    found = []
    for sides in hole_sides(topology):
        begin, end = points[topology.sides_of_faces[sides].T]
        across = float(np.linalg.norm(begin.max(axis=0) - begin.min(axis=0)))
        around = float(np.linalg.norm(end - begin, axis=1).sum())
        is_rim = across >= RIM * extent[of_corner[sides[0]]]
        found.append(Opening(sides, around, begin.mean(axis=0), bool(is_rim)))
    return sorted(found, key=lambda each: -each.around)


def chosen_openings(
    found: Sequence[Opening], up_to: float, at: Sequence[Sequence[float]]
) -> list[Opening]:
    """Those whose length around is at most ``up_to``, and for each place of ``at`` the one whose
    middle is nearest, in the unit of the points."""
    chosen = [each for each in found if each.around <= up_to]
    for place in at if found else ():
        away = [float(np.linalg.norm(each.middle - place)) for each in found]
        nearest = found[int(np.argmin(away))]
        if nearest not in chosen:
            chosen.append(nearest)
    return chosen


def filled(mesh: Mesh, holes: Sequence[np.ndarray] | None = None) -> Mesh:
    """The mesh with a surface in each of its holes: one face where a hole has up to four sides,
    else triangles around a point in its middle. The new faces look where their neighbours look.

    holes : numbers of the sides of each that is filled; all openings where it is None
    """
    topology = mesh.topology
    if holes is None:
        holes = hole_sides(topology)
    if not holes:
        return mesh
    small = [hole for hole in holes if len(hole) <= MOST_SIDES]
    large = [hole for hole in holes if len(hole) > MOST_SIDES]
    begin, end = topology.sides_of_faces.T
    corners, sizes = [topology.corners], [np.diff(topology.face_starts)]
    corner_from = [np.arange(len(topology.corners))]
    beside = [np.arange(topology.face_count)]
    for hole in small:
        backward = hole[::-1]
        corners.append(begin[backward])
        corner_from.append(backward)
        sizes.append(np.array([len(hole)]))
        beside.append(topology.corner_face[hole[:1]])
    for number, hole in enumerate(large):
        centre = np.full(len(hole), topology.point_count + number)
        fan = np.stack([end[hole], begin[hole], centre], axis=1)
        corners.append(fan.reshape(-1))
        # The corner in the middle takes what stands at the side's own corner.
        corner_from.append(np.stack([hole, hole, hole], axis=1).reshape(-1))
        sizes.append(np.full(len(hole), 3))
        beside.append(topology.corner_face[hole])
    starts = np.concatenate([[0], np.cumsum(np.concatenate(sizes))])
    attributes = carry_attributes(
        mesh,
        {
            "corner": Origin.taken(np.concatenate(corner_from)),
            "face": Origin.taken(np.concatenate(beside)),
        },
    )
    means = [Origin.mixed(begin[h][None, :], np.full((1, len(h)), 1 / len(h))) for h in large]

    def grown(values: np.ndarray) -> np.ndarray:
        return np.concatenate([values, *(mean.carry(values) for mean in means)])

    attributes["point"] = {n: grown(v) for n, v in mesh.attributes.get("point", {}).items()}
    return Mesh(
        grown(mesh.points),
        Topology(
            topology.point_count + len(large),
            np.concatenate(corners).astype(np.int32),
            starts.astype(np.int32),
            topology.curve_points,
            topology.curve_starts,
            topology.curve_closed,
        ),
        attributes,
    )
