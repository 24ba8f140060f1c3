"""A solid broken along the walls of cells, each part a closed shard."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import manifold3d
import numpy as np

from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.mesh import MASK, SHARD, SMOOTHING
from zygomorph.core.geometry.smoothing import groups_of
from zygomorph.core.geometry.solids.cells import Cells
from zygomorph.core.geometry.solids.following import Broken, places_of
from zygomorph.core.geometry.solids.pieces import (
    Faces,
    Located,
    Pieces,
    Sources,
    collected,
    faces_of,
    in_old_order,
    islands,
    located,
    one_more,
    shares_in,
    structure_of_pieces,
)
from zygomorph.core.geometry.solids.solid import Solid, as_they_were, manifold_of, parts_of
from zygomorph.core.geometry.splitting import as_shards
from zygomorph.core.geometry.surface_search import SurfaceSearch
from zygomorph.core.progress import share_is_done

# Stored mask of the faces that were inside before.
INNER = "inner"
# Of all the work, what cutting takes.
CUTTING = 0.8
# A solid of more triangles is first cut into parts by boxes around its cells, if these are not few.
# Cutting out a cell takes 2 ms with up to ten thousand triangles and 3.4 ms with twenty thousand.
MOST_TRIANGLES = 10_000
FEW_CELLS = 16
# Boxes reach so much farther than what is cut out of them, as a share of the size.
MARGIN = 1e-2


def _box(low: np.ndarray, high: np.ndarray) -> manifold3d.Manifold:
    return manifold3d.Manifold.cube(tuple((high - low).tolist())).translate(tuple(low.tolist()))


def _cut_out(
    solid: manifold3d.Manifold,
    boxes: np.ndarray,
    originals: Sequence[manifold3d.Manifold],
    chosen: np.ndarray,
    margin: float,
) -> Iterator[tuple[int, manifold3d.Manifold]]:
    """What of the solid lies in each of the chosen cells, with the number of the cell.

    Of a large solid a part is cut out first with a box around some of the cells, so that not all of
    it is looked at for each.
    """
    if len(chosen) <= FEW_CELLS or solid.num_tri() <= MOST_TRIANGLES:
        for cell in chosen.tolist():
            go_on()
            made = solid ^ originals[cell]
            if made.num_tri():
                yield cell, made
        return
    middles = boxes[chosen].mean(axis=1)
    axis = int(np.ptp(middles, axis=0).argmax())
    order = chosen[np.argsort(middles[:, axis], kind="stable")]
    for half in np.array_split(order, 2):
        low, high = boxes[half, 0].min(axis=0) - margin, boxes[half, 1].max(axis=0) + margin
        part = solid
        if (low < high).all():
            part = solid ^ _box(low, high)
            # The library works only when it is asked: here, and not once again for each cell.
            part.num_tri()
        yield from _cut_out(part, boxes, originals, half, margin)


def _results(solid: Solid, cells: Cells) -> tuple[list[manifold3d.Manifold], dict[int, int]]:
    """Parts of the solid in the order of cells; and of all originals the first triangle among all
    sources."""
    order, starts = cells.by_cell()
    surfaces = [cells.surface(cell, order, starts) for cell in range(cells.count)]
    of_wall = [np.divmod(order[starts[c] : starts[c + 1]], 2)[0] for c in range(cells.count)]
    solids = [
        manifold_of(points, triangles, number)
        for (points, triangles), number in zip(surfaces, of_wall, strict=True)
    ]
    manifolds = [manifold for manifold, _ in solids]
    margin = MARGIN * float(np.ptp(solid.mesh.points, axis=0).max())
    found: dict[tuple[int, int], manifold3d.Manifold] = {}
    lows, highs = cells.boxes[:, 0] - margin, cells.boxes[:, 1] + margin
    parts = parts_of(solid)
    for number, (part, _) in enumerate(parts):
        bounds = np.array(part.bounding_box()).reshape(2, 3)
        near = np.flatnonzero(((lows <= bounds[1]) & (highs >= bounds[0])).all(axis=1))
        for done, (cell, made) in enumerate(_cut_out(part, cells.boxes, manifolds, near, margin)):
            found[cell, number] = made
            share_is_done(CUTTING * (number + (done + 1) / len(near)) / len(parts))
    first = dict.fromkeys((original for _, original in parts), 0)
    walls = dict.fromkeys((original for _, original in solids), len(solid.triangles))
    return [found[key] for key in sorted(found)], first | walls


def _sources(solid: Solid, cells: Cells) -> Sources:
    """Triangles of the mesh, and after them those of the walls, which are of no mesh."""
    walls = len(cells.triangles)
    none = np.full((walls, 3), -1)
    return Sources(
        np.concatenate(
            [solid.mesh.points.astype(np.float64)[solid.points], cells.points[cells.triangles]]
        ),
        np.concatenate([solid.triangles, none]),
        np.concatenate([solid.points, none]),
        np.concatenate([solid.faces, none[:, 0]]),
        np.repeat([0, 1], [len(solid.triangles), walls]),
    )


def on_the_surface(
    pieces: Pieces, where: Located, first_wall: int, search: SurfaceSearch
) -> tuple[Located, np.ndarray]:
    """Of every corner of a wall a triangle of the mesh that it takes attributes from: its own where
    it lies on the surface, else the nearest. And (P,) bool: the points inside.

    search : over the triangles of the mesh, in their order
    """
    source, shares, exact = where.source.copy(), where.shares.copy(), where.exact.copy()
    at = pieces.triangles.reshape(-1)
    inside = source[where.chosen] >= first_wall
    walls = np.flatnonzero(source >= first_wall)
    rim = walls[~inside[at[walls]]]
    same = where.chosen[at[rim]]
    source[rim], shares[rim], exact[rim] = source[same], shares[same], exact[same]
    deep = walls[inside[at[walls]]]
    points = np.flatnonzero(inside)
    found, _, face = search.nearest(pieces.points[points])
    corners = search.corners.reshape(-1, 3, 3)[np.argsort(search.order)]
    number = np.zeros(len(pieces.points), np.int64)
    number[points] = np.arange(len(points))
    near = shares_in(found, corners[face])
    source[deep] = face[number[at[deep]]]
    shares[deep] = near[number[at[deep]]]
    exact[deep] = -1
    return replace(where, source=source, shares=shares, exact=exact), inside


def _shards(
    pieces: Pieces,
    faces: Faces,
    face: np.ndarray,
    first_wall: int,
    known: np.ndarray | None,
    apart: bool,
) -> tuple[np.ndarray, np.ndarray | None]:
    """The shard of each new face, (F,) int32, in the order of cells and then of islands; and the
    old shard that each face is of, which is one for a whole island.

    face : (F,) old faces, of which known are the shards
    """
    island = islands(pieces)[pieces.triangles[faces.corners[faces.starts[:-1]] // 3, 0]]
    # One number for all that makes a shard, which sorts as its columns do.
    key = faces.piece.astype(np.int64)
    if known is not None:
        # That of any face that was there before; walls have theirs from what is nearest only.
        outer = faces.source < first_wall
        of_island = np.zeros(len(pieces.points), known.dtype)
        of_island[island[::-1]] = known[face][::-1]
        of_island[island[outer]] = known[face[outer]]
        known = of_island[island]
        key = key * (int(known.max(initial=0)) + 1) + known
    if apart:
        key = key * (int(island.max(initial=0)) + 1) + island
    _, shard = np.unique(key, return_inverse=True)
    return shard.reshape(-1).astype(np.int32), known


def _smoothing(groups: np.ndarray, cells: Cells, of_wall: np.ndarray) -> np.ndarray:
    """(F,) int32 smoothing groups: one for each wall between two cells, after those there were.

    groups : (F,) of the old faces; of_wall : (F,) the triangle of a wall that each is of, or < 0
    """
    pairs = np.sort(cells.sides, axis=1)
    _, wall = np.unique(pairs, axis=0, return_inverse=True)
    own = wall.reshape(-1)[np.maximum(of_wall, 0)] + 1 + groups.max(initial=0)
    found: np.ndarray = np.where(of_wall < 0, groups, own).astype(np.int32)
    return found


def broken(solid: Solid, cells: Cells, search: SurfaceSearch, apart: bool) -> Broken:
    """The solid broken along the walls of cells.

    search : over the triangles of the mesh
    apart : parts of one cell that do not hang together are shards of their own
    """
    mesh = solid.mesh
    first_wall = len(solid.triangles)
    pieces = collected(*_results(solid, cells))
    rest = as_they_were(solid)
    if rest is not None:
        pieces = one_more(pieces, rest)
    sources = _sources(solid, cells)
    pieces, where = in_old_order(pieces, located(pieces, sources), sources)
    where, inside = on_the_surface(pieces, where, first_wall, search)
    faces = faces_of(pieces, sources, where, mesh.topology)
    made = structure_of_pieces(pieces, sources, where, faces)
    old_face = made.origins["face"].parents
    inner = (faces.source >= first_wall).astype(np.float32)
    before = mesh.get("face", MASK + INNER)
    if before is not None:
        inner = np.maximum(inner, before[old_face])
    shard, known = _shards(pieces, faces, old_face, first_wall, mesh.get("face", SHARD), apart)
    groups = _smoothing(groups_of(mesh)[old_face], cells, faces.source - first_wall)
    own = {MASK + INNER: inner, SMOOTHING: groups}
    made = as_shards(replace(made, attributes={"face": own}), shard, known)
    of_point = np.zeros(len(pieces.points), np.int32)
    of_point[made.topology.corners] = shard[made.topology.corner_face]
    return Broken(
        made.topology,
        made.origins,
        made.attributes,
        place=places_of(mesh.points, made.origins["point"], pieces.points, inside),
        shard_of_point=of_point,
    )
