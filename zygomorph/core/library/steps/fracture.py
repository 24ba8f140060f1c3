"""Fracture: the solid breaks into shards, the Voronoi cells of places inside it."""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.extrusion import Extrusion
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, SHARD, SMOOTHING, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.repair.crossings import crossing_edges
from zygomorph.core.geometry.smoothing import groups_of
from zygomorph.core.geometry.solids.cells import Cells, jagged, voronoi_cells
from zygomorph.core.geometry.solids.following import Broken
from zygomorph.core.geometry.solids.fracture import INNER, broken
from zygomorph.core.geometry.solids.sites import are_inside, sites_inside
from zygomorph.core.geometry.solids.solid import Solid, fault_of, solid_of
from zygomorph.core.geometry.solids.wall import wall_points, wall_structure
from zygomorph.core.geometry.splitting import as_shards
from zygomorph.core.geometry.structure import unchanged
from zygomorph.core.geometry.surface_search import SurfaceSearch, search_of
from zygomorph.core.kernels.noise.fractal import Pattern, vector_fractal_of
from zygomorph.core.shared.clicked_places import clicked_places
from zygomorph.core.shared.solid_values import piece_beside, stands_by_cut
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import SEED, choice, number, piece, places, switch, vector, whole

MOST_SHARDS = 2000
# A cut rougher than this share of the size of its teeth would fold over itself.
ROUGHEST = 0.125
# Teeth have so many edges along their size.
EDGES_OF_A_TOOTH = 2


@dataclass(frozen=True, eq=False)
class Shards(Broken):
    """wall : of an open surface, how it becomes a wall first
    spacing : metres, how far shards are apart on average
    """

    wall: Extrusion | None = None
    spacing: float = 1.0


def _sites(
    solid: Solid,
    search: SurfaceSearch,
    values: Resolved,
    mask: np.ndarray | None,
    parts: Sequence[Mesh],
) -> np.ndarray:
    """(n, 3) places inside; of those of another piece all that are inside."""
    points = solid.mesh.points
    corners = points.astype(np.float64)[solid.points[solid.chosen]]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    if values.discrete("way") == "clicked":
        at, away = clicked_places(values.discrete("clicked"))
        below = at - values.scalar("below") * away
        chosen = below[are_inside(below, search, normals)]
        mine: np.ndarray = np.unique(chosen, axis=0)
        return mine
    if values.discrete("way") != "piece":
        count = values.count("count")
        # What is broken again breaks at other places: walls that lie in walls would leave films.
        seed = values.count("seed") + 1000 * solid.mesh.count("shard")
        gather = mask if values.discrete("mask_means") == "gather" else None
        if gather is not None and len(gather) != len(points):
            gather = None
        return sites_inside(
            points,
            solid.points[solid.chosen],
            search,
            count,
            values.discrete("way"),
            seed,
            gather,
        )
    others = np.unique(parts[1].points.astype(np.float64), axis=0)
    if len(others) > MOST_SHARDS:
        raise ZygomorphError(
            f"The other piece has {len(others):,} points; there may be {MOST_SHARDS:,} shards.",
            "Reduce the other piece, or choose places inside.",
        )
    inside: np.ndarray = others[are_inside(others, search, normals)]
    return inside


def _cells(sites: np.ndarray, points: np.ndarray, values: Resolved) -> Cells:
    low, high = (f(points, axis=0).astype(np.float64) for f in (np.min, np.max))
    cells = voronoi_cells(sites, low, high)
    size = values.scalar("tooth")
    rough = min(values.scalar("jagged"), ROUGHEST * size)
    if rough <= 0:
        return cells
    pattern = Pattern(
        noise="gradient",
        size=np.array([size]),
        octaves=np.full(1, 2.0),
        seed=values.count("seed") + 1,
    )

    def move(places: np.ndarray) -> np.ndarray:
        return places + rough * vector_fractal_of(places.astype(np.float32), pattern)

    around = rough + size
    return jagged(cells, move, size / EDGES_OF_A_TOOTH, low - around, high + around)


