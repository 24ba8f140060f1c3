"""A skin around meshes, made anew from their distance on a grid, with everything known of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import scipy

from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.joining import joined
from zygomorph.core.geometry.mesh import SHARD, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.solids.following import Broken, places_of
from zygomorph.core.geometry.solids.pieces import shares_in
from zygomorph.core.geometry.solids.solid import fault_of
from zygomorph.core.geometry.splitting import as_shards, parts_between
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.geometry.voxels.field import Field, field_of
from zygomorph.core.geometry.voxels.skin import Grid, Skin

# Cells around a surface in which its distance is exact, so that its level and its slopes are.
AROUND = 2.0
# Bytes of a grid point: its distance, the triangle it is nearest to, and what is made of both.
VOXEL_BYTES = 24
# How often the interval is halved in which the level is that keeps the volume.
HALVINGS = 24


@dataclass(frozen=True, eq=False)
class Skinned(Broken):
    """A structure with the points and normals of the skin as it was found.

    points, normals : (P, 3) float32
    """

    points: np.ndarray = None  # type: ignore[assignment]
    normals: np.ndarray = None  # type: ignore[assignment]

    def carried(self, mesh: Mesh, points: np.ndarray) -> Mesh:
        made = super().carried(mesh, points)
        if points is self.points:
            # Those of the field, as long as nothing moves the points.
            made.__dict__["_normals"] = self.normals
        return made


def grid_around(meshes: Sequence[Mesh], cell: float, margin: float) -> Grid:
    """Raises ZygomorphError where there would be too many cells."""
    points = np.concatenate([mesh.points for mesh in meshes])
    if len(points) == 0:
        raise ZygomorphError("There is nothing to rebuild.", "Choose a piece with a surface.")
    grid = Grid.around(points.min(axis=0), points.max(axis=0), cell, margin)
    within_budget(grid.count, VOXEL_BYTES, hint="Choose larger voxels", unit="voxels")
    return grid


def has_an_inside(mesh: Mesh) -> bool:
    """Whether there is an inside to every side of the surface, whichever way it looks."""
    fault = fault_of(mesh)
    return fault is None or fault.kind in ("inside out", "flat")


def _wall_field(mesh: Mesh, grid: Grid, band: float, wall: float) -> Field:
    """Of an open surface: the distance from a wall of a thickness, half on each side."""
    if wall <= 0:
        raise ZygomorphError(
            "This surface is open, and has no inside.",
            "Give the wall a thickness, or close the surface first.",
        )
    topology = mesh.topology
    found = field_of(mesh.points, topology.drawn_triangles, grid, band + wall / 2, False)
    return Field(found.distance - np.float32(wall / 2), found.nearest)


def distance_of(
    meshes: Sequence[Mesh], grid: Grid, band: float, wall: float, far: bool = False
) -> Field:
    """The distance from meshes together; triangles are numbered as those of all.

    wall : metres, thickness of what is open
    """
    closed = [mesh for mesh in meshes if has_an_inside(mesh)]
    if len(closed) == len(meshes):
        # As one, so that where they touch there is no wall between them.
        whole = joined(meshes)
        return field_of(whole.points, whole.topology.drawn_triangles, grid, band, True, far)
    first, found = 0, None
    for mesh in meshes:
        triangles = mesh.topology.drawn_triangles
        if has_an_inside(mesh):
            own = field_of(mesh.points, triangles, grid, band, True, far)
        else:
            own = _wall_field(mesh, grid, band, wall)
        number = np.where(own.nearest >= 0, own.nearest + first, -1).astype(np.int32)
        if found is None:
            found = Field(own.distance, number)
        else:
            nearer = own.distance < found.distance
            found = Field(
                np.where(nearer, own.distance, found.distance),
                np.where(nearer, number, found.nearest),
            )
        first += len(triangles)
    assert found is not None
    return found


def volume_below(distance: np.ndarray, level: float, cell: float) -> float:
    """m³ where a distance is below a level; a cell that it goes through counts in part."""
    share = np.clip(0.5 - (distance - np.float32(level)) / np.float32(cell), 0, 1)
    return float(share.sum(dtype=np.float64)) * cell**3


def level_of_volume(distance: np.ndarray, volume: float, cell: float, reach: float) -> float:
    """The level, at most so far from 0, below which there is a volume."""
    near = distance[np.abs(distance) < reach + cell]
    deep = np.count_nonzero(distance <= -reach - cell) * cell**3
    low, high = -reach, reach
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if deep + volume_below(near, middle, cell) < volume:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def smoothed(distance: np.ndarray, grid: Grid, radius: float, keep_volume: bool) -> np.ndarray:
    """The distance with what is finer than a radius, metres, rounded off.

    keep_volume : it is grown back to as much as it was
    """
    if radius <= 0:
        return distance
    found = scipy.ndimage.gaussian_filter(
        distance, radius / grid.cell, mode="nearest", truncate=3.0
    )
    if keep_volume:
        volume = volume_below(distance, 0.0, grid.cell)
        found -= np.float32(level_of_volume(found, volume, grid.cell, 2 * radius))
    return np.asarray(found, np.float32)


def hollowed(distance: np.ndarray, wall: float) -> np.ndarray:
    """Of a solid the wall of a thickness below its surface."""
    return np.asarray(np.maximum(distance, -(distance + np.float32(wall))), np.float32)


def skinned(whole: Mesh, skin: Skin, nearest: np.ndarray, followed: bool) -> Skinned:
    """The skin as a change of topology of what it was made from.

    nearest : (X, Y, Z) the triangle of ``whole`` that each grid point takes everything from
    followed : whether its points are to follow those of ``whole``
    """
    topology = whole.topology
    corners = topology.drawn_corners
    triangle = np.maximum(nearest.reshape(-1)[skin.source], 0)
    places = whole.points.astype(np.float64)[topology.corners[corners[triangle]]]
    shares = shares_in(skin.points.astype(np.float64), places)
    count = len(skin.triangles)
    made = Topology(
        len(skin.points),
        skin.triangles.reshape(-1),
        np.arange(0, 3 * count + 1, 3, dtype=np.int32),
    )
    at = made.corners
    new = np.full(count, -1, np.int32)
    point = Origin.anew(topology.corners[corners[triangle]], shares)
    face = Origin.taken(topology.corner_face[corners[triangle[at[::3]], 0]])
    corner = Origin.mixed(corners[triangle[at]], shares[at])
    structure = Broken(
        made,
        {
            "point": point,
            "corner": corner,
            "face": Origin(face.starts, face.parents, continues=new),
        },
    )
    known = whole.get("face", SHARD)
    if known is not None:
        part = parts_between(made, np.zeros(len(made.edges), bool)).astype(np.int32)
        shards = as_shards(structure, part, known[face.parents])
        structure = replace(structure, origins=shards.origins, attributes=shards.attributes)
    everywhere = np.ones(len(skin.points), bool)
    place = point
    if followed:
        place = places_of(whole.points, point, skin.points.astype(np.float64), everywhere)
    return Skinned(
        structure.topology,
        structure.origins,
        structure.attributes,
        place=place,
        points=skin.points,
        normals=skin.normals,
    )
