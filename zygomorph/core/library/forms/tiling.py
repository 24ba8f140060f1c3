"""Tilings of the plane by hexagons, squares, triangles or bricks; every tile is a face of its own.

Tiles do not share points, so that each can move alone; drawn without a gap they look like one
sheet.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.mesh import SHARD, Mesh, make_mesh, uniform_faces
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, reach
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import choice, number, whole

ROOT3 = np.sqrt(3.0)


def _ring(sides: int, first_degrees: float) -> np.ndarray:
    """Corners of a regular polygon of circumradius 1, counter-clockwise seen from above."""
    angle = np.radians(first_degrees) + np.arange(sides) * (2 * np.pi / sides)
    return np.stack([np.cos(angle), -np.sin(angle)], axis=1)


# For each kind: corners about the centre, and the spacing along a row and between rows, all for a
# tile whose width along x is 1; (x, z).
_SHAPES: dict[str, tuple[np.ndarray, float, float]] = {
    "hexagon": (_ring(6, 90.0) / ROOT3, 1.0, ROOT3 / 2),
    "square": (_ring(4, 45.0) / np.sqrt(2.0), 1.0, 1.0),
    "triangle": (_ring(3, 90.0) / ROOT3, 0.5, ROOT3 / 2),
    "brick": (_ring(4, 45.0) / np.sqrt(2.0) * [1.0, 0.5], 1.0, 0.5),
}


def apply(values: Resolved, context: Context) -> Mesh:
    kind = values.discrete("kind")
    columns, rows = values.count("columns"), values.count("rows")
    corners, along, across = _SHAPES[kind]
    within_budget(columns * rows * len(corners))
    size, shift = values.scalar("size"), values.scalar("shift") / 100
    column = np.tile(np.arange(columns), rows)
    row = np.repeat(np.arange(rows), columns)
    centre = np.stack([column * along + (row % 2) * shift, row * across], axis=1)
    shape = np.broadcast_to(corners, (len(centre), *corners.shape))
    if kind == "triangle":
        # Every second one stands on its head; its centre lies a third of the height lower, and the
        # rows stand mirrored, so that edges meet edges where rows are not shifted.
        turned = (column + row) % 2 == 1
        shape = np.where(turned[:, None, None], -shape, shape)
        centre[:, 1] -= np.where(turned, ROOT3 / 6, 0.0)
    flat = (centre[:, None, :] + shape * (1 - values.scalar("gap") / 100)).reshape(-1, 2)
    # The middle of the whole lies at the origin.
    flat -= (flat.min(axis=0) + flat.max(axis=0)) / 2
    points = np.zeros((len(flat), 3))
    points[:, [0, 2]] = flat * size
    faces = np.arange(len(flat)).reshape(-1, len(corners))
    shards = np.arange(len(faces), dtype=np.int32)
    return make_mesh(points, *uniform_faces(faces), {"face": {SHARD: shards}})


DEFINITION = FormDefinition(
    key="tiling",
    title="Tiling",
    group=SURFACES,
    help="Hexagons, squares, triangles or bricks side by side, each free to move alone.",
    also=("hexagon", "hexagons", "tiles", "mosaic", "honeycomb", "pattern"),
    values={
        "kind": choice(
            "hexagon",
            "Tiles",
            "The shape of a tile.",
            {
                "hexagon": "hexagons",
                "square": "squares",
                "triangle": "triangles",
                "brick": "bricks",
            },
        ),
        "size": number(
            0.2, "Size", "Width of a tile.", "m", (0.02, 1.0), scale="log", hard=(1e-6, 1e6)
        ),
        "columns": whole(
            12, "Columns", "Tiles in a row.", (1, 100), hard=(1, 4000), scale="log", draft=True
        ),
        "rows": whole(
            12, "Rows", "Rows of tiles.", (1, 100), hard=(1, 4000), scale="log", draft=True
        ),
        "shift": number(
            50.0,
            "Shift",
            "How far every second row is shifted, as a share of the width.",
            "%",
            (0.0, 100.0),
        ),
        "gap": number(
            4.0, "Gap", "How much smaller a tile is drawn.", "%", (0.0, 50.0), hard=(0.0, 100.0)
        ),
    },
    sentence="Tiling of {columns} × {rows} {kind}, {size} wide",
    apply=apply,
    grips=(reach("size", X),),
    specimen=Specimen(values={"columns": 9, "rows": 9}),
    order=30,
)
