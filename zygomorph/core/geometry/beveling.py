"""Bevelled edges and corners: a strip along each edge, and a patch at each corner.

Around a point, bevelled edges part its faces into sectors. Each sector has a point of its own,
moved so far into its faces that it lies the width away from the edges beside it. Across an edge
the strip follows a conic from sector to sector, which is a circular arc where the profile is round
(G. Farin, "Curves and Surfaces for CAGD"; from memory).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.compact import renumbered, used_points
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.normals import face_vector_areas
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.repair.merge import without_repeats
from zygomorph.core.geometry.rings import corners_before, opposite_sides, rings_of
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology

# No edge of a face becomes shorter than nothing: each end takes at most this share of it.
MOST = 0.49
# How far a corner of a round profile lies from the middle of its rim towards the old point: for
# the corner of a cube the middle of the eighth of a ball (worked out).
CORNER = 0.28


@dataclass(frozen=True, eq=False)
class Sectors:
    """What the positions of a bevelled mesh are found from. Points are the old ones, then those of
    sectors, of chains, and in the middle of patches.

    point : (S,) the old point of each sector
    first, last : (S,) the corner whose outgoing side, and the one whose incoming side, ends it;
        at a border the border's
    bevelled : (S, 2) bool, whether those sides are bevelled
    chains : (H, 2) sectors that each chain leads from and to; chain_side : (H,) the side along
        which the edge runs, as a corner; ends : (H,) bool, whether the chain is at the side's end
    patches : (Q,) old points; patch_rims : for each, sectors and chain points on its rim, as
        numbers among all points, with starts
    kept : (n,) which of all points are used
    """

    point: np.ndarray
    first: np.ndarray
    last: np.ndarray
    bevelled: np.ndarray
    chains: np.ndarray
    chain_side: np.ndarray
    ends: np.ndarray
    between: int
    patches: np.ndarray
    rim_starts: np.ndarray
    rim: np.ndarray
    kept: np.ndarray


@dataclass(frozen=True, eq=False)
class Bevel(Structure):
    """A structure with the sectors whose positions are found at every frame."""

    sectors: Sectors = None  # type: ignore[assignment]


def _turned_rings(topology: Topology, cut: np.ndarray) -> tuple[np.ndarray, ...]:
    """Corners in rings that begin after a bevelled edge where they are closed and have one: their
    order, the ring of each, the starts, whether the edge after each is bevelled, and how many
    bevelled edges each ring crosses."""
    rings, before = rings_of(topology), corners_before(topology)
    sizes = np.diff(rings.starts)
    ring = np.repeat(np.arange(len(sizes)), sizes)
    crossed = cut[topology.side_edges[before[rings.corners]]]
    # The edge after the last face of an open ring is a border.
    last = rings.starts[1:] - 1
    crossed[last[~rings.closed]] = False
    count = np.bincount(ring, crossed, len(sizes)).astype(np.int64)
    place = np.arange(len(ring)) - rings.starts[ring]
    latest = np.full(len(sizes), -1)
    np.maximum.at(latest, ring[crossed], place[crossed])
    turn = np.where(rings.closed & (count > 0), latest + 1, 0)
    order = rings.starts[ring] + (place + turn[ring]) % sizes[ring]
    return rings.corners[order], ring, rings.starts, crossed[order], count


def bevelled(topology: Topology, cut: np.ndarray, segments: int, mark: str) -> Bevel:
    """What bevelling makes of a topology.

    cut : (E,) bool, the edges; those that are not between two faces are left as they are
    segments : faces across each strip
    mark : name under which strips and patches are stored as a mask, or ""
    """
    against = opposite_sides(topology)
    inner = np.zeros(len(topology.edges), bool)
    inner[topology.side_edges[against >= 0]] = True
    cut = cut & inner
    corners, after, before = topology.corners, topology.next_corner, corners_before(topology)
    order, ring, ring_starts, crossed, count = _turned_rings(topology, cut)
    closed = rings_of(topology).closed
    # Where a bevel ends inside the surface it runs out in the old point.
    opens = (count >= 2) | ((count == 1) & ~closed)
    new = opens[ring]
    crossed = crossed & new
    begins = np.ones(len(order), bool)
    begins[1:] = (ring[1:] != ring[:-1]) | crossed[:-1]
    begins &= new
    sector_at = np.cumsum(begins) - 1
    total, old = int(begins.sum()), topology.point_count
    sector = np.full(len(corners), -1)
    sector[order[new]] = sector_at[new]
    starts = np.flatnonzero(begins)
    ends = np.concatenate([starts[1:], [len(order)]]) - 1 if total else starts
    if total:
        # The end of a sector is within its ring.
        ends = np.minimum(ends, ring_starts[1:][ring[starts]] - 1)
    first, last = order[starts], order[ends]
    at_first = cut[topology.side_edges[first]] & (against[first] >= 0)
    at_last = cut[topology.side_edges[before[last]]] & (against[before[last]] >= 0)

    # Chains across edges at their ends; where two bevelled edges meet, they share one.
    chains = _Chains(topology, cut, against, sector, segments, ring, ring_starts, order, crossed)
    number = np.where(sector >= 0, old + sector, corners)
    between = old + total
    middles = between + len(chains.pairs) * (segments - 1)

    face_ring = number.astype(np.int64)
    strips, strip_corners, strip_faces = chains.strips(number, between)
    rims, rim_sizes, rim_points, rim_corners = chains.rims(number, between, count, closed)
    fans, fan_corners, fan_sizes, patches, patch_starts, patch_rim = _patches(
        rims, rim_sizes, rim_points, rim_corners, segments, middles
    )
    all_corners = np.concatenate([face_ring, strips.reshape(-1), fans])
    all_sizes = np.concatenate(
        [np.diff(topology.face_starts), np.full(len(strips), 4), fan_sizes]
    ).astype(np.int64)
    of_corner = np.concatenate([np.arange(len(corners)), strip_corners.reshape(-1), fan_corners])
    first_of_fan = np.cumsum(fan_sizes) - fan_sizes
    fan_faces = topology.corner_face[fan_corners[first_of_fan]] if len(fans) else first_of_fan
    of_face = np.concatenate([np.arange(topology.face_count), strip_faces, fan_faces])
    all_starts = np.concatenate([[0], np.cumsum(all_sizes)])
    kept_corners, new_starts, kept_faces = without_repeats(all_corners, all_starts)

    chain_point = corners[np.where(chains.ends, after[chains.sides], chains.sides)]
    parents = np.concatenate(
        [
            np.arange(old),
            corners[first],
            np.repeat(chain_point, segments - 1),
            patches,
        ]
    )
    used = used_points(topology, all_corners[kept_corners], len(parents))
    kept, renumber = np.flatnonzero(used), renumbered(used)
    goes_on = np.where((kept < old) | ~used[parents[kept]], parents[kept], -1)
    _, once = np.unique(goes_on, return_index=True)
    continues = np.full(len(kept), -1)
    continues[once] = goes_on[once]
    taken, faces = Origin.taken(parents[kept]), Origin.taken(of_face[kept_faces])
    same = np.where(kept_faces < topology.face_count, kept_faces, -1)
    face_attributes = {}
    if mark:
        face_attributes[MASK + mark] = (kept_faces >= topology.face_count).astype(np.float32)
    return Bevel(
        Topology(
            len(kept),
            renumber[all_corners[kept_corners]].astype(np.int32),
            new_starts.astype(np.int32),
            renumber[topology.curve_points].astype(np.int32),
            topology.curve_starts,
            topology.curve_closed,
        ),
        {
            "point": Origin(taken.starts, taken.parents, continues=continues),
            "corner": Origin.taken(of_corner[kept_corners]),
            "face": Origin(faces.starts, faces.parents, continues=same),
        },
        {"face": face_attributes} if face_attributes else {},
        sectors=Sectors(
            corners[first],
            first,
            last,
            np.stack([at_first, at_last], axis=1),
            chains.pairs,
            chains.sides,
            chains.ends,
            segments - 1,
            patches,
            patch_starts,
            patch_rim,
            kept,
        ),
    )


class _Chains:
    """Points across bevelled edges at their ends.

    pairs : (H, 2) sectors; sides : (H,) corner whose side is the edge; ends : (H,) bool, whether
        at the end of that side instead of its beginning
    """

    def __init__(
        self,
        topology: Topology,
        cut: np.ndarray,
        against: np.ndarray,
        sector: np.ndarray,
        segments: int,
        ring: np.ndarray,
        ring_starts: np.ndarray,
        order: np.ndarray,
        crossed: np.ndarray,
    ) -> None:
        self.topology, self.segments, self.against = topology, segments, against
        before = corners_before(topology)
        # One chain for each crossing of a ring: from the sector before the edge to that after it.
        at = np.flatnonzero(crossed)
        sizes = np.diff(ring_starts)
        following = at + 1
        wraps = following == ring_starts[1:][ring[at]]
        following[wraps] = ring_starts[:-1][ring[at[wraps]]]
        here, there = order[at], order[following] if len(at) else order[:0]
        self.pairs = np.stack([sector[here], sector[there]], axis=1)
        self.sides, self.ends = before[here], np.ones(len(at), bool)
        self.here, self.there, self.ring = here, there, ring[at]
        # Where two bevelled edges meet, the second goes the way of the first back.
        self.twin = np.full(len(at), -1)
        per_ring = np.bincount(self.ring, minlength=len(sizes))
        two = (per_ring[self.ring] == 2) & rings_of(topology).closed[self.ring]
        second = np.flatnonzero(two)[1::2]
        self.twin[second] = np.flatnonzero(two)[::2]
        # The chain at each end of each side: by the corner before and the corner after it.
        self.by_here = np.full(len(topology.corners), -1)
        self.by_here[here] = np.arange(len(at))
        self.edges = np.flatnonzero(
            cut[topology.side_edges] & (against > np.arange(len(topology.corners)))
        )

    def points(self, chain: np.ndarray, number: np.ndarray, between: int) -> np.ndarray:
        """(n, segments + 1) numbers of the points of chains."""
        inside = np.arange(self.segments - 1)
        twin = self.twin[chain]
        source = np.where(twin >= 0, twin, chain)
        row = between + source[:, None] * (self.segments - 1) + inside
        row = np.where((twin >= 0)[:, None], row[:, ::-1], row)
        begin, end = number[self.here[chain]], number[self.there[chain]]
        return np.concatenate([begin[:, None], row, end[:, None]], axis=1)

    def strips(self, number: np.ndarray, between: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Faces along all edges: points and parent corners, (n, 4), and parent faces, (n,)."""
        topology, after = self.topology, self.topology.next_corner
        left = self.edges  # side u → v of the left face
        right = self.against[left]  # side v → u of the right one
        # Round v the ring goes from the left face to the right one, round u from right to left.
        at_v = self._chain_or_point(after[left], number, between)
        at_u = self._chain_or_point(after[right], number, between)[:, ::-1]
        count = self.segments
        quads = np.stack([at_v[:, :-1], at_u[:, :-1], at_u[:, 1:], at_v[:, 1:]], axis=2)
        near_left = np.arange(count) * 2 < count
        far_left = np.arange(1, count + 1) * 2 <= count
        left_v, left_u = after[left][:, None], left[:, None]
        right_v, right_u = right[:, None], after[right][:, None]
        parents = np.stack(
            [
                np.where(near_left, left_v, right_v),
                np.where(near_left, left_u, right_u),
                np.where(far_left, left_u, right_u),
                np.where(far_left, left_v, right_v),
            ],
            axis=2,
        )
        faces = np.where(
            near_left, topology.corner_face[left][:, None], topology.corner_face[right][:, None]
        )
        return quads.reshape(-1, 4), parents.reshape(-1, 4), faces.reshape(-1)

    def _chain_or_point(self, here: np.ndarray, number: np.ndarray, between: int) -> np.ndarray:
        """(n, segments + 1): the chain after each corner, or its point again and again."""
        chain = self.by_here[here]
        found = self.points(np.maximum(chain, 0), number, between) if len(self.pairs) else None
        alone = np.repeat(number[here][:, None], self.segments + 1, axis=1)
        return alone if found is None else np.where((chain >= 0)[:, None], found, alone)

    def rims(
        self, number: np.ndarray, between: int, count: np.ndarray, closed: np.ndarray
    ) -> tuple[np.ndarray, ...]:
        """Rims of patches, ring by ring: points, how many of each, old points, parent corners."""
        wanted = np.where(closed, count >= 3, count >= 2)
        mine = np.flatnonzero(wanted[self.ring]) if len(self.ring) else np.zeros(0, np.int64)
        rows = self.points(mine, number, between)[:, :-1] if len(mine) else np.zeros((0, 1), int)
        sizes = np.bincount(self.ring[mine], minlength=len(count)) * self.segments
        corners = np.repeat(self.here[mine], rows.shape[1])
        points = rows.reshape(-1)
        # An open rim ends with the sector after its last edge.
        open_rings = np.flatnonzero(wanted & ~closed & (sizes > 0))
        if len(open_rings):
            last = np.cumsum(np.bincount(self.ring[mine], minlength=len(count)))[open_rings] - 1
            ends = np.cumsum(sizes)[open_rings]
            points = np.insert(points, ends, number[self.there[mine[last]]])
            corners = np.insert(corners, ends, self.there[mine[last]])
            sizes[open_rings] += 1
        have = sizes > 0
        first = (np.cumsum(sizes) - sizes)[have]
        return points, sizes[have], self.topology.corners[corners[first]], corners


