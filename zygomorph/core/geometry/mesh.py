"""The mesh that steps pass on: points, polygons, curves, and attributes on their elements."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from zygomorph.core.geometry.topology import Topology

DOMAINS = ("point", "corner", "face", "shard")
REST = "rest"
ELEMENT_ID = "id"
SHARD = "shard"
PART = "part"
UV = "uv"
# The smoothing group of each face, int32: edges between faces of different groups are drawn sharp.
SMOOTHING = "smoothing"
# Of loose points that stand for what had a surface, and the number of what each of them stands for.
NORMAL = "normal"
UNIT = "unit"
# Of points that are soft balls, the radius and the strength of each; of points that stand for
# copies, the size of each.
BALL_RADIUS = "ball_radius"
BALL_STRENGTH = "ball_strength"
SIZE = "size"
# Stored masks are point attributes under their names after this.
MASK = "mask:"


@dataclass(frozen=True, eq=False)
class Mesh:
    """Never changed in place: a step makes a new one and shares what it did not change.

    points : (P, 3) float32, metres
    attributes : domain -> name -> array whose first length is that of the domain.
        The rest shape is the point attribute ``rest``; UVs lie on corners; the shard a face
        belongs to is the face attribute ``shard``.
    """

    points: np.ndarray
    topology: Topology
    attributes: Mapping[str, Mapping[str, np.ndarray]] = field(default_factory=dict)

    def count(self, domain: str) -> int:
        """Number of elements of a domain."""
        if domain == "point":
            return len(self.points)
        if domain == "corner":
            return len(self.topology.corners)
        if domain == "face":
            return self.topology.face_count
        if domain == "shard":
            shard = self.get("face", SHARD)
            return 0 if shard is None or len(shard) == 0 else int(shard.max()) + 1
        if domain == "curve":
            return self.topology.curve_count
        raise ValueError(f"There is no domain {domain!r}; there are {', '.join(DOMAINS)}.")

    def get(self, domain: str, name: str) -> np.ndarray | None:
        return self.attributes.get(domain, {}).get(name)

    def with_attribute(self, domain: str, name: str, values: np.ndarray) -> Mesh:
        """The same mesh with one attribute set.

        Raises ValueError where the length is not that of the domain.
        """
        if len(values) != self.count(domain):
            raise ValueError(
                f"Attribute {name!r} has {len(values)} entries for {self.count(domain)} "
                f"elements of the domain {domain}."
            )
        attributes = {d: dict(a) for d, a in self.attributes.items()}
        attributes.setdefault(domain, {})[name] = values
        return replace(self, attributes=attributes)

    def moved(self, points: np.ndarray) -> Mesh:
        """The same mesh with its points elsewhere."""
        return replace(self, points=points)

    @property
    def rest(self) -> np.ndarray:
        """(P, 3) float32: the remembered positions, or the present ones where none are."""
        rest = self.get("point", REST)
        return self.points if rest is None else rest

    def ids(self, domain: str) -> np.ndarray:
        """Stable numbers of the elements, which go on through changes of topology: see
        :meth:`zygomorph.core.geometry.origins.Origin.carry_ids`."""
        kept = self.get(domain, ELEMENT_ID)
        return np.arange(self.count(domain)) if kept is None else kept

    @property
    def size_in_bytes(self) -> int:
        arrays: list[Any] = [self.points, self.topology.corners, self.topology.face_starts]
        arrays += [a for named in self.attributes.values() for a in named.values()]
        return int(sum(a.nbytes for a in arrays))


def make_mesh(
    points: np.ndarray,
    corners: np.ndarray,
    face_starts: np.ndarray,
    attributes: Mapping[str, Mapping[str, np.ndarray]] | None = None,
) -> Mesh:
    """A polygon mesh that remembers its present positions as its rest shape."""
    points = np.ascontiguousarray(points, np.float32)
    topology = Topology(
        len(points),
        np.ascontiguousarray(corners, np.int32),
        np.ascontiguousarray(face_starts, np.int32),
    )
    own: dict[str, dict[str, np.ndarray]] = {d: dict(a) for d, a in (attributes or {}).items()}
    own.setdefault("point", {})[REST] = points
    return Mesh(points, topology, own)


def make_curves(curves: Sequence[np.ndarray], closed: Sequence[bool]) -> Mesh:
    """Curves through points of their own, without faces.

    curves : for each, (n, 3) points in order, metres; closed : whether its end joins its beginning
    """
    counts = [len(curve) for curve in curves]
    points = np.ascontiguousarray(np.concatenate(curves), np.float32)
    topology = Topology(
        len(points),
        curve_points=np.arange(len(points), dtype=np.int32),
        curve_starts=np.concatenate([[0], np.cumsum(counts)]).astype(np.int32),
        curve_closed=np.array(closed, bool),
    )
    return Mesh(points, topology, {"point": {REST: points}})


def with_curves(mesh: Mesh, points: np.ndarray, starts: np.ndarray, closed: np.ndarray) -> Mesh:
    """The mesh with these curves instead of its own, through points that it has."""
    topology = replace(
        mesh.topology,
        curve_points=np.ascontiguousarray(points, np.int32),
        curve_starts=np.ascontiguousarray(starts, np.int32),
        curve_closed=np.asarray(closed, bool),
    )
    return replace(mesh, topology=topology)


def loose_points(points: np.ndarray) -> Mesh:
    """Points alone; points : (P, 3) metres."""
    points = np.ascontiguousarray(points, np.float32)
    return Mesh(points, Topology(len(points)), {"point": {REST: points}})


def uniform_faces(faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Corners and face starts of faces that all have the same number of corners, (F, n)."""
    count, sides = faces.shape
    return faces.reshape(-1), np.arange(count + 1) * sides
