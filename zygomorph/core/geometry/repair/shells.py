"""Parts of a mesh, and which of its faces look the wrong way."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import scipy

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology, turned_over

# Below this share of area times size, an open part is so flat that it has no inside.
FLAT = 0.02
# Pairs of parts of which one may hold the other; looking at more would take too long.
MOST_PAIRS = 400


def parts_of(topology: Topology) -> np.ndarray:
    """(F,) number of the part each face belongs to; faces that share points are of one part."""
    pairs = topology.edges
    count = topology.point_count
    links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (count, count))
    point_part = scipy.sparse.csgraph.connected_components(links, directed=False)[1]
    of_faces = point_part[topology.corners[topology.face_starts[:-1]]]
    return np.unique(of_faces, return_inverse=True)[1]


def edge_uses(topology: Topology) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Sides of faces in the order of their edges: side numbers, and for each edge where its sides
    begin among them and how many there are."""
    return topology.derived(("edge uses",), lambda: _edge_uses(topology))


def _edge_uses(topology: Topology) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    pairs = np.sort(topology.sides_of_faces, axis=1).astype(np.int64)
    keys = pairs[:, 0] * topology.point_count + pairs[:, 1]
    order = np.argsort(keys, kind="stable")
    _, first, uses = np.unique(keys[order], return_index=True, return_counts=True)
    return order, first, uses


def _neighbours(topology: Topology) -> tuple[np.ndarray, np.ndarray]:
    """(E, 2) faces that meet at an edge of exactly two, and whether they agree on what is out."""
    order, first, uses = edge_uses(topology)
    two = first[uses == 2]
    one, other = order[two], order[two + 1]
    sides = topology.sides_of_faces
    face = topology.corner_face
    return np.stack([face[one], face[other]], axis=1), sides[one, 0] != sides[other, 0]


def _agreeing(topology: Topology) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Which faces to turn so that neighbours agree, the shell each face is of, and whether that
    shell has two sides at all.

    Each face stands twice in a graph, once as it is and once turned; neighbours that agree are
    linked as they are, others crosswise. A shell with two sides falls into two halves.
    """
    count = topology.face_count
    pairs, agree = _neighbours(topology)
    a, b = pairs.T
    near = np.where(agree, b, b + count)
    far = np.where(agree, b + count, b)
    rows, columns = np.concatenate([a, a + count]), np.concatenate([near, far])
    links = scipy.sparse.coo_array(
        (np.ones(len(rows), bool), (rows, columns)), (2 * count, 2 * count)
    )
    half = scipy.sparse.csgraph.connected_components(links, directed=False)[1]
    as_is, turned = half[:count], half[count:]
    shell = np.unique(np.minimum(as_is, turned), return_inverse=True)[1]
    return as_is > turned, shell, as_is != turned


def _triangles(mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
    """(T, 3, 3) float64 places of all triangles, and (T,) the face of each."""
    topology = mesh.topology
    corners = topology.triangle_corners(mesh.points)
    places = mesh.points.astype(np.float64)[topology.corners[corners]]
    return places, topology.corner_face[corners[:, 0]]


def winding(triangles: np.ndarray, place: np.ndarray) -> float:
    """How often a surface winds around a place, by the solid angles of its triangles (van Oosterom
    and Strackee 1983): 1 inside a closed surface that looks outward, 0 outside."""
    a, b, c = np.moveaxis(triangles - place, 1, 0)
    la, lb, lc = (np.linalg.norm(v, axis=1) for v in (a, b, c))
    above = np.einsum("ij,ij->i", a, np.cross(b, c))
    dots = [np.einsum("ij,ij->i", p, q) for p, q in ((a, b), (b, c), (c, a))]
    below = la * lb * lc + dots[0] * lc + dots[1] * la + dots[2] * lb
    return float(np.arctan2(above, below).sum() / (2 * np.pi))


def _held(triangles: np.ndarray, shell: np.ndarray, closed: np.ndarray, count: int) -> np.ndarray:
    """(shells,) whether a closed shell lies inside an odd number of other closed shells: it then
    bounds a hollow, and looks inward."""
    if closed.sum() < 2:
        return np.zeros(count, bool)
    low = np.full((count, 3), np.inf)
    high = np.full((count, 3), -np.inf)
    np.minimum.at(low, shell, triangles.min(axis=1))
    np.maximum.at(high, shell, triangles.max(axis=1))
    numbers = np.flatnonzero(closed)
    around = (low[numbers, None] < low[None, numbers]).all(axis=2)
    around &= (high[numbers, None] > high[None, numbers]).all(axis=2)
    pairs = np.argwhere(around)
    held = np.zeros(count, int)
    if len(pairs) > MOST_PAIRS:
        return held > 0
    for outer, inner in numbers[pairs]:
        place = triangles[np.argmax(shell == inner), 0]
        held[inner] += abs(winding(triangles[shell == outer], place)) > 0.5
    return held % 2 == 1


def turned_faces(mesh: Mesh) -> np.ndarray:
    """(F,) bool: the faces to turn over so that neighbours agree and every shell looks outward.

    An open shell looks away from its middle; one that is nearly flat keeps the side that most of
    its faces have. A shell with one side only (a Möbius strip) is left as it is.
    """
    topology = mesh.topology
    if topology.face_count == 0:
        return np.zeros(0, bool)
    turn, shell, two_sided = _agreeing(topology)
    count = int(shell.max()) + 1
    triangles, face = _triangles(mesh)
    of_triangle = shell[face]
    normal = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]) / 2
    normal[turn[face]] *= -1
    area = np.linalg.norm(normal, axis=1)
    total = np.maximum(np.bincount(of_triangle, area, count), 1e-300)
    middle = triangles.mean(axis=1)
    moments = np.stack([np.bincount(of_triangle, area * m, count) for m in middle.T], axis=1)
    centre = moments / total[:, None]
    volume = np.bincount(
        of_triangle, np.einsum("ij,ij->i", normal, middle - centre[of_triangle]) / 3, count
    )
    order, first, uses = edge_uses(topology)
    open_sides = topology.corner_face[order[first[uses != 2]]]
    closed = np.bincount(shell[open_sides], minlength=count) == 0
    flat = ~closed & (np.abs(volume) < FLAT * total**1.5)
    most = np.bincount(shell, turn, count) * 2 > np.bincount(shell, minlength=count)
    inward = np.where(flat, most, (volume < 0) ^ _held(triangles, of_triangle, closed, count))
    return (turn ^ inward[shell]) & two_sided


def with_faces_turned(mesh: Mesh, turned: np.ndarray) -> Mesh:
    """The mesh with the corners of some faces in the opposite order. turned : (F,) bool"""
    if not turned.any():
        return mesh
    topology = mesh.topology
    place = np.arange(len(topology.corners))
    order = np.where(turned[topology.corner_face], turned_over(topology.face_starts), place)
    attributes = {domain: dict(named) for domain, named in mesh.attributes.items()}
    for name, values in attributes.get("corner", {}).items():
        attributes["corner"][name] = values[order]
    return replace(
        mesh,
        topology=replace(topology, corners=topology.corners[order], grid=None),
        attributes=attributes,
    )
