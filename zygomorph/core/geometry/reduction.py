"""Reduction of triangle meshes: the order of all collapses is found once, and replayed to any
number of faces."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.splitting import edge_sides, meetings
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.geometry.triangulation import triangulated
from zygomorph.core.kernels.collapse import RIM, collapses, replay

# UVs that differ by less than a step are the same.
UV_STEPS, UV_BITS = 65536, (1 << 20) - 1


@dataclass(frozen=True)
class Order:
    """All collapses of a triangle mesh; see :func:`zygomorph.core.kernels.collapse.collapses`.

    corner_wedge : (3 T,) int32; wedge_corner : (W,) int32, a corner that each wedge is of
    """

    merges: np.ndarray
    shares: np.ndarray
    left: np.ndarray
    gone: np.ndarray
    wedge_merges: np.ndarray
    wedge_shares: np.ndarray
    wedges_before: np.ndarray
    corner_wedge: np.ndarray
    wedge_corner: np.ndarray


def _wedges(topology: Topology, uvs: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    """Numbers of what corners have at their points, (C,), and a corner of each."""
    if uvs is None:
        first = np.zeros(topology.point_count, np.int32)
        first[topology.corners] = np.arange(len(topology.corners), dtype=np.int32)
        return topology.corners, first
    steps = np.rint(uvs.astype(np.float64) * UV_STEPS).astype(np.int64) & UV_BITS
    keys = topology.corners.astype(np.int64) << 40 | steps[:, 0] << 20 | steps[:, 1]
    _, first, wedge = np.unique(keys, return_index=True, return_inverse=True)
    return wedge.astype(np.int32), first.astype(np.int32)


def _lines(topology: Topology, wedge: np.ndarray, rims: bool) -> np.ndarray:
    """(E,) bool: edges that hold their course: seams, and where asked rims."""
    found = np.zeros(len(topology.edges), bool)
    if wedge is topology.corners and topology.closed:
        return found
    edge, one, other = meetings(topology)
    after = topology.next_corner
    seam = (wedge[one] != wedge[after[other]]) | (wedge[after[one]] != wedge[other])
    found[edge[seam]] = True
    if rims:
        _, starts = edge_sides(topology)
        found |= np.diff(starts) != 2
    return found


def _line_quadrics(mesh: Mesh, lines: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(P, 10) quadrics of planes through lines, across their faces; and (P,) points on lines."""
    topology = mesh.topology
    quadrics = np.zeros((len(mesh.points), 10))
    held = np.zeros(len(mesh.points), bool)
    sides = np.flatnonzero(lines[topology.side_edges]) if lines.any() else np.zeros(0, np.int64)
    if len(sides) == 0:
        return quadrics, held
    points = mesh.points.astype(np.float64)
    begin, end = topology.corners[sides], topology.corners[topology.next_corner[sides]]
    corners = points[topology.corners.reshape(-1, 3)[topology.corner_face[sides]]]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    along = points[end] - points[begin]
    across = np.cross(along, normals)
    length = np.linalg.norm(across, axis=1, keepdims=True)
    across = across / np.maximum(length, 1e-300)
    plane = np.concatenate([across, -np.einsum("ij,ij->i", across, points[begin])[:, None]], axis=1)
    weight = RIM * np.einsum("ij,ij->i", along, along) / 2 * (length[:, 0] > 0)
    i, j = np.triu_indices(4)
    for column in range(10):
        values = weight * plane[:, i[column]] * plane[:, j[column]]
        quadrics[:, column] = np.bincount(begin, values, len(points)) + np.bincount(
            end, values, len(points)
        )
    held[begin] = held[end] = True
    return quadrics, held


def collapse_order(mesh: Mesh, chosen: np.ndarray | None, rims: bool, seams: bool) -> Order:
    """The order in which a triangle mesh is reduced.

    chosen : (F,) bool, the only faces that are, or None for all
    rims : whether borders keep their course; seams : whether UVs do
    """
    topology = mesh.topology
    uvs = mesh.get("corner", UV) if seams else None
    wedge, wedge_corner = _wedges(topology, uvs)
    quadrics, held = _line_quadrics(mesh, _lines(topology, wedge, rims))
    locked = np.zeros(topology.point_count, bool)
    if chosen is not None:
        locked[topology.corners[~chosen[topology.corner_face]]] = True
    merges, shares, left, gone, wedge_merges, wedge_shares, wedges_before = collapses(
        mesh.points.astype(np.float64),
        topology.corners.reshape(-1, 3).copy(),
        wedge.reshape(-1, 3),
        held,
        locked,
        quadrics,
        len(wedge_corner),
    )
    return Order(
        merges,
        shares,
        left,
        gone,
        wedge_merges,
        wedge_shares,
        wedges_before,
        wedge,
        wedge_corner,
    )


