"""Copies at places that are clicked on the stage."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.placements import Places
from zygomorph.core.shared.clicked_places import clicked_places
from zygomorph.core.shared.copy_places import placed, upright
from zygomorph.core.values.copy_values import UNEVEN_VALUES
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import number, places, switch

# Of the places in its picture, away from the middle of a ball.
WAYS = (
    (0.88, 0.3, 0.37),
    (0.28, 0.64, 0.71),
    (-0.32, 0.1, 0.94),
    (0.16, -0.39, 0.91),
    (-0.71, 0.56, 0.43),
)


def _on_ball(way: tuple[float, float, float]) -> dict[str, Any]:
    return {"at": [0.55 * part for part in way], "normal": list(way)}


def apply(geometry: Geometry, values: Resolved, context: Context) -> Places:
    at, normals = clicked_places(values.discrete("clicked"))
    # Before anything is clicked there is what is to be copied, once, where it is.
    if len(at) == 0:
        return Places(np.eye(3, 4)[None])
    ids = np.arange(len(at))
    aligned = values.discrete("aligned")
    linear = upright(normals, np.tile([1.0, 0.0, 0.0], (len(at), 1))) if aligned else None
    where = at + normals * values.scalar("offset")
    return Places(placed(where, linear, ids, values), ids)


def suggest(mesh: Mesh) -> dict[str, Any]:
    return {}


DEFINITION = CopiesDefinition(
    key="where_clicked",
    title="Copies where you click",
    group=REPEAT,
    help="A copy at each place that you click on other pieces; drag a place to move it.",
    also=("place by hand", "instances", "stamp", "put", "plant", "scatter"),
    values={
        "clicked": places("Clicked", "Places on other pieces."),
        "aligned": switch(True, "Aligned", "Their y axis points away from the surface."),
        "offset": number(0.0, "Offset", "From the surface.", "m", (-0.5, 0.5), idle=0.0),
        **UNEVEN_VALUES,
    },
    sentence="Copies where you click[, {offset} above][, sizes from {smallest}]",
    apply=apply,
    suggest=suggest,
    handle="places",
    begins_empty=True,
    acts_on=lambda mesh: len(mesh.points) > 0,
    specimen=Specimen(
        (
            "cone",
            {"bottom": 0.05, "top": 0.0, "height": 0.3, "around": 8, "rows": 1, "cap_rings": 1},
        ),
        {"clicked": [_on_ball(way) for way in WAYS], "offset": sine(0.0, 0.12)},
        other=("icosphere", {"radius": 0.55, "halvings": 3}),
        shows_other=True,
    ),
    order=55,
)
