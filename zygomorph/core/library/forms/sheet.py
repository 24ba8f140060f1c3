"""A level rectangle of quads, centred, facing up."""

from __future__ import annotations

import numpy as np

from zygomorph.core.budget import within_budget
from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.forms.grid import grid_topology
from zygomorph.core.grips import X, Z, both_ways
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import fineness, number


def apply(values: Resolved, context: Context) -> Mesh:
    columns, rows = values.count("columns"), values.count("rows")
    within_budget((columns + 1) * (rows + 1))
    topology, uv = grid_topology(columns, rows)
    x = np.linspace(-0.5, 0.5, columns + 1) * values.scalar("width")
    z = np.linspace(-0.5, 0.5, rows + 1) * values.scalar("depth")
    points = np.zeros(((rows + 1) * (columns + 1), 3), np.float32)
    points[:, 0] = np.tile(x, rows + 1)
    points[:, 2] = np.repeat(z, columns + 1)
    return Mesh(points, topology, {"point": {"rest": points}, "corner": {"uv": uv}})


DEFINITION = Definition(
    sort="form",
    key="sheet",
    title="Sheet",
    group="surfaces",
    help="A level rectangle of square cells.",
    also=("plane grid", "rectangle", "ground", "surface"),
    values={
        "width": number(2.0, "Width", "Size along x.", "m", (0.1, 8.0), hard=(0.0, 1e6)),
        "depth": number(2.0, "Depth", "Size along z.", "m", (0.1, 8.0), hard=(0.0, 1e6)),
        "columns": fineness(120, "Columns", "Cells along x.", (100, 240), (1, 400), (1, 4000)),
        "rows": fineness(120, "Rows", "Cells along z.", (100, 240), (1, 400), (1, 4000)),
    },
    sentence="Sheet of {width} by {depth}, {columns} by {rows} cells",
    apply=apply,
    changes_topology=True,
    grips=(both_ways("width", X), both_ways("depth", Z)),
    order=20,
)
