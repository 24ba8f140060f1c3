"""Rods along the edges of a mesh and balls at its points."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.icosphere import unit_icosphere
from zygomorph.core.geometry.mesh import MASK, SHARD, SMOOTHING, Mesh, make_mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology


@dataclass(frozen=True, eq=False)
class Frame(Structure):
    """A structure of rods and balls.

    edges : (E, 2) the points that each rod joins; sides : of a rod
    knots : (K,) the points at which there are balls; ball : (b, 3) points of one of radius 1
    """

    edges: np.ndarray = None  # type: ignore[assignment]
    sides: int = 6
    knots: np.ndarray = None  # type: ignore[assignment]
    ball: np.ndarray = None  # type: ignore[assignment]


def _rod_faces(count: int, sides: int) -> tuple[np.ndarray, np.ndarray]:
    """Corners and sizes of the faces of so many rods: sides, then a cap at each end."""
    turn = np.arange(sides)
    after = (turn + 1) % sides
    quads = np.stack([turn, after, sides + after, sides + turn], axis=1).reshape(-1)
    one = np.concatenate([quads, turn[::-1], sides + turn])
    sizes = np.concatenate([np.full(sides, 4), [sides, sides]])
    corners = one[None] + (np.arange(count) * 2 * sides)[:, None]
    return corners.reshape(-1), np.tile(sizes, count)


def unit_rod(sides: int) -> Mesh:
    """A closed rod of radius 1 along the y axis from -½ to ½, with edges at its caps."""
    corners, sizes = _rod_faces(1, sides)
    # Round x and z, so that the sides of the quads look outwards.
    angle = np.arange(sides) * (-2 * np.pi / sides)
    ring = np.stack([np.cos(angle), np.full(sides, -0.5), np.sin(angle)], axis=1)
    points = np.concatenate([ring, ring + np.array([0.0, 1.0, 0.0])])
    starts = np.concatenate([[0], np.cumsum(sizes)])
    groups = np.repeat(np.arange(3, dtype=np.int32), [sides, 1, 1])
    return make_mesh(points, corners, starts, {"face": {SMOOTHING: groups}})


def joined_edges(topology: Topology) -> np.ndarray:
    """(E, 2) the points that edges of faces and parts of curves join, each once."""
    if topology.curve_count == 0:
        return topology.edges
    joined = np.concatenate([topology.edges, np.sort(topology.curve_segments, axis=1)])
    found: np.ndarray = np.unique(joined, axis=0)
    return found


def struts_and_knobs(topology: Topology, sides: int, rods: bool, halvings: int | None) -> Frame:
    """Rods of so many sides along all edges and curves, and balls at their points.

    halvings : of the balls, see :func:`unit_icosphere`; None without balls
    Rods and balls are shards of their own, and stored as masks "rods" and "knobs".
    """
    edges = joined_edges(topology)
    if not rods:
        edges = edges[:0]
    rod_corners, rod_sizes = _rod_faces(len(edges), sides)
    ball = unit_icosphere(halvings) if halvings is not None else None
    knots = np.arange(topology.point_count if ball is not None else 0)
    template = ball.points if ball is not None else np.zeros((0, 3), np.float32)
    faces = ball.topology.corners if ball is not None else np.zeros(0, np.int32)
    first = len(edges) * 2 * sides
    ball_corners = (first + knots[:, None] * len(template) + faces[None]).reshape(-1)
    each = len(faces) // 3
    sizes = np.concatenate([rod_sizes, np.full(len(knots) * each, 3)]).astype(np.int64)
    parents = np.concatenate([np.repeat(edges.reshape(-1), sides), np.repeat(knots, len(template))])
    shard = np.concatenate(
        [
            np.repeat(np.arange(len(edges)), sides + 2),
            len(edges) + np.repeat(np.arange(len(knots)), each),
        ]
    )
    is_knob = np.arange(len(parents)) >= first
    points = {
        MASK + "rods": (~is_knob).astype(np.float32),
        MASK + "knobs": is_knob.astype(np.float32),
    }
    return Frame(
        Topology(
            len(parents),
            np.concatenate([rod_corners, ball_corners]).astype(np.int32),
            np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32),
        ),
        {"point": Origin.taken(parents)},
        {"point": points, "face": {SHARD: shard.astype(np.int32)}},
        edges=edges,
        sides=sides,
        knots=knots,
        ball=template,
    )


def positions(mesh: Mesh, frame: Frame, rod: np.ndarray, knob: np.ndarray) -> np.ndarray:
    """(n, 3) float32: where the points of rods and balls are.

    rod, knob : (P,) or (1,) metres, the radii at each point
    """
    count = len(mesh.points)
    a, b = frame.edges.T
    along = (mesh.points[b] - mesh.points[a]).astype(np.float64)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-20)
    # Seen from the surface, a rod keeps its side however it moves.
    normals = point_normals(mesh).astype(np.float64)
    up = _across(normals[a] + normals[b], along)
    beside = np.cross(along, up)
    angle = np.arange(frame.sides) * (2 * np.pi / frame.sides)
    ring = np.cos(angle)[:, None] * up[:, None] + np.sin(angle)[:, None] * beside[:, None]
    radius = np.broadcast_to(rod, count)[frame.edges]
    ends = mesh.points[frame.edges][:, :, None]
    rods = ends + radius[:, :, None, None] * ring[:, None]
    size = np.broadcast_to(knob, count)[frame.knots][:, None, None]
    balls = mesh.points[frame.knots][:, None] + size * frame.ball[None]
    return np.concatenate([rods.reshape(-1, 3), balls.reshape(-1, 3)]).astype(np.float32)


def _across(wanted: np.ndarray, along: np.ndarray) -> np.ndarray:
    """Unit vectors across each direction, (E, 3), as near to the wanted ones as can be."""
    found = wanted - along * np.einsum("ij,ij->i", wanted, along)[:, None]
    length = np.linalg.norm(found, axis=1, keepdims=True)
    # Where the wanted one runs along it, the axis that is most across.
    axis = np.eye(3)[np.argmin(np.abs(along), axis=1)]
    other = axis - along * np.einsum("ij,ij->i", axis, along)[:, None]
    other /= np.maximum(np.linalg.norm(other, axis=1, keepdims=True), 1e-20)
    return np.where(length > 1e-6, found / np.maximum(length, 1e-6), other)
