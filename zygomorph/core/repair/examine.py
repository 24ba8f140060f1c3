"""What a mesh that was brought in is like, and what would put it right."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.mesh import Mesh
from zygomorph.core.repair.holes import hole_sides
from zygomorph.core.repair.merge import close_groups
from zygomorph.core.repair.shells import edge_uses, parts_of, turned_faces

# Points nearer than this share of the size are taken for the same.
CLOSE = 1e-5
# Beyond so many points, looking for close ones takes longer than anybody waits.
MOST_POINTS = 2_000_000


@dataclass(frozen=True)
class Examined:
    """parts : faces that hang together
    close_points : points that would go if close ones were joined, within ``join_distance`` metres
    turned_faces : faces that look inward, or unlike their neighbours
    crowded_edges : edges of more than two faces
    flat_faces : faces without area
    size, low : metres; sides of the box around it, and its lowest corner
    """

    points: int
    faces: int
    parts: int
    holes: int
    open_edges: int
    close_points: int
    join_distance: float
    turned_faces: int
    crowded_edges: int
    flat_faces: int
    size: list[float]
    low: list[float]

    def measured(self, points: np.ndarray) -> Examined:
        """The same mesh with its points elsewhere: its counts, and the sizes of now."""
        low, high = _box(points)
        return replace(self, size=_rounded(high - low), low=_rounded(low))

    def describe(self) -> dict[str, Any]:
        return asdict(self)


def _box(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    if len(points) == 0:
        return np.zeros(3), np.zeros(3)
    return points.min(axis=0), points.max(axis=0)


def _rounded(values: np.ndarray) -> list[float]:
    return [round(float(v), 6) for v in values]


@dataclass(frozen=True)
class Repair:
    """Something that may be wrong, and the values of the form that put it right.

    problem : what was found; action : what a button that does it says
    """

    key: str
    problem: str
    action: str
    values: dict[str, Any]


def examine(mesh: Mesh) -> Examined:
    """Look a mesh over."""
    topology = mesh.topology
    low, high = _box(mesh.points)
    distance = float(np.linalg.norm(high - low)) * CLOSE
    close = 0
    if topology.face_count and distance > 0 and len(mesh.points) <= MOST_POINTS:
        close = len(mesh.points) - 1 - int(close_groups(mesh.points, distance).max())
    uses = edge_uses(topology)[2] if topology.face_count else np.zeros(0, int)
    return Examined(
        points=len(mesh.points),
        faces=topology.face_count,
        parts=int(parts_of(topology).max()) + 1 if topology.face_count else 0,
        holes=len(hole_sides(topology)) if topology.face_count else 0,
        open_edges=int((uses == 1).sum()),
        close_points=close,
        join_distance=float(f"{distance:.2g}"),
        turned_faces=int(turned_faces(mesh).sum()),
        crowded_edges=int((uses > 2).sum()),
        flat_faces=_flat_faces(mesh),
        size=_rounded(high - low),
        low=_rounded(low),
    )


def _flat_faces(mesh: Mesh) -> int:
    """Faces whose area is nothing beside the square of their longest side."""
    topology = mesh.topology
    if topology.face_count == 0:
        return 0
    places = mesh.points.astype(np.float64)[topology.corners]
    starts, face = topology.face_starts, topology.corner_face
    first = places[starts[:-1]][face]
    begin, end = mesh.points.astype(np.float64)[topology.sides_of_faces.T]
    normal = np.cross(begin - first, end - first)
    total = np.stack([np.bincount(face, n, topology.face_count) for n in normal.T], axis=1)
    longest = np.zeros(topology.face_count)
    np.maximum.at(longest, face, ((end - begin) ** 2).sum(axis=1))
    return int((np.linalg.norm(total, axis=1) <= 1e-9 * longest).sum())


def _count(number: int, one: str, many: str) -> str:
    return f"{number:,} {one if number == 1 else many}"


def _verb(number: int, one: str, many: str) -> str:
    return one if number == 1 else many


def repairs(raw: Examined, formed: Examined, fitted: bool) -> list[Repair]:
    """What may be wrong, in the order in which it is best put right.

    raw : the mesh in the file's unit; formed : as the form gives it
    fitted : whether the form makes it one metre large
    """
    found = []
    if raw.close_points:
        points = _count(raw.close_points, "point", "points")
        lies = _verb(raw.close_points, "lies", "lie")
        found.append(
            Repair(
                "join",
                f"{points} {lies} almost where another does.",
                f"Join {points}",
                {"join": raw.join_distance},
            )
        )
    if raw.turned_faces:
        faces = _count(raw.turned_faces, "face", "faces")
        found.append(
            Repair(
                "turn",
                f"{faces} {_verb(raw.turned_faces, 'looks', 'look')} the wrong way.",
                f"Turn {faces} outward",
                {"turn": True},
            )
        )
    if raw.holes:
        holes = _count(raw.holes, "hole", "holes")
        edges = _count(raw.open_edges, "open edge", "open edges")
        found.append(Repair("fill", f"{holes} with {edges}.", f"Fill {holes}", {"fill": True}))
    size = max(formed.size)
    away = max(abs(low + side / 2) for low, side in zip(formed.low, formed.size, strict=True))
    if size > 0 and away > 0.01 * size and abs(formed.low[1]) > 0.001 * size:
        found.append(
            Repair(
                "centre",
                f"Its middle is {away:.3g} m away from the origin.",
                "Centre it",
                {"centre": True},
            )
        )
    if size > 0 and abs(formed.low[1]) > 0.001 * size:
        side = "below" if formed.low[1] < 0 else "above"
        found.append(
            Repair(
                "ground",
                f"Its lowest point is {abs(formed.low[1]):.3g} m {side} the ground.",
                "Set it on the ground",
                {"ground": True},
            )
        )
    if not fitted and not 0.05 <= size <= 50:
        found.append(
            Repair(
                "scale",
                f"Its largest side is {size:.3g} m, which hardly any step's sizes suit.",
                "Make it 1 m large",
                {"fit": True, "scale": 1.0},
            )
        )
    return found
