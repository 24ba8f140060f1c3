"""The value that says which elements a step takes as units."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zygomorph.core.geometry.mesh import SHARD, UNIT, Mesh
from zygomorph.core.values.value import Value, choice, switch

UNITS: Value = choice(
    "faces",
    "Each",
    "What is taken as one; its mask and its values are those of each.",
    {"faces": "face", "shards": "shard", "copies": "copy"},
)


APART: Value = switch(
    True,
    "Cut apart",
    "Faces that share points get points of their own, where the mask is; otherwise they pull each "
    "other.",
    shown_when=("of", ("faces",)),
    main=False,
)


def are_cut_apart(discrete: Mapping[str, Any]) -> bool:
    return discrete["of"] == "faces" and bool(discrete["apart"])


def units_chosen(discrete: Mapping[str, Any]) -> str:
    """What a step with ``of`` among its values acts on."""
    return str(discrete["of"])


def units_suggested(mesh: Mesh) -> dict[str, Any]:
    """Shards where there are some."""
    return {"of": "shards"} if mesh.get("face", SHARD) is not None else {}


def has_units(mesh: Mesh) -> bool:
    return mesh.topology.face_count > 0 or mesh.get("point", UNIT) is not None
