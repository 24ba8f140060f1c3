"""Copies on a grid: in columns, rows and layers; alternate rows may be shifted."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.placements import COPY_BYTES
from zygomorph.core.shared.copy_places import placed
from zygomorph.core.values.copy_values import UNEVEN_VALUES
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import Value, number, switch, vector, whole


def apply(geometry: Geometry, values: Resolved, context: Context) -> np.ndarray:
    across, up, deep = (values.count(name) for name in ("columns", "layers", "rows"))
    count = across * up * deep
    within_budget(count, COPY_BYTES, unit="copies", hint="Make fewer of them")
    k = np.arange(count)
    column, row, layer = k % across, k // across % deep, k // (across * deep)
    shift = values.scalar("shift") / 100
    grid = np.stack([column + (row % 2) * shift, layer, row], axis=1)
    if values.discrete("centred"):
        grid = grid - (np.array([across, up, deep]) - 1) / 2
        grid[:, 0] -= shift / 2 if deep > 1 else 0
    places = grid * values.vector("spacing")
    return placed(places, None, k, values)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Side by side, with a gap between."""
    if len(mesh.points) == 0:
        return {}
    size = np.maximum(np.ptp(mesh.points, axis=0) * 1.15, 0.01)
    return {"spacing": [round(float(side), 3) for side in size]}


def _count(default: int, label: str, help: str) -> Value:
    return whole(default, label, help, (1, 60), hard=(1, 1_000_000), scale="log", tested_to=60)


DEFINITION = CopiesDefinition(
    key="grid",
    title="Copies on a grid",
    group=REPEAT,
    help="Copies in columns and rows, and in layers; a mask makes them smaller, down to nothing.",
    also=("array", "repeat", "matrix", "wall", "bricks", "tiles", "lattice", "instances"),
    values={
        "columns": _count(8, "Columns", "Along x."),
        "rows": _count(8, "Rows", "Along z."),
        "layers": _count(1, "Layers", "Along y."),
        "spacing": vector((0.5, 0.5, 0.5), "Spacing", "From each copy to the next, along x, y, z."),
        "shift": number(
            0.0,
            "Shift",
            "Alternate rows stand so much of the spacing to the side.",
            "%",
            (0.0, 100.0),
            idle=0.0,
        ),
        "centred": switch(True, "Centred", "The middle of the grid is where the piece is."),
        **UNEVEN_VALUES,
    },
    sentence="Grid of {columns} by {rows}, {spacing} apart[, rows shifted by {shift}]"
    "[, sizes from {smallest}]",
    apply=apply,
    suggest=suggest,
    acts_on=lambda mesh: len(mesh.points) > 0,
    grips=(spot("spacing"),),
    specimen=Specimen(
        ("box", {"size": [0.2, 0.2, 0.2]}),
        {
            "columns": 6,
            "rows": 6,
            "layers": 1,
            "spacing": [sine(0.22, 0.34), 0.26, 0.26],
            "shift": 50.0,
        },
    ),
    order=20,
)
