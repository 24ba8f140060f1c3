"""Remove: what the mask means is taken away, element by element or exactly along its contour."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import ELEMENT_ID, SHARD, Mesh
from zygomorph.core.geometry.removal import cut_along, without
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.formula.functions import chance
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import SEED, choice, number


def _acts_per(discrete: Mapping[str, Any]) -> str:
    return str(discrete["of"]) if discrete["way"] == "whole" else "points"


def _meant(mesh: Mesh, values: Resolved, mask: np.ndarray | None, domain: str) -> np.ndarray:
    """(n,) bool, elements that go: of those that the mask means, a share by chance."""
    count = mesh.count(domain)
    meant = np.ones(count, bool) if mask is None else mask
    share = values.scalar("share") / 100
    if share < 1:
        ids = np.arange(count) if domain == "curve" else mesh.ids(domain)
        meant = meant & (chance(ids, values.count("seed")) < share)
    return meant


def structure(mesh: Mesh, values: Resolved, mask: np.ndarray | None) -> Structure:
    topology = mesh.topology
    if values.discrete("way") == "contour":
        weights = np.ones(1, np.float32) if mask is None else mask
        full = np.ascontiguousarray(np.broadcast_to(weights, topology.point_count))
        return cut_along(topology, full, values.scalar("level") / 100)
    of = values.discrete("of")
    nothing = np.zeros(topology.face_count, bool)
    if of == "points":
        return without(topology, nothing, points=_meant(mesh, values, mask, "point"))
    if of == "curves":
        return without(topology, nothing, curves=_meant(mesh, values, mask, "curve"))
    if of == "faces":
        return without(topology, _meant(mesh, values, mask, "face"))
    shard = mesh.get("face", SHARD)
    if shard is None:
        raise ZygomorphError("There are no shards here.", "Choose faces, or split them first.")
    return without(topology, _meant(mesh, values, mask, "shard")[shard])


def suggest(mesh: Mesh) -> dict[str, Any]:
    """By chance at first, so that something is left before there is a mask."""
    of = "faces" if mesh.topology.face_count else "points"
    if mesh.topology.curve_count and not mesh.topology.face_count:
        of = "curves"
    if mesh.get("face", SHARD) is not None:
        of = "shards"
    return {"share": 40.0, "of": of}


DEFINITION = TopologyDefinition(
    key="remove",
    title="Remove",
    group=BREAK,
    help="Takes away what the mask means: whole elements, or exactly along its contour.",
    also=("delete", "cut", "erase", "dissolve", "reveal", "hide", "holes", "contour", "crop"),
    values={
        "way": choice(
            "whole",
            "Cut",
            "Whole elements of which the mask takes at least half, or the surface along a contour.",
            {"whole": "whole elements", "contour": "along the contour of the mask"},
        ),
        "of": choice(
            "faces",
            "Of",
            "What is taken away as one.",
            {"faces": "faces", "shards": "shards", "points": "points", "curves": "curves"},
            shown_when=("way", ("whole",)),
        ),
        "share": number(
            100.0,
            "Share",
            "How many of them, chosen by chance.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            idle=100.0,
            shown_when=("way", ("whole",)),
        ),
        "level": number(
            50.0,
            "Level",
            "The contour is where the mask has this weight.",
            "%",
            (1.0, 99.0),
            hard=(0.01, 100.0),
            shown_when=("way", ("contour",)),
        ),
        "seed": SEED,
    },
    sentence="Remove {of}[, {share} of them][, below weight {level}]",
    structure=structure,
    changes_with=frozenset({"way", "of", "share", "level", "seed", MASK_INPUT}),
    reads=(("face", SHARD), ("face", ELEMENT_ID), ("point", ELEMENT_ID), ("shard", ELEMENT_ID)),
    exact_mask=lambda discrete: discrete["way"] == "contour",
    acts_per=_acts_per,
    suggest=suggest,
    acts_on=lambda mesh: len(mesh.points) > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.68, "halvings": 4}),
        {"way": "whole", "share": saw(0.0, 100.0)},
    ),
    order=60,
)
