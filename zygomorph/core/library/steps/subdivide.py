"""Subdivide: every face becomes several, in its plane or rounded."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.splitting import sharp_edges
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.subdivision import edges_at, points_after, subdivided
from zygomorph.core.geometry.triangulation import triangulated
from zygomorph.core.values.definitions import MASK_INPUT, Stands, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import choice, number, whole

# Faces never meet at more than this.
NO_CREASE = 180.0


def _stands(values: Resolved) -> Stands:
    round_ = values.discrete("way") == "plain" or values.scalar("crease") >= NO_CREASE
    return "anywhere" if round_ else "at rest"


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    topology = mesh.topology
    if topology.face_count == 0:
        raise ZygomorphError("There are no faces here.", "Curves and loose points have none.")
    levels, way = values.count("levels"), values.discrete("way")
    faces = np.ones(topology.face_count, bool) if chosen is None else chosen
    if levels:
        # Each level after the first has about four times as many points.
        within_budget(points_after(topology, faces, way == "smooth") * 4 ** (levels - 1))
    creases = None
    if way != "plain" and values.scalar("crease") < NO_CREASE:
        creases = sharp_edges(mesh, values.scalar("crease"))
    if way != "loop":
        return subdivided(topology, levels, way, faces, creases)
    first = triangulated(topology, faces)
    chosen_triangles = faces[first.origins["face"].parents]
    sharp = None
    if creases is not None:
        # Edges of polygons are edges of their triangles.
        sharp = edges_at(first.topology, topology.edges[creases])
    return subdivided(first.topology, levels, "loop", chosen_triangles, sharp).after(first)


DEFINITION = TopologyDefinition(
    key="subdivide",
    title="Subdivide",
    group=MAKE,
    help="Makes several faces of each; a mask says of which.",
    also=("refine", "divide", "tessellate", "catmull", "clark", "smooth", "resolution"),
    values={
        "way": choice(
            "smooth",
            "Way",
            "Round the surface, as quads (Catmull–Clark) or triangles (Loop), or keep its shape.",
            {
                "smooth": "rounded",
                "loop": "rounded, in triangles",
                "plain": "in the same shape",
            },
        ),
        "levels": whole(
            1,
            "Levels",
            "Each makes four faces of every quad.",
            (0, 4),
            hard=(0, 8),
            draft=True,
            begins=(1, 2),
            tested_to=3,
        ),
        "crease": number(
            NO_CREASE,
            "Creases above",
            "Edges at which faces meet at more than this stay sharp, in the rest shape; at 180 "
            "none does.",
            "°",
            (0.0, 180.0),
            hard=(0.0, NO_CREASE),
            idle=NO_CREASE,
            shown_when=("way", ("smooth", "loop")),
        ),
    },
    sentence="Subdivide {levels} times, {way}[, sharp above {crease}]",
    structure=structure,
    changes_with=frozenset({"way", "levels", "crease", MASK_INPUT}),
    stands=_stands,
    edges=lambda discrete: "" if discrete["way"] == "plain" else "rounds",
    version=2,
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("box", {"size": [0.9, 0.9, 0.9], "across": 1, "up": 1, "deep": 1}),
        {"levels": {"signal": "cycle", "shape": "triangle", "low": 0, "high": 3}},
        before=[{"step": "twist", "values": {"angle": 40.0}}],
    ),
    order=62,
)
