"""Split faces: the surface falls into parts that can then move alone; nothing has moved yet."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.mesh import SHARD, Mesh
from zygomorph.core.geometry.splitting import (
    as_shards,
    cut_apart,
    edges_around,
    parts_between,
    sharp_edges,
)
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    topology, way = mesh.topology, values.discrete("way")
    within_budget(len(topology.corners))
    border = np.zeros(len(topology.edges), bool)
    if chosen is not None:
        border = edges_around(topology, chosen)
    if way == "border":
        cut = border
    else:
        cut = sharp_edges(mesh, values.scalar("angle")) if way == "sharp" else ~border
        cut |= border
        if chosen is not None:
            inside = np.zeros(len(topology.edges), bool)
            inside[topology.side_edges[chosen[topology.corner_face]]] = True
            cut &= inside
    # What is a shard already stays apart from others.
    known = mesh.get("face", SHARD)
    part = parts_between(topology, cut)
    if known is not None:
        _, part = np.unique(np.stack([known, part]), axis=1, return_inverse=True)
    return as_shards(cut_apart(topology, cut), part.reshape(-1).astype(np.int32), known)


DEFINITION = TopologyDefinition(
    key="split",
    title="Split faces",
    group=BREAK,
    help="Cuts the surface into parts, each a shard that later steps can move alone; nothing moves "
    "yet. A mask says which faces come apart.",
    also=("separate", "detach", "break", "shards", "facets", "unweld"),
    values={
        "way": choice(
            "every",
            "Cut",
            "Where the surface is cut.",
            {
                "every": "round every face",
                "sharp": "along sharp edges",
                "border": "along the border of the mask",
            },
        ),
        "angle": number(
            30.0,
            "Sharper than",
            "Between the directions in which two faces look, in the rest shape.",
            "°",
            (0.0, 120.0),
            hard=(0.0, 180.0),
            shown_when=("way", ("sharp",)),
        ),
    },
    sentence="Split faces {way}[ of more than {angle}]",
    structure=structure,
    changes_with=frozenset({"way", "angle", MASK_INPUT}),
    stands=lambda values: "at rest" if values.discrete("way") == "sharp" else "anywhere",
    reads=(("face", SHARD),),
    prepares=True,
    edges=lambda discrete: "opens",
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 2}),
        {"way": "every"},
        after=[{"step": "spread", "values": {"amount": sine(0.0, 0.16), "of": "shards"}}],
    ),
    order=10,
)
