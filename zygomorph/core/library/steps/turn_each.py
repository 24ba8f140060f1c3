"""Scale and turn each: every face, shard or copy about its own centre."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.unit_values import (
    APART,
    UNITS,
    are_cut_apart,
    has_units,
    units_chosen,
    units_suggested,
)
from zygomorph.core.values.value import choice, direction, number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    elements = elements_of(mesh, values.discrete("of"))
    if elements.domain == "point":
        # A point has neither a size nor a side.
        return mesh
    share = elements.own(weights)
    sizes = 1 + share * (elements.own(values.array("size")) / np.float32(100) - 1)
    angles = share * np.radians(elements.own(values.array("turn")))
    axes = None
    if values.discrete("about") == "axis":
        axes = np.broadcast_to(unit(values.vector("axis")), (len(elements), 3))
    return mesh.moved(elements.moved(sizes, angles, axes))


def suggest(mesh: Mesh) -> dict[str, Any]:
    return units_suggested(mesh)


DEFINITION = DeformDefinition(
    key="turn_each",
    title="Scale and turn each",
    group=BREAK,
    help="Sizes and turns every face, shard or copy about its own centre, where the mask says; "
    "from size 0 it appears.",
    also=("shrink", "grow", "pop", "rotate", "size", "flip", "appear", "vanish"),
    values={
        "size": number(
            50.0,
            "Size",
            "Against what it was; at 0 nothing is left of it.",
            "%",
            (0.0, 200.0),
            hard=(-1000.0, 1000.0),
        ),
        "turn": number(
            0.0, "Turn", "About its own centre.", "°", (-180.0, 180.0), idle=0.0, period=360.0
        ),
        "about": choice(
            "normal",
            "About",
            "What each turns about.",
            {"normal": "its own normal", "axis": "an axis"},
        ),
        "axis": direction(
            (1.0, 0.0, 0.0), "Axis", "In the piece.", shown_when=("about", ("axis",))
        ),
        "of": UNITS,
        "apart": APART,
    },
    sentence="Scale each {of} to {size}[, turned {turn} about {about}]",
    apply=apply,
    per_element=frozenset({"size", "turn"}),
    acts_per=units_chosen,
    moves_shards=False,
    cuts_apart=are_cut_apart,
    resizes=lambda discrete: True,
    suggest=suggest,
    acts_on=has_units,
    specimen=Specimen(
        ("icosphere", {"radius": 0.66, "halvings": 3}),
        {"size": sine(10.0, 95.0), "turn": sine(0.0, 120.0), "of": "shards"},
        before=[{"step": "split", "values": {}}],
    ),
    order=30,
)
