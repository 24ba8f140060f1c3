"""Extrusion of faces, one by one or as regions: what new faces there are, and where their points
stand at every frame."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import scipy

from zygomorph.core.geometry.compact import renumbered, used_points
from zygomorph.core.geometry.mesh import MASK, SMOOTHING, Mesh
from zygomorph.core.geometry.normals import face_vector_areas, point_normals
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.splitting import edge_sides
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology, turned_over
from zygomorph.core.kernels.extrude import raise_faces, thicken


@dataclass(frozen=True, eq=False)
class Tops:
    """What the positions of extruded faces are found from.

    faces : (n,) int32 numbers of those that are extruded
    over : (R,) int32, of each raised point the old point that it stands over
    rim : (m,) int, those of the raised points that sides lead up to
    rows : how many rows of faces the sides have
    feet : whether each has points of its own below, too
    back : whether the faces are kept where they were, turned over
    kept : (new,) int, which of the old ones, the points between, the raised ones and the feet are
        used
    region : the faces over the raised points alone; None where each is extruded by itself
    border : (k, 2) int, sides of the region's border, as raised points
    border_faces : (k,) the faces of those, as faces of the region
    part : (R,) int, which part of the region each raised point is of
    """

    faces: np.ndarray
    over: np.ndarray
    rim: np.ndarray
    rows: int
    feet: bool
    back: bool
    kept: np.ndarray
    region: Topology | None
    border: np.ndarray
    border_faces: np.ndarray
    part: np.ndarray


@dataclass(frozen=True, eq=False)
class Extrusion(Structure):
    """A structure with the tops whose positions are found at every frame."""

    tops: Tops = None  # type: ignore[assignment]


def _border_corners(topology: Topology, chosen: np.ndarray) -> np.ndarray:
    """(n,) corners of chosen faces whose side no other chosen face has too."""
    order, starts = edge_sides(topology)
    mine = chosen[topology.corner_face]
    if len(order) == 0:
        return order
    each = np.add.reduceat(mine[order].astype(np.int64), starts[:-1])
    return np.flatnonzero(mine & (each[topology.side_edges] != 2))


def _part_of_points(region: Topology) -> np.ndarray:
    count = region.point_count
    pairs = region.edges
    links = scipy.sparse.coo_array((np.ones(len(pairs), bool), pairs.T), (count, count))
    return scipy.sparse.csgraph.connected_components(links, directed=False)[1]


def extruded(
    topology: Topology,
    chosen: np.ndarray,
    as_region: bool,
    rows: int,
    back: bool,
    mark: str,
    groups: np.ndarray | None = None,
) -> Extrusion:
    """What extrusion makes of a topology.

    chosen : (F,) bool
    as_region : neighbours stay joined; otherwise each face stands alone
    rows : of faces along the sides
    back : keep the faces where they were, looking the other way, so that an open surface becomes a
        solid
    mark : name under which the sides are stored as a mask, or ""
    groups : (F,) int32 smoothing groups of the faces, or None where all are one
    """
    if groups is None:
        groups = np.zeros(topology.face_count, np.int32)
    corners, starts, after = topology.corners, topology.face_starts, topology.next_corner
    count, face_of = topology.point_count, topology.corner_face
    faces = np.flatnonzero(chosen)
    mine = np.flatnonzero(chosen[face_of])
    number = np.full(len(corners), -1)
    region = None
    if as_region:
        sides = _border_corners(topology, chosen)
        over, number[mine] = np.unique(corners[mine], return_inverse=True)
        sizes = np.diff(starts)[faces]
        region_starts = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32)
        region = Topology(len(over), number[mine].astype(np.int32), region_starts)
    else:
        sides, over = mine, corners[mine]
        number[mine] = np.arange(len(mine))
    begin, end = number[sides], number[after[sides]]
    rim = np.unique(np.concatenate([begin, end]))
    on_rim = np.zeros(len(over), np.int64)
    on_rim[rim] = np.arange(len(rim))

    # All points there may be: the old ones, those between, row by row, the raised ones, and feet:
    # what is a solid by itself shares no point with its neighbours.
    top = count + (rows - 1) * len(rim)
    feet = back and not as_region
    low = corners.astype(np.int64)
    if feet:
        low[mine] = top + len(over) + number[mine]
    levels_begin, levels_end = [low[sides]], [low[after[sides]]]
    for row in range(rows - 1):
        first = count + row * len(rim)
        levels_begin.append(first + on_rim[begin])
        levels_end.append(first + on_rim[end])
    levels_begin.append(top + begin)
    levels_end.append(top + end)
    quads = np.stack(
        [
            np.stack(levels_begin[:-1]),
            np.stack(levels_end[:-1]),
            np.stack(levels_end[1:]),
            np.stack(levels_begin[1:]),
        ],
        axis=2,
    )
    ring = corners.astype(np.int64)
    ring[mine] = top + number[mine]
    side_corners = np.stack([sides, after[sides], after[sides], sides], axis=1)
    new_corners = [ring, quads.reshape(-1)]
    new_sizes = [np.diff(starts), np.full(rows * len(sides), 4)]
    of_corner = [np.arange(len(corners)), np.tile(side_corners, (rows, 1)).reshape(-1)]
    of_face = [np.arange(topology.face_count), np.tile(face_of[sides], rows)]
    if back:
        turned = turned_over(starts)[mine]
        new_corners.append(low[turned])
        new_sizes.append(np.diff(starts)[faces])
        of_corner.append(turned)
        of_face.append(faces)
    all_corners = np.concatenate(new_corners)
    parents = np.concatenate(
        [np.arange(count), np.tile(over[rim], rows - 1), over, *([over] if feet else [])]
    )
    used = used_points(topology, all_corners, len(parents))
    kept, numbers = np.flatnonzero(used), renumbered(used)
    all_sizes = np.concatenate(new_sizes)
    made = Topology(
        len(kept),
        numbers[all_corners].astype(np.int32),
        np.concatenate([[0], np.cumsum(all_sizes)]).astype(np.int32),
        numbers[topology.curve_points].astype(np.int32),
        topology.curve_starts,
        topology.curve_closed,
    )
    tops = Tops(
        faces.astype(np.int32),
        over.astype(np.int32),
        rim,
        rows,
        feet,
        back,
        kept,
        region,
        np.stack([begin, end], axis=1) if as_region else np.zeros((0, 2), int),
        renumbered(chosen)[face_of[sides]] if as_region else np.zeros(0, int),
        _part_of_points(region) if region is not None else np.zeros(len(over), int),
    )
    faces_of = np.concatenate(of_face)
    attributes = _marked(mark, len(all_sizes), topology.face_count, rows * len(sides))
    attributes.setdefault("face", {})[SMOOTHING] = _smoothing(
        groups[faces_of], topology.face_count, rows, len(sides), as_region
    )
    return Extrusion(
        made,
        _origins(topology, parents, kept, used, np.concatenate(of_corner), faces_of),
        attributes,
        tops=tops,
    )


def _smoothing(
    groups: np.ndarray, before: int, rows: int, sides: int, as_region: bool
) -> np.ndarray:
    """(F,) int32 smoothing groups: sides are apart from what they stand on and lead up to, and
    those of single faces, which are flat, from each other.

    groups : (F,) those of the faces that the new ones are made of
    before : how many faces there were; their sides follow after them, row by row
    """
    made = groups.astype(np.int32)
    own = np.zeros(sides, np.int32) if as_region else np.arange(sides, dtype=np.int32)
    made[before : before + rows * sides] = np.tile(own, rows) + 1 + groups.max(initial=0)
    return made


def _origins(
    topology: Topology,
    parents: np.ndarray,
    kept: np.ndarray,
    used: np.ndarray,
    of_corner: np.ndarray,
    of_face: np.ndarray,
) -> Mapping[str, Origin]:
    """Old points go on as they are; where one is used no more, what was raised from it goes on as
    it. Tops go on as their faces."""
    count = topology.point_count
    point = Origin.taken(parents[kept])
    goes_on = np.where((kept < count) | ~used[parents[kept]], parents[kept], -1)
    _, first = np.unique(goes_on, return_index=True)
    once = np.full(len(kept), -1)
    once[first] = goes_on[first]
    face = Origin.taken(of_face)
    same = np.full(len(of_face), -1)
    same[: topology.face_count] = np.arange(topology.face_count)
    return {
        "point": Origin(point.starts, point.parents, continues=once),
        "corner": Origin.taken(of_corner),
        "face": Origin(face.starts, face.parents, continues=same),
    }


def _marked(name: str, count: int, before: int, many: int) -> dict[str, dict[str, np.ndarray]]:
    """A stored mask of faces: 1 on so many after the first ones, 0 elsewhere."""
    if not name:
        return {}
    marks = np.zeros(count, np.float32)
    marks[before : before + many] = 1
    return {"face": {MASK + name: marks}}


def positions(
    mesh: Mesh, tops: Tops, depth: np.ndarray, inset: np.ndarray, taper: np.ndarray
) -> np.ndarray:
    """(new, 3) float32: the points of an extruded mesh.

    depth, inset : (F,) metres; taper : (F,) share by which the tops are smaller
    """
    # All points at once, so that the many raised ones are written where they belong.
    count, many, on_rim = len(mesh.points), len(tops.over), len(tops.rim)
    first = count + (tops.rows - 1) * on_rim
    whole = np.empty((first + many * (2 if tops.feet else 1), 3), np.float32)
    whole[:count] = mesh.points
    raised = whole[first : first + many]
    if tops.region is None:
        _one_by_one(mesh, tops, depth, inset, taper, raised)
    else:
        raised[:] = _as_region(mesh, tops, depth, inset, taper)
    if tops.back:
        # What goes inwards lies below the surface: the faces stay, and their backs go.
        low = mesh.points[tops.over]
        if (depth < 0).any():
            sinks = _sinks(mesh, tops, depth)
            low[sinks], raised[sinks] = raised[sinks], low[sinks]
        if tops.feet:
            whole[first + many :] = low
        else:
            whole[tops.over] = low
    if tops.rows > 1:
        foot = low[tops.rim] if tops.feet else whole[tops.over[tops.rim]]
        way = raised[tops.rim] - foot
        for row in range(1, tops.rows):
            at = count + (row - 1) * on_rim
            whole[at : at + on_rim] = foot + way * np.float32(row / tops.rows)
    return whole if len(tops.kept) == len(whole) else whole[tops.kept]


def _sinks(mesh: Mesh, tops: Tops, depth: np.ndarray) -> np.ndarray:
    """(R,) bool: the raised points that go below the surface."""
    topology = mesh.topology
    if tops.region is None:
        sizes = np.diff(topology.face_starts)[tops.faces]
        return np.repeat(depth[tops.faces] < 0, sizes)
    total = np.bincount(
        tops.region.corners, depth[tops.faces][tops.region.corner_face], len(tops.over)
    )
    # Where others share its points they stay.
    whole = len(tops.faces) == topology.face_count
    return (total < 0) & whole


def _one_by_one(
    mesh: Mesh,
    tops: Tops,
    depth: np.ndarray,
    inset: np.ndarray,
    taper: np.ndarray,
    out: np.ndarray,
) -> None:
    """Into ``out``, (R, 3)."""
    topology = mesh.topology
    sizes = np.diff(topology.face_starts)[tops.faces]
    raise_faces(
        mesh.points,
        topology.corners,
        topology.face_starts,
        tops.faces,
        face_vector_areas(mesh),
        depth[tops.faces],
        inset[tops.faces],
        taper[tops.faces],
        (np.cumsum(sizes) - sizes).astype(np.int32),
        out,
    )


def _as_region(
    mesh: Mesh, tops: Tops, depth: np.ndarray, inset: np.ndarray, taper: np.ndarray
) -> np.ndarray:
    assert tops.region is not None
    base = mesh.points[tops.over]
    region = Mesh(base, tops.region)
    areas = face_vector_areas(region)
    moves = np.empty_like(base)
    normals = point_normals(region)
    own = depth[tops.faces]
    thicken(normals, areas, *tops.region.point_faces, np.ascontiguousarray(own), moves)
    raised = base
    if inset.any() and len(tops.border):
        raised = raised + _inset(base, tops, areas, inset[tops.faces])
    if taper.any():
        count = int(tops.part.max(initial=-1)) + 1
        members = np.maximum(np.bincount(tops.part, minlength=count), 1)
        middle = np.stack([np.bincount(tops.part, c, count) / members for c in raised.T], axis=1)
        starts, faces = tops.region.point_faces
        # Of a point the mean of its faces.
        many = np.maximum(np.diff(starts), 1)
        share = np.add.reduceat(taper[tops.faces][faces], starts[:-1]) / many
        raised = raised + (middle[tops.part] - raised) * share[:, None]
    return (raised + moves).astype(np.float32)


def _inset(base: np.ndarray, tops: Tops, areas: np.ndarray, inset: np.ndarray) -> np.ndarray:
    """(R, 3) how far the border of a region goes into it: at each point the mitre of its sides."""
    begin, end = tops.border.T
    normal = areas[tops.border_faces].astype(np.float64)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-20)
    along = (base[end] - base[begin]).astype(np.float64)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-20)
    inwards = np.cross(normal, along)
    count = len(base)
    at, both = np.concatenate([begin, end]), np.concatenate([inwards, inwards])
    total = np.stack([np.bincount(at, column, count) for column in both.T], axis=1)
    sides = np.maximum(np.bincount(at, minlength=count), 1)
    amount = np.bincount(at, np.tile(inset[tops.border_faces], 2), count) / sides
    mean = total / sides[:, None]
    # Of two units with the mean m the mitre is m / |m|².
    square = np.maximum(np.einsum("ij,ij->i", mean, mean), 0.1)
    return mean / square[:, None] * amount[:, None]