def structure(
    mesh: Mesh, values: Resolved, mask: np.ndarray | None, parts: Sequence[Mesh]
) -> Shards:
    own, wall = parts[0], None
    thickness = values.scalar("wall")
    fault = fault_of(own)
    if fault is not None and fault.kind == "open" and thickness > 0:
        wall = wall_structure(own)
        own = wall.carried(own, wall_points(own, wall, thickness))
    elif fault is None and (crossed := len(crossing_edges(own))):
        raise ZygomorphError(
            f"This piece goes through itself at {crossed:,} {'edge' if crossed == 1 else 'edges'}.",
            "Rebuild it through voxels first: then it has one clear inside.",
        )
    part = None
    if mask is not None and values.discrete("mask_means") == "parts":
        shard = own.get("face", SHARD)
        if shard is None:
            raise ZygomorphError(
                "There are no shards of which the mask could mean some.",
                "Break or split it once before, or let the mask say where cells gather.",
            )
        part = mask[shard]
        if not part.any():
            return _whole(own, wall)
    solid = solid_of(own, part=part)
    search = search_of(own.points, solid.points[solid.chosen])
    if wall is not None and mask is not None and len(mask) > 1:
        mask = wall.origins["point"].carry(mask)
    sites = _sites(solid, search, values, mask, parts)
    if len(sites) < 2:
        return _whole(own, wall)
    made = broken(solid, _cells(sites, own.points, values), search, values.discrete("islands"))
    within_budget(made.topology.point_count)
    volume = max(abs(solid.manifold.volume()), 1e-30)
    spacing = float(np.cbrt(volume / len(sites)))
    return _shards(made, wall, spacing)


def _whole(mesh: Mesh, wall: Extrusion | None) -> Shards:
    """Nothing is broken: the shards that there were, or all is one."""
    made = unchanged(mesh.topology)
    # So that a count that is keyed changes the shards, and not what is known of them.
    made = replace(made, attributes={"face": {SMOOTHING: groups_of(mesh)}})
    if mesh.get("face", SHARD) is None:
        made = as_shards(made, np.zeros(mesh.topology.face_count, np.int32))
    known = mesh.get("face", SHARD)
    shard = np.zeros(mesh.topology.face_count, np.int32) if known is None else known
    of_point = np.zeros(len(mesh.points), np.int32)
    of_point[mesh.topology.corners] = shard[mesh.topology.corner_face]
    place = Origin.taken(np.arange(len(mesh.points)))
    return _shards(
        Broken(made.topology, made.origins, made.attributes, place=place, shard_of_point=of_point),
        wall,
        1.0,
    )


def _shards(made: Broken, wall: Extrusion | None, spacing: float) -> Shards:
    whole = made if wall is None else made.after(wall)
    return Shards(
        whole.topology,
        whole.origins,
        whole.attributes,
        place=made.place,
        shard_of_point=made.shard_of_point,
        wall=wall,
        spacing=spacing,
    )


