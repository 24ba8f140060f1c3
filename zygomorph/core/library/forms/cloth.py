"""Cloth of loose points: a dense level sheet without faces."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.geometry.mesh import Mesh, loose_points
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Z, both_ways
from zygomorph.core.values.groups import CURVES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import fineness, number


def apply(values: Resolved, context: Context) -> Mesh:
    columns, rows = values.count("columns"), values.count("rows")
    within_budget(columns * rows, LOOSE_BYTES)
    width, depth = values.scalar("width"), values.scalar("depth")
    points = np.zeros((rows, columns, 3), np.float32)
    points[..., 0] = ((np.arange(columns) + 0.5) / columns - 0.5) * width
    points[..., 2] = (((np.arange(rows) + 0.5) / rows - 0.5) * depth)[:, None]
    return loose_points(points.reshape(-1, 3))


DEFINITION = FormDefinition(
    key="cloth",
    title="Point cloth",
    group=CURVES,
    help="A level cloth of loose points, as many as a million and more.",
    also=("points", "particles", "dust", "point cloud"),
    values={
        "width": number(2.0, "Width", "Along x.", "m", (0.1, 6.0), hard=(1e-6, 1e6)),
        "depth": number(2.0, "Depth", "Along z.", "m", (0.1, 6.0), hard=(1e-6, 1e6)),
        "columns": fineness(
            640, "Columns", "Points along the width.", (200, 640), (16, 2000), (1, 10_000)
        ),
        "rows": fineness(
            640, "Rows", "Points along the depth.", (200, 640), (16, 2000), (1, 10_000)
        ),
    },
    sentence="Cloth of {columns} × {rows} points, {width} × {depth}",
    apply=apply,
    grips=(both_ways("width", X), both_ways("depth", Z)),
    specimen=Specimen(
        values={"columns": 150, "rows": 150, "width": 1.8, "depth": 1.8}, thickness=0.01
    ),
    order=50,
)
