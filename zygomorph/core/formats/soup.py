"""What a mesh file held, before it becomes a mesh: checked, welded, reported."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from itertools import pairwise
from typing import Any

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.polygons import MAX_POINTS, Soup
from zygomorph.core.geometry.mesh import PART, UV, Mesh, make_mesh, with_curves
from zygomorph.core.geometry.repair.merge import without_repeats
from zygomorph.core.geometry.repair.shells import edge_uses

NORMAL = "normal"


@dataclass
class Report:
    """What was read, for the one who brought it in."""

    points: int
    faces: int
    joined_points: int
    dropped_faces: int
    open_edges: int
    size: list[float]
    curves: int = 0
    notes: list[str] = field(default_factory=list)

    def describe(self) -> dict[str, Any]:
        return asdict(self)


def _check(soup: Soup) -> None:
    if len(soup.points) == 0:
        raise MeshFileError("The file holds no points.", "Export the mesh again with its geometry.")
    if len(soup.points) > MAX_POINTS:
        raise MeshFileError(
            f"The file holds {len(soup.points):,} points; the limit is {MAX_POINTS:,}.",
            "Reduce the mesh before bringing it in.",
        )
    odd = np.flatnonzero(~np.isfinite(soup.points).all(axis=1))
    if len(odd):
        raise MeshFileError(
            f"Point {odd[0] + 1:,} has a coordinate that is not a finite number"
            + (f" (and {len(odd) - 1:,} more points)." if len(odd) > 1 else "."),
            "Repair the mesh where it was made and export it again.",
        )
    largest = float(np.abs(soup.points).max())
    if largest > 1e9:
        raise MeshFileError(
            f"A coordinate is as large as {largest:.3g}; the limit is 1e9.",
            "Scale the mesh down and export it again.",
        )
    _check_named("Face", soup.corners, soup.face_starts, len(soup.points))
    _check_named("Curve", soup.curve_points, soup.curve_starts, len(soup.points))


def _check_named(what: str, named: np.ndarray, starts: np.ndarray, count: int) -> None:
    wrong = np.flatnonzero((named < 0) | (named >= count))
    if len(wrong):
        number = int(np.searchsorted(starts, wrong[0], side="right"))
        raise MeshFileError(
            f"{what} {number:,} names point {int(named[wrong[0]]) + 1:,}, "
            f"but there are {count:,} points.",
            "The file is damaged; export it again.",
        )


def _marks(points: np.ndarray) -> np.ndarray:
    """(P,) uint64 that are the same for the same place and, but for a chance of one in billions,
    only then: whole numbers are sorted many times as fast as rows.

    Mixing as in splitmix64 (S. Vigna; from memory).
    """
    bits = points.view(np.uint32).astype(np.uint64)
    mixed = bits[:, 0] | (bits[:, 1] << np.uint64(32))
    for part in (None, bits[:, 2]):
        if part is not None:
            mixed = mixed + part * np.uint64(0x9E3779B97F4A7C15)
        mixed = (mixed ^ (mixed >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        mixed = (mixed ^ (mixed >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        mixed ^= mixed >> np.uint64(31)
    return mixed


def weld(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Join points at the same place: the joined points in order of first use, and for each old
    point the number of its new one."""
    canonical = np.ascontiguousarray(points, np.float32) + np.float32(0.0)  # -0 is 0
    _, first, inverse = np.unique(_marks(canonical), return_index=True, return_inverse=True)
    if not np.array_equal(canonical[first][inverse.ravel()], canonical):
        # Two places with one mark, of which nobody has seen any: compared whole, which takes long.
        rows = canonical.view([("", np.float32)] * 3).ravel()
        _, first, inverse = np.unique(rows, return_index=True, return_inverse=True)
    rank = np.empty(len(first), np.int64)
    rank[np.argsort(first)] = np.arange(len(first))
    return canonical[np.sort(first)], rank[inverse.ravel()]


def curves_of(points: np.ndarray, starts: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Curves without points that repeat the one before, and without those of a single point; one
    that ends where it begins is closed.

    points : (N,) numbers of the points of all curves; starts : (K + 1,)
    returns the points, the starts and which curves are closed, as in a topology
    """
    kept: list[np.ndarray] = []
    closed: list[bool] = []
    for lo, hi in pairwise(starts.tolist()):
        own = points[lo:hi]
        own = own[np.append(True, own[1:] != own[:-1])] if len(own) else own
        returns = len(own) > 3 and own[0] == own[-1]
        if returns:
            own = own[:-1]
        if len(own) > 1:
            kept.append(own)
            closed.append(bool(returns))
    if not kept:
        return np.zeros(0, np.int32), np.zeros(1, np.int32), np.zeros(0, bool)
    sizes = [len(own) for own in kept]
    return (
        np.concatenate(kept).astype(np.int32),
        np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32),
        np.array(closed, bool),
    )


def to_mesh(soup: Soup) -> tuple[Mesh, Report]:
    """A mesh with points joined at the same place, UVs and hard normals kept on the corners.

    Raises MeshFileError where the file's numbers make no mesh.
    """
    _check(soup)
    points, number = weld(soup.points)
    corners = number[soup.corners] if len(soup.corners) else soup.corners.astype(np.int64)
    kept, starts, faces = without_repeats(corners, np.asarray(soup.face_starts))
    at_corners = {
        name: np.ascontiguousarray(values[kept], np.float32)
        for name, values in soup.at_corners.items()
    }
    mesh = make_mesh(points, corners[kept], starts, {"corner": at_corners})
    if len(soup.curve_points):
        mesh = with_curves(mesh, *curves_of(number[soup.curve_points], soup.curve_starts))
    if soup.parts is not None and len(np.unique(soup.parts[faces])) > 1:
        mesh = mesh.with_attribute("face", PART, soup.parts[faces].astype(np.int32))
    joined, dropped = len(soup.points) - len(points), len(soup.face_starts) - 1 - len(faces)
    report = report_of(mesh, joined, dropped)
    report.notes += soup.notes
    return mesh, report


def report_of(mesh: Mesh, joined: int = 0, dropped: int = 0) -> Report:
    """What a mesh that was read holds.

    joined : points that others took the place of; dropped : faces without a surface
    """
    size = np.ptp(mesh.points, axis=0)
    return Report(
        points=len(mesh.points),
        faces=mesh.topology.face_count,
        joined_points=joined,
        dropped_faces=dropped,
        open_edges=open_edges(mesh),
        size=[round(float(s), 6) for s in size],
        curves=mesh.topology.curve_count,
    )


def open_edges(mesh: Mesh) -> int:
    """Number of edges that only one face has; none for a closed mesh."""
    return int((edge_uses(mesh.topology)[2] == 1).sum()) if mesh.topology.face_count else 0


__all__ = ["NORMAL", "UV", "Report", "Soup", "open_edges", "report_of", "to_mesh", "weld"]
