"""A level rectangle of quads, centred, facing up."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.grid import grid_topology
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.memo import called
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Z, both_ways
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import fineness, number


def apply(values: Resolved, context: Context) -> Mesh:
    columns, rows = values.count("columns"), values.count("rows")
    within_budget((columns + 1) * (rows + 1))
    topology, uv = called(context.memo, grid_topology, columns, rows)
    x = np.linspace(-0.5, 0.5, columns + 1) * values.scalar("width")
    z = np.linspace(-0.5, 0.5, rows + 1) * values.scalar("depth")
    points = np.zeros(((rows + 1) * (columns + 1), 3), np.float32)
    points[:, 0] = np.tile(x, rows + 1)
    points[:, 2] = np.repeat(z, columns + 1)
    return Mesh(points, topology, {"point": {"rest": points}, "corner": {"uv": uv}})


DEFINITION = FormDefinition(
    key="sheet",
    title="Sheet",
    group=SURFACES,
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
    grips=(both_ways("width", X), both_ways("depth", Z)),
    specimen=Specimen(values={"columns": 16, "rows": 16}),
    order=20,
)
