"""Holes of a mesh, and faces that fill them."""

from __future__ import annotations

import numpy as np

from zygomorph.core.mesh import Mesh
from zygomorph.core.provenance import Provenance, carry_attributes
from zygomorph.core.repair.shells import edge_uses
from zygomorph.core.topology import Topology

# Holes of more sides get a point in their middle.
MOST_SIDES = 4


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


def filled(mesh: Mesh) -> Mesh:
    """The mesh with a surface in each of its holes: one face where a hole has up to four sides,
    else triangles around a point in its middle. The new faces look where their neighbours look."""
    topology = mesh.topology
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
            "corner": Provenance.taken(np.concatenate(corner_from)),
            "face": Provenance.taken(np.concatenate(beside)),
        },
    )
    means = [Provenance(begin[h][None, :], np.full((1, len(h)), 1 / len(h))) for h in large]

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
