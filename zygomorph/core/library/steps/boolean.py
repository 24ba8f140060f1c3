"""Boolean: a solid cut with another piece, or both as one; both may move."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, SHARD, SMOOTHING, Mesh
from zygomorph.core.geometry.solids.boolean import CUT, cut
from zygomorph.core.geometry.solids.following import Broken
from zygomorph.core.shared.solid_values import piece_beside, stands_by_cut
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, piece


def structure(
    mesh: Mesh, values: Resolved, mask: np.ndarray | None, parts: Sequence[Mesh]
) -> Broken:
    chosen = None
    if mask is not None:
        shard = parts[0].get("face", SHARD)
        if shard is None:
            raise ZygomorphError(
                "There are no shards of which the mask could mean some.",
                "Break or split the mesh before, or take the mask away.",
            )
        chosen = mask[shard]
    return cut(
        mesh,
        parts,
        ("This piece", "The other piece"),
        values.discrete("keep"),
        values.scalar("band"),
        chosen,
        followed=values.discrete("cut") == "rest",
    )


def apply(
    mesh: Mesh, structure: Broken, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    return structure.place.carry(mesh.points)


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"band": found.share(0.05)} if found else {}


DEFINITION = TopologyDefinition(
    key="boolean",
    title="Boolean",
    group=JOIN,
    help="Keeps what lies outside or inside of another piece, or joins both. Faces that the cut "
    "makes are stored as the mask “cut”, what lies near it as “band”. An open surface is cut as a "
    "surface.",
    also=("cut", "subtract", "intersect", "union", "csg", "carve", "difference", "trim", "merge"),
    values={
        "piece": piece("With", "The piece that it is cut with: closed."),
        "keep": choice(
            "outside",
            "Keep",
            "What is left.",
            {"outside": "what lies outside", "inside": "what lies inside", "join": "both, as one"},
        ),
        "band": number(
            0.05,
            "Band",
            "How far from the cut the stored mask “band” reaches.",
            "m",
            (0.0, 0.5),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
        "cut": choice(
            "now",
            "Cut",
            "As both are at every frame; or in the rest shape of this one, so that the cut bends "
            "with it.",
            {"now": "anew at every frame", "rest": "at rest, and follow"},
            main=False,
        ),
    },
    sentence="Boolean with {piece}: keep {keep}",
    structure=structure,
    changes_with=frozenset({"piece", "keep", "band", "cut", MASK_INPUT}),
    acts_per=lambda discrete: "shards",
    stands=stands_by_cut,
    reads=(
        ("face", SHARD),
        ("face", MASK + CUT),
        ("face", SMOOTHING),
        ("shard", ELEMENT_ID),
    ),
    beside=piece_beside,
    takes_in=True,
    apply=apply,
    suggest=suggest,
    needs_inside=lambda values: {"": values.discrete("keep") != "join", "piece": False},
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 4}),
        {"piece": "o", "keep": "outside"},
        before=[{"step": "place", "values": {"move": [-0.2, sine(-0.4, 0.1), -0.4]}}],
        after=[{"step": "shade", "values": {"way": "angle", "angle": 40.0}}],
        other=("box", {"size": [0.7, 0.7, 0.7]}),
    ),
    order=30,
)