def apply(
    mesh: Mesh, structure: Shards, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    surface = mesh.points
    if structure.wall is not None:
        surface = wall_points(mesh, structure.wall, values.scalar("wall"))
    points = structure.place.carry(surface)
    gap = values.scalar("gap") / structure.spacing
    if gap == 0 or len(points) == 0:
        return points
    shard = structure.shard_of_point
    members = np.maximum(np.bincount(shard), 1)
    centres = np.stack([np.bincount(shard, axis) / members for axis in points.T], axis=1)
    moves = (centres - values.vector("centre")) * gap
    return np.ascontiguousarray(points + moves[shard], np.float32)


def _acts_per(discrete: Mapping[str, Any]) -> str:
    return "points" if discrete["mask_means"] == "gather" else "shards"


def beside(values: Resolved, context: Context) -> tuple[tuple[Mesh, ...], Hashable]:
    return piece_beside(values, context) if values.discrete("way") == "piece" else ((), None)


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    if found is None:
        return {}
    fault = fault_of(mesh)
    is_open = fault is not None and fault.kind == "open"
    return {
        "gap": found.share(0.015),
        "centre": found.middle,
        "tooth": found.share(0.1),
        "below": found.share(0.12),
        "wall": found.share(0.03) if is_open else 0.0,
    }


DEFINITION = TopologyDefinition(
    key="fracture",
    title="Fracture",
    group=BREAK,
    help="Breaks a solid into closed shards that later steps move alone; what was inside is stored "
    "as the mask “inner”. Break chosen shards again to chip them.",
    also=("shatter", "voronoi", "break", "crack", "shards", "destroy", "chips", "explode"),
    values={
        "count": whole(
            24,
            "Shards",
            "Places from which it breaks; parts that do not hang together add more.",
            (2, 400),
            hard=(1, MOST_SHARDS),
            scale="log",
            draft=True,
            tested_to=60,
            shown_when=("way", ("even", "random")),
        ),
        "way": choice(
            "even",
            "Places",
            "Where the shards are.",
            {
                "even": "evenly inside",
                "random": "by chance inside",
                "piece": "at the points of a piece",
                "clicked": "where you click",
            },
        ),
        "clicked": places(
            "Clicked",
            "Places on the surface, at rest; each makes a shard.",
            shown_when=("way", ("clicked",)),
        ),
        "below": number(
            0.1,
            "Below",
            "How far inside what was clicked the shard has its middle.",
            "m",
            (0.0, 0.5),
            hard=(0.0, 1e6),
            shown_when=("way", ("clicked",)),
        ),
        "piece": piece(
            "At", "The piece whose points are the places.", shown_when=("way", ("piece",))
        ),
        "gap": number(
            0.02,
            "Gap",
            "How far neighbours move apart, away from the centre.",
            "m",
            (0.0, 0.3),
            hard=(-1e6, 1e6),
            idle=0.0,
        ),
        "centre": vector((0.0, 0.0, 0.0), "Centre", "Of the gap, in the piece."),
        "jagged": number(
            0.0,
            "Jagged",
            "How rough the cuts are, at most an eighth of the size of their teeth.",
            "m",
            (0.0, 0.05),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
        "tooth": number(
            0.1, "Teeth", "Their size.", "m", (0.02, 1.0), scale="log", hard=(1e-3, 1e6), main=False
        ),
        "mask_means": choice(
            "gather",
            "Mask",
            "What the mask of this step says.",
            {"gather": "where shards gather", "parts": "which shards break"},
            main=False,
        ),
        "cut": choice(
            "rest",
            "Cut",
            "Once, as it is at rest, so that shards bend with the surface; or as it is at every "
            "frame.",
            {"rest": "at rest, and follow", "now": "anew at every frame"},
            main=False,
        ),
        "islands": switch(
            True,
            "Islands",
            "Parts of one cell that do not hang together are shards of their own.",
            main=False,
        ),
        "wall": number(
            0.0,
            "Wall",
            "An open surface is broken as a wall of this thickness; 0 refuses it.",
            "m",
            (0.0, 0.2),
            hard=(0.0, 1e6),
            idle=0.0,
            main=False,
        ),
        "seed": SEED,
    },
    sentence="Fracture[ into {count} shards] {way}[, {gap} apart][, cuts {jagged} rough]",
    structure=structure,
    changes_with=frozenset(
        {
            "count",
            "way",
            "piece",
            "clicked",
            "below",
            "jagged",
            "tooth",
            "mask_means",
            "cut",
            "islands",
            "wall",
            "seed",
            MASK_INPUT,
        }
    ),
    exact_mask=lambda discrete: discrete["mask_means"] == "gather",
    acts_per=_acts_per,
    stands=stands_by_cut,
    reads=(
        ("face", SHARD),
        ("face", MASK + INNER),
        ("face", SMOOTHING),
        ("shard", ELEMENT_ID),
    ),
    beside=beside,
    apply=apply,
    suggest=suggest,
    handle="places",
    grips=(spot("centre"),),
    needs_inside=lambda values: {"": values.scalar("wall") > 0},
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 4}),
        {"count": 24, "gap": sine(0.0, 0.14)},
        after=[{"step": "shade", "values": {"way": "angle", "angle": 40.0}}],
    ),
    order=30,
)