def _patches(
    rims: np.ndarray,
    sizes: np.ndarray,
    points: np.ndarray,
    corners: np.ndarray,
    segments: int,
    middles: int,
) -> tuple[np.ndarray, ...]:
    """Faces inside rims: one polygon where the bevel is flat, else triangles round a middle."""
    starts = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
    if segments == 1:
        none = np.zeros(0, np.int64)
        return rims, corners, sizes, none, np.zeros(1, np.int64), none
    number = np.repeat(middles + np.arange(len(sizes)), sizes)
    following = np.arange(1, len(rims) + 1)
    following[starts[1:] - 1] = starts[:-1]
    fans = np.stack([rims, rims[following], number], axis=1).reshape(-1)
    parents = np.stack([corners, corners[following], corners], axis=1).reshape(-1)
    return fans, parents, np.full(len(rims), 3), points, starts, rims


def positions(
    mesh: Mesh, sectors: Sectors, width: float | np.ndarray, profile: float
) -> np.ndarray:
    """(new, 3) float32: the points of a bevelled mesh.

    width : metres, or (P,) of each old point
    profile : 0 flat, 0.5 round, 1 sharp again
    """
    points = mesh.points.astype(np.float64)
    topology = mesh.topology
    own = np.broadcast_to(np.asarray(width, np.float64), len(points))
    moves = _moves(mesh, sectors, np.maximum(own, 0))
    at = points[sectors.point] + moves
    parts = [points, at]
    if sectors.between:
        parts.append(_chain_points(points, topology, sectors, moves, profile))
        whole = np.concatenate(parts)
        sizes = np.diff(sectors.rim_starts)
        if len(sizes):
            total = np.add.reduceat(whole[sectors.rim], sectors.rim_starts[:-1])
            middle = total / sizes[:, None]
            share = (
                2 * CORNER * profile
                if profile <= 0.5
                else CORNER + ((profile - 0.5) * 2 * (1 - CORNER))
            )
            parts.append(middle + (points[sectors.patches] - middle) * share)
    return np.concatenate(parts)[sectors.kept].astype(np.float32)


