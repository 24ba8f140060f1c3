"""Spread: faces, shards or copies go apart, each along its own normal, from a centre, or along an
axis."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.elements import Elements, elements_of
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.unit_values import (
    APART,
    UNEVEN,
    UNITS,
    are_cut_apart,
    has_units,
    uneven_shares,
    units_chosen,
    units_suggested,
)
from zygomorph.core.values.value import SEED, choice, direction, number, vector


def _ways(elements: Elements, values: Resolved) -> np.ndarray:
    """(K, 3) the way in which each element goes for every metre of the amount."""
    way = values.discrete("way")
    if way == "normal":
        return elements.normals()
    if way == "axis":
        return np.broadcast_to(unit(values.vector("axis")), (len(elements), 3))
    away = elements.centres - values.vector("centre")
    length = np.linalg.norm(away, axis=1, keepdims=True)
    # What lies at the centre goes nowhere.
    return away / np.maximum(length, 1e-9)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    elements = elements_of(mesh, values.discrete("of"))
    amount = elements.own(values.array("amount")) * elements.own(weights)
    uneven = values.scalar("uneven") / 100
    if uneven:
        amount = amount * uneven_shares(elements.ids(), uneven, values.count("seed"))
    moves = _ways(elements, values) * np.broadcast_to(amount, len(elements))[:, None]
    if elements.domain == "point":
        return mesh.moved((mesh.points + moves).astype(np.float32))
    return mesh.moved(elements.moved(moves=moves))


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return units_suggested(mesh) | ({"amount": found.share(0.06)} if found else {})


DEFINITION = DeformDefinition(
    key="spread",
    title="Spread",
    group=BREAK,
    help="Moves faces, shards or copies apart: along their normals, from a centre, or along an "
    "axis.",
    also=("explode", "offset", "apart", "scatter", "push", "fly"),
    values={
        "amount": number(0.2, "Amount", "How far each goes.", "m", (-1.0, 1.0)),
        "way": choice(
            "normal",
            "Way",
            "The way in which each goes.",
            {
                "normal": "along its own normal",
                "centre": "away from a centre",
                "axis": "along an axis",
            },
        ),
        "centre": vector(
            (0.0, 0.0, 0.0), "Centre", "In the piece.", shown_when=("way", ("centre",))
        ),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "In the piece.", shown_when=("way", ("axis",))),
        "of": UNITS,
        "apart": APART,
        "uneven": UNEVEN,
        "seed": SEED,
    },
    sentence="Spread each {of} by {amount} {way}[, {uneven} unevenly]",
    apply=apply,
    per_element=frozenset({"amount"}),
    acts_per=units_chosen,
    moves_shards=False,
    cuts_apart=are_cut_apart,
    suggest=suggest,
    amounts=("amount",),
    acts_on=has_units,
    grips=(spot("centre"),),
    specimen=Specimen(
        ("icosphere", {"radius": 0.55, "halvings": 2}),
        {"amount": sine(0.0, 0.3), "of": "shards", "uneven": 60.0},
        before=[{"step": "split", "values": {}}],
    ),
    order=20,
)
