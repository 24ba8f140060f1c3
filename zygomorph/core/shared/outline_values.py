"""Values that everything made of outlines has: what is made of them, its depth and its rims."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.outlines.contour import Contour
from zygomorph.core.geometry.outlines.solid import Solid, curve_mesh, flat_mesh, solid_mesh
from zygomorph.core.values.value import Value, choice, number, whole

MAKE = {"solid": "with a depth", "filled": "filled", "curves": "curves"}
_SOLID = ("make", ("solid",))

MADE: dict[str, Value] = {
    "make": choice("solid", "Make", "What the outlines become.", MAKE),
    "depth": number(
        0.25,
        "Depth",
        "From its front to its back.",
        "m",
        (0.01, 2.0),
        hard=(1e-4, 1e4),
        shown_when=_SOLID,
    ),
    "bevel": number(
        0.02,
        "Bevel",
        "How far rims are rounded; where a stroke is thin, as far as it allows.",
        "m",
        (0.0, 0.2),
        hard=(0.0, 1e3),
        idle=0.0,
        shown_when=_SOLID,
    ),
    "rounds": whole(
        3,
        "Bevel faces",
        "Faces across a bevel; 1 is a chamfer.",
        (1, 12),
        hard=(1, 64),
        shown_when=_SOLID,
        main=False,
        draft=True,
    ),
    "cell": number(
        0.06,
        "Cell",
        "Size of the faces, so that it bends smoothly; 0 leaves them as large as they come.",
        "m",
        (0.01, 0.5),
        hard=(0.0, 1e4),
        scale="log",
        draft=True,
        shown_when=("make", ("solid", "filled")),
    ),
}


def made_of(
    groups: Sequence[tuple[int, list[shapely.Polygon]]],
    contours: Sequence[Contour],
    values: Resolved,
) -> Mesh:
    """What the values say is to be made of outlines.

    groups : the number of a shard, and the parts that its contours enclose, metres
    """
    if values.discrete("make") == "curves":
        within_budget(sum(len(c.points) for c in contours))
        return curve_mesh(contours)
    parts = [(shard, part) for shard, areas in groups for part in areas]
    if not parts:
        raise ZygomorphError("The outlines enclose nothing.", "Close them, or make curves of them.")
    cell = values.scalar("cell")
    area = sum(part.area for _, part in parts)
    length = sum(part.length for _, part in parts)
    if cell > 0:
        # About as many as the grid will give, so that none is begun that cannot be.
        depth = values.scalar("depth") if values.discrete("make") == "solid" else 0.0
        within_budget(int(min(2 * area / cell**2 + length * depth / cell**2, 1e12)))
    if values.discrete("make") == "filled":
        mesh = flat_mesh(parts, cell)
    else:
        solid = Solid(values.scalar("depth"), values.scalar("bevel"), values.count("rounds"), cell)
        mesh = solid_mesh(parts, solid)
    within_budget(len(mesh.points))
    return mesh


def scaled(contours: Sequence[Contour], by: float) -> list[Contour]:
    return [Contour(np.ascontiguousarray(c.points * by), c.closed) for c in contours]