def _sides(mesh: Mesh, corner: np.ndarray, incoming: bool) -> tuple[np.ndarray, ...]:
    """Of the side that leaves or meets each corner: the way along it from the corner's point, its
    length, and the way across it into its face; units."""
    topology, points = mesh.topology, mesh.points.astype(np.float64)
    other = corners_before(topology)[corner] if incoming else topology.next_corner[corner]
    along = points[topology.corners[other]] - points[topology.corners[corner]]
    length = np.linalg.norm(along, axis=1)
    along = along / np.maximum(length, 1e-20)[:, None]
    normal = face_vector_areas(mesh)[topology.corner_face[corner]].astype(np.float64)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-30)
    across = np.cross(normal, along) if not incoming else np.cross(along, normal)
    return along, length, across


def _moves(mesh: Mesh, sectors: Sectors, width: np.ndarray) -> np.ndarray:
    """(S, 3) how far each sector goes from its old point."""
    out, out_length, across_out = _sides(mesh, sectors.first, False)
    into, into_length, across_in = _sides(mesh, sectors.last, True)
    a, b = sectors.bevelled.T
    # Between two bevelled sides the mitre of both; at a border along it.
    both = np.maximum(1 + np.einsum("ij,ij->i", across_out, across_in), 0.05)
    move = (across_out + across_in) / both[:, None]
    lean = np.maximum(np.einsum("ij,ij->i", out, across_in), 0.05)
    move = np.where((b & ~a)[:, None], out / lean[:, None], move)
    lean = np.maximum(np.einsum("ij,ij->i", into, across_out), 0.05)
    move = np.where((a & ~b)[:, None], into / lean[:, None], move)
    # Along each side no further than to its middle, the same all round a point.
    reach = np.maximum(
        np.abs(np.einsum("ij,ij->i", move, out)) / np.maximum(out_length, 1e-20),
        np.abs(np.einsum("ij,ij->i", move, into)) / np.maximum(into_length, 1e-20),
    )
    limit = np.full(len(width), np.inf)
    np.minimum.at(limit, sectors.point, MOST / np.maximum(reach, 1e-9))
    return move * np.minimum(width, limit)[sectors.point][:, None]


