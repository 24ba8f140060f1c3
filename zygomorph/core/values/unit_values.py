"""The value that says which elements a step takes as units."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.geometry.mesh import SHARD, UNIT, Mesh
from zygomorph.core.values.formula.functions import chance
from zygomorph.core.values.value import Value, choice, number, switch

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

UNEVEN: Value = number(
    0.0,
    "Uneven",
    "By chance each goes up to so much less far.",
    "%",
    (0.0, 100.0),
    hard=(0.0, 1000.0),
    idle=0.0,
)


def uneven_shares(ids: np.ndarray, uneven: float, seed: int) -> np.ndarray:
    """(K,) float32: how far each of these elements goes, from 1 - uneven to 1 by chance."""
    return 1 - np.float32(uneven) * chance(ids, seed)


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
