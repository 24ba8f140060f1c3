"""A mesh as a solid that can be cut: examined first, and only then handed to the library that
cuts.

The library is Manifold (E. Lalish, github.com/elalish/manifold). It never raises: an open mesh
comes back empty, one that is inside out has a negative volume. What it would make of these is
therefore found out here, with the reason.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import manifold3d
import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import SHARD, Mesh
from zygomorph.core.geometry.solids.pieces import Pieces
from zygomorph.core.geometry.topology import Topology

# A solid whose volume is less than this share of the cube over its size has no inside to cut.
FLAT = 1e-12

FaultKind = Literal["no faces", "open", "crowded", "disagreeing", "inside out", "flat"]


@dataclass(frozen=True)
class Fault:
    """Why a mesh has no inside.

    kind : what is wrong; count : how many edges it is wrong at
    """

    kind: FaultKind
    count: int = 0

    def words(self) -> str:
        edges = f"{self.count:,} {'edge' if self.count == 1 else 'edges'}"
        have = "has" if self.count == 1 else "have"
        return {
            "no faces": "has no faces",
            "open": f"is open: {edges} {have} a face on one side only",
            "crowded": f"has no clear inside: {edges} {have} three or more faces",
            "disagreeing": f"has faces that look different ways at {edges}",
            "inside out": "is inside out: its faces look inward",
            "flat": "is flat: it encloses nothing",
        }[self.kind]


HINTS: dict[FaultKind, str] = {
    "no faces": "Choose a piece with a surface.",
    "open": "Close it first: fill its holes, give it a back with Extrude, or rebuild it through "
    "voxels as a wall.",
    "crowded": "Part the sheets where the mesh was brought in, or rebuild it through voxels.",
    "disagreeing": "Add the step Orient before this one.",
    "inside out": "Add the step Orient before this one.",
    "flat": "Give it thickness first: Extrude with a back.",
}


@dataclass(frozen=True, eq=False)
class Solid:
    """A mesh that encloses a volume.

    manifold : the same in the library that cuts; of its triangles each is marked with its number
    original : the number under which results name this solid
    triangles : (T, 3) int32, corners of the mesh, of all its triangles; faces : (T,) the face that
        each is a part of
    chosen : (n,) those of the triangles that are the solid
    """

    manifold: manifold3d.Manifold
    original: int
    mesh: Mesh
    triangles: np.ndarray
    faces: np.ndarray
    chosen: np.ndarray

    @property
    def points(self) -> np.ndarray:
        """(T, 3) int32: the same triangles, as points of the mesh."""
        return self.mesh.topology.corners[self.triangles]


def _sides(topology: Topology) -> tuple[np.ndarray, np.ndarray]:
    """Of every edge how many faces have it, and how many more run along it than against it."""
    edges = len(topology.edges)
    uses = np.bincount(topology.side_edges, minlength=edges)
    begins = topology.edges[topology.side_edges, 0] == topology.corners
    along = np.bincount(topology.side_edges, np.where(begins, 1, -1), edges)
    return uses, along


def _topological_fault(topology: Topology) -> Fault | None:
    if topology.face_count == 0:
        return Fault("no faces")
    uses, along = _sides(topology)
    for kind, wrong in (
        ("open", uses == 1),
        ("crowded", (uses > 2) & (along != 0)),
        ("disagreeing", along != 0),
    ):
        if wrong.any():
            return Fault(kind, int(np.count_nonzero(wrong)))  # type: ignore[arg-type]
    return None


def volume_of(points: np.ndarray, triangles: np.ndarray) -> float:
    """Signed volume by the divergence theorem, m³; points : (P, 3), triangles : (T, 3)."""
    places = np.asarray(points, np.float64)
    # About the middle, so that what is far away loses no digits.
    places = places - places.mean(axis=0) if len(places) else places
    x, y, z = np.ascontiguousarray(places.T)
    a, b, c = np.ascontiguousarray(triangles.T)
    ax, ay, az, bx, by, bz = x[a], y[a], z[a], x[b], y[b], z[b]
    across = (ay * bz - az * by) @ x[c] + (az * bx - ax * bz) @ y[c] + (ax * by - ay * bx) @ z[c]
    return float(across / 6)


def is_open(mesh: Mesh) -> bool:
    """Whether it has a border, or faces that are not joined to others."""
    found = _fault_of_topology(mesh.topology)
    return found is not None and found.kind == "open"


def _fault_of_topology(topology: Topology) -> Fault | None:
    found: Fault | None = topology.derived(
        ("fault of a solid",), lambda: _topological_fault(topology)
    )
    return found


def fault_of(mesh: Mesh) -> Fault | None:
    """Why the mesh has no inside, or None where it has one."""
    topology = mesh.topology
    found = _fault_of_topology(topology)
    if found is not None:
        return found
    volume = volume_of(mesh.points, topology.drawn_triangles)
    size = float(np.ptp(mesh.points, axis=0).max())
    if abs(volume) <= FLAT * size**3:
        return Fault("flat")
    return Fault("inside out") if volume < 0 else None


def solid_of(mesh: Mesh, name: str = "This piece", part: np.ndarray | None = None) -> Solid:
    """The mesh as a solid, or those of its faces, (F,) bool, that are a closed part of it.

    Raises ZygomorphError, told of the name, where it is open, flat, inside out, or has faces that
    do not agree.
    """
    if part is not None:
        return _made_solid(mesh, name, part)
    last: _Last = mesh.topology.derived(("last solid",), _Last)
    known = last.solid
    # What stands still is made once, while what it is cut with moves.
    if known is not None and known.mesh.points is mesh.points:
        return replace(known, mesh=mesh)
    made = _made_solid(mesh, name, None)
    last.solid = made
    return made


class _Last:
    """The solid that was made last of a topology."""

    solid: Solid | None = None


def _made_solid(mesh: Mesh, name: str, part: np.ndarray | None) -> Solid:
    fault = fault_of(mesh)
    if fault is not None:
        raise ZygomorphError(f"{name} {fault.words()}.", HINTS[fault.kind])
    triangles = mesh.topology.triangle_corners(mesh.points)
    counts = np.maximum(np.diff(mesh.topology.face_starts) - 2, 0)
    faces = np.repeat(np.arange(mesh.topology.face_count), counts)
    if len(faces) != len(triangles):
        faces = mesh.topology.corner_face[triangles[:, 0]]
    chosen = np.arange(len(triangles)) if part is None else np.flatnonzero(part[faces])
    made, original = manifold_of(mesh.points, mesh.topology.corners[triangles[chosen]], chosen)
    if made.status() != manifold3d.Error.NoError or made.is_empty():
        raise ZygomorphError(
            f"{name} has no clear inside.",
            "It may meet itself along an edge: rebuild it through voxels first.",
        )
    return Solid(made, original, mesh, triangles, faces, chosen)


def parts_of(solid: Solid, apart: bool = True) -> list[tuple[manifold3d.Manifold, int]]:
    """Its shards, each as a solid by itself, with the number by which results name it.

    Shards that touch are never cut as one: rounding lets them overlap by less than is seen, and
    that would be left as films.

    apart : whether each is by itself; else shards whose boxes are apart are one solid together, so
        that there are few
    """
    shard = solid.mesh.get("face", SHARD)
    if shard is None:
        return [(solid.manifold, solid.original)]
    of = shard[solid.faces[solid.chosen]]
    order = np.argsort(of, kind="stable")
    runs = np.split(order, np.flatnonzero(np.diff(of[order], prepend=-1))[1:])
    if not apart:
        runs = _far_apart(solid, runs)
    if len(runs) == 1:
        return [(solid.manifold, solid.original)]
    found = [
        manifold_of(solid.mesh.points, solid.points[solid.chosen[run]], solid.chosen[run])
        for run in runs
    ]
    whole = all(part.status() == manifold3d.Error.NoError for part, _ in found)
    # Shards that are not closed by themselves are only marks on one solid.
    return found if whole else [(solid.manifold, solid.original)]


def _far_apart(solid: Solid, runs: list[np.ndarray]) -> list[np.ndarray]:
    """Runs of triangles put together where their boxes do not meet."""
    corners = [solid.mesh.points[solid.points[solid.chosen[run]].reshape(-1)] for run in runs]
    lows, highs = (np.stack([f(each, axis=0) for each in corners]) for f in (np.min, np.max))
    groups: list[list[int]] = []
    for number in range(len(runs)):
        for group in groups:
            meets = (lows[group] <= highs[number]) & (highs[group] >= lows[number])
            if not meets.all(axis=1).any():
                group.append(number)
                break
        else:
            groups.append([number])
    return [np.concatenate([runs[number] for number in group]) for group in groups]


def as_they_were(solid: Solid) -> Pieces | None:
    """The triangles of the mesh that are not of the solid; None where there are none."""
    if len(solid.chosen) == len(solid.triangles):
        return None
    rest = np.setdiff1d(np.arange(len(solid.triangles)), solid.chosen)
    used, triangles = np.unique(solid.points[rest], return_inverse=True)
    return Pieces(
        solid.mesh.points[used].astype(np.float64),
        triangles.reshape(-1, 3),
        rest,
        np.zeros(len(rest), np.int64),
    )


def manifold_of(
    points: np.ndarray, triangles: np.ndarray, numbers: np.ndarray | None = None
) -> tuple[manifold3d.Manifold, int]:
    """Triangles in the library that cuts, and the number by which results name them all.

    points : (P, 3); numbers : (T,) by which results name each, its own where none are given
    """
    if numbers is None:
        numbers = np.arange(len(triangles))
    original = int(manifold3d.Manifold.reserve_ids(1))
    used = np.zeros(len(points), bool)
    used[triangles.reshape(-1)] = True
    number = np.cumsum(used) - 1
    mesh = manifold3d.Mesh64(
        np.ascontiguousarray(points[used], np.float64),
        np.ascontiguousarray(number[triangles], np.uint64),
        run_index=np.array([0, 3 * len(triangles)], np.uint64),
        run_original_id=np.array([original], np.uint32),
        face_id=np.ascontiguousarray(numbers, np.uint64),
    )
    return manifold3d.Manifold(mesh), original
