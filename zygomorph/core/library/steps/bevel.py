"""Bevel: sharp edges and corners become strips, flat or round."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.beveling import Bevel, bevelled, positions
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.splitting import edges_around, sharp_edges
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import number, text, whole

# Edges at which faces meet at more than this are meant at first.
SHARP = 30.0


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Bevel:
    topology, segments = mesh.topology, values.count("segments")
    cut = sharp_edges(mesh, values.scalar("angle"))
    if chosen is not None:
        mine = np.zeros(len(topology.edges), bool)
        mine[topology.side_edges[chosen[topology.corner_face]]] = True
        cut &= mine & ~edges_around(topology, chosen)
    within_budget(topology.point_count + int(cut.sum()) * 4 * (segments + 1))
    return bevelled(topology, cut, segments, values.discrete("mark").strip())


def apply(
    mesh: Mesh, structure: Bevel, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    return positions(
        mesh, structure.sectors, values.scalar("width"), values.scalar("profile") / 100
    )


def has_sharp_edges(mesh: Mesh) -> bool:
    """Whether the step would do something at its defaults."""
    if mesh.topology.face_count < 2:
        return False
    return bool(sharp_edges(mesh.moved(mesh.rest), SHARP).any())


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"width": found.share(0.04)} if found else {}


DEFINITION = TopologyDefinition(
    key="bevel",
    title="Bevel",
    group=MAKE,
    help="Takes the edge off: a strip along every sharp edge and a patch at every corner. A mask "
    "says on which faces.",
    also=("chamfer", "round", "fillet", "soften", "rim", "edges"),
    values={
        "width": number(
            0.05,
            "Width",
            "From the edge into its faces; no more than fits.",
            "m",
            (0.0, 0.3),
            hard=(0.0, 1e6),
        ),
        "segments": whole(2, "Segments", "Faces across each strip.", (1, 8), hard=(1, 64)),
        "angle": number(
            SHARP,
            "Edges above",
            "Only where faces meet at more than this, in the rest shape.",
            "°",
            (0.0, 120.0),
            hard=(0.0, 180.0),
        ),
        "profile": number(
            50.0,
            "Profile",
            "0 is flat, 50 round, and towards 100 sharp again.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "mark": text(
            "rims", "Mark as", "Later masks find the new faces under this name.", main=False
        ),
    },
    sentence="Bevel edges above {angle} by {width}, {segments} segments",
    structure=structure,
    forgets_smoothing=True,
    changes_with=frozenset({"segments", "angle", "mark", MASK_INPUT}),
    stands=lambda values: "at rest",
    apply=apply,
    suggest=suggest,
    acts_on=has_sharp_edges,
    specimen=Specimen(
        ("box", {"size": [1.0, 1.0, 1.0], "across": 1, "up": 1, "deep": 1}),
        {"width": sine(0.02, 0.4), "segments": 6},
        before=[{"step": "twist", "values": {"angle": 30.0}}],
    ),
    order=60,
)
