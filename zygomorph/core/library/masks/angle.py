"""An angle about an axis: a sector, or a rise once round."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.local_axes import axis_rows, measure
from zygomorph.core.masking.measured import MEASURED
from zygomorph.core.masking.ramp import ramp
from zygomorph.core.masking.solid_values import axis, box_of_mesh, centre, rounded
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.grips import spot, turn
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import choice, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    way = measure("turn", mesh, values, context, axis_rows(values))
    way = way - values.array("from") / np.float32(360)
    if values.discrete("way") == "once":
        return way - np.floor(way)
    # From the middle of the sector, 0, to half a turn away, 1.
    away = np.abs(way - np.rint(way)) * np.float32(2)
    edge = np.minimum(values.array("edge") / np.float32(180), np.float32(1))
    return ramp(away, values.array("open") / np.float32(360), edge)


def suggest(mesh: Mesh) -> dict[str, object]:
    found = box_of_mesh(mesh)
    return {} if found is None else {"centre": rounded(found[0])}


_SECTOR = ("way", ("sector",))

DEFINITION = MaskDefinition(
    key="angle",
    title="Angle about an axis",
    group=FRONTS,
    help="A sector that opens like a fan, or a weight that rises once round.",
    also=("sector", "clock", "pie", "radial"),
    values={
        "way": choice(
            "sector",
            "Way",
            "What it does about the axis.",
            {"sector": "a sector", "once": "rises once round"},
        ),
        "from": number(
            0.0, "From", "Its middle, or where it begins.", "°", (-180.0, 180.0), period=360.0
        ),
        "open": number(
            120.0,
            "Open",
            "How wide the sector is, between the middles of its edges.",
            "°",
            (0.0, 360.0),
            hard=(0.0, 360.0),
            shown_when=_SECTOR,
        ),
        "edge": number(
            40.0,
            "Edge",
            "From weight 0 to weight 1, on each side.",
            "°",
            (0.0, 180.0),
            hard=(0.0, 360.0),
            shown_when=_SECTOR,
        ),
        "centre": centre("the turn"),
        "axis": axis("What it turns about."),
        "measured": MEASURED,
    },
    sentence="sector of {open}",
    apply=apply,
    per_element=frozenset({"from", "open", "edge"}),
    version=2,
    reach="pointwise",
    suggest=suggest,
    handle="angle",
    grips=(spot("centre"), turn("from", "axis", "centre")),
    order=14,
)