def _grouped(root: np.ndarray, weight: np.ndarray, wanted: np.ndarray) -> Origin:
    """Rows for the wanted nodes, whose parents are the first nodes that are part of them."""
    number = np.full(int(root.max(initial=0)) + 1, -1, np.int32)
    number[wanted] = np.arange(len(wanted), dtype=np.int32)
    row = number[root]
    order = np.argsort(row, kind="stable")[np.count_nonzero(row < 0) :]
    sizes = np.bincount(row[order], minlength=len(wanted))
    starts = np.concatenate([[0], np.cumsum(sizes)])
    shares = weight[order].astype(np.float32)
    # The part with the greatest share goes on, the first of those that share it.
    most = np.maximum.reduceat(shares, starts[:-1]) if len(shares) else shares
    leads = np.flatnonzero(shares == np.repeat(most, sizes))
    _, first = np.unique(np.repeat(np.arange(len(sizes)), sizes)[leads], return_index=True)
    strongest = order[leads[first]]
    return Origin(
        starts.astype(np.int32), order.astype(np.int32), shares, strongest.astype(np.int32)
    )


def _numbered(nodes: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
    """Which of so many nodes there are, and each one's number among these."""
    used = np.zeros(count, bool)
    used[nodes] = True
    return np.flatnonzero(used), (np.cumsum(used) - 1)[nodes]


def reduced_to(topology: Topology, order: Order, faces: int) -> Structure:
    """A triangle topology after the fewest collapses that leave so many faces or fewer."""
    done = 0
    if faces < topology.face_count:
        done = int(np.searchsorted(-order.left, -faces)) + 1
        done = min(done, len(order.left))
    kept = np.flatnonzero(order.gone >= done)
    count, wedges = topology.point_count, len(order.wedge_corner)
    root, weight = np.empty(count + done, np.int32), np.empty(count + done)
    replay(order.merges, order.shares, done, count, root, weight)
    nodes = root[topology.corners.reshape(-1, 3)[kept].reshape(-1)]
    loose = np.ones(count, bool)
    loose[topology.corners] = False
    wanted, corners = _numbered(np.concatenate([nodes, np.flatnonzero(loose)]), count + done)
    wedge_done = int(order.wedges_before[done])
    w_root, w_weight = np.empty(wedges + wedge_done, np.int32), np.empty(wedges + wedge_done)
    replay(order.wedge_merges, order.wedge_shares, wedge_done, wedges, w_root, w_weight)
    kept_corners = (3 * kept[:, None] + np.arange(3)).reshape(-1)
    corner_nodes = w_root[order.corner_wedge[kept_corners]]
    used, which = _numbered(corner_nodes, wedges + wedge_done)
    of_used = _grouped(w_root[:wedges], w_weight[:wedges], used)
    taken = Origin.taken(which)
    through = Origin(
        of_used.starts, order.wedge_corner[of_used.parents], of_used.weights, of_used.continues
    )
    made = Topology(
        len(wanted),
        corners[: len(nodes)].astype(np.int32),
        np.arange(len(kept) + 1, dtype=np.int32) * np.int32(3),
    )
    corner_origin = Origin(taken.starts, taken.parents).after(through) if done else None
    return Structure(
        made,
        {
            "point": _grouped(root[:count], weight[:count], wanted),
            "corner": corner_origin or Origin.taken(kept_corners),
            "face": Origin.taken(kept),
        },
    )


def reduced(
    mesh: Mesh,
    chosen: np.ndarray | None,
    how_many: Callable[[int], float],
    rims: bool,
    seams: bool,
) -> Structure:
    """A mesh with fewer triangles.

    chosen : (F,) bool, the only faces that are reduced, or None for all
    how_many : from how many there are to how many remain
    rims, seams : whether borders and UVs keep their course
    """
    first, order, cut = mesh.topology.derived(
        ("reduction", id(mesh.points), None if chosen is None else chosen.tobytes(), rims, seams),
        lambda: _prepared(mesh, chosen, rims, seams),
    )[:3]
    return reduced_to(cut, order, max(round(how_many(cut.face_count)), 1)).after(first)


def _prepared(
    mesh: Mesh, chosen: np.ndarray | None, rims: bool, seams: bool
) -> tuple[Structure, Order, Topology, np.ndarray]:
    """Triangles of a mesh and the order of their collapses; the points are kept beside them, so
    that their address is not another's."""
    first = triangulated(mesh.topology)
    cut = first.carried(mesh, mesh.points)
    mine = None if chosen is None else chosen[first.origins["face"].parents]
    return first, collapse_order(cut, mine, rims, seams), first.topology, mesh.points