def _chain_points(
    points: np.ndarray, topology: Topology, sectors: Sectors, moves: np.ndarray, profile: float
) -> np.ndarray:
    """(H between, 3): points of conics from sector to sector."""
    side = sectors.chain_side
    begin, end = topology.corners[side], topology.corners[topology.next_corner[side]]
    at = np.where(sectors.ends, end, begin)
    along = np.where(
        sectors.ends[:, None], points[begin] - points[end], points[end] - points[begin]
    )
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-20)
    one, other = moves[sectors.chains[:, 0]], moves[sectors.chains[:, 1]]
    # The conic's control lies on the edge, as far along it as the sectors are.
    far = (np.einsum("ij,ij->i", one, along) + np.einsum("ij,ij->i", other, along)) / 2
    control = np.maximum(far, 0)[:, None] * along
    a, b = one - control, other - control
    cosine = np.einsum("ij,ij->i", a, b) / np.maximum(
        np.linalg.norm(a, axis=1) * np.linalg.norm(b, axis=1), 1e-30
    )
    # Half the angle at the control gives a circle its weight.
    sine = np.sqrt(np.clip((1 - cosine) / 2, 0, 1))
    weight = sine * (profile / max(1 - profile, 1e-3))
    t = np.arange(1, sectors.between + 1) / (sectors.between + 1)
    low, middle, high = (1 - t) ** 2, 2 * t * (1 - t), t**2
    pull = middle * weight[:, None]
    total = low + pull + high
    found = (
        low[:, None] * one[:, None]
        + pull[..., None] * control[:, None]
        + high[:, None] * other[:, None]
    ) / total[..., None]
    return (points[at][:, None] + found).reshape(-1, 3)
