"""Upright tube between two radii: a cylinder, a cone, or a cut-off cone."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.lathe import lathe_topology, turned
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Y, both_ways, reach
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import fineness, number, switch


def upright(
    top: float, bottom: float, height: float, around: int, rings: int, rows: int, caps: bool
) -> Mesh:
    """A tube with ``rows`` rows of faces on its side and ``rings`` rings of faces on each cap.

    top, bottom, height : metres. Where the top has no radius it is a single point.
    """
    pointed = top <= 0
    within_budget(around * (rows + 2 * rings + 1))
    side = np.linspace(0.0, 1.0, rows + 1)[1 if pointed else 0 :]
    radii = top + (bottom - top) * side
    heights = height / 2 - height * side
    if caps:
        inner = np.arange(1, rings) / rings
        lids = [np.zeros(0) if pointed else inner * top, radii, inner[::-1] * bottom]
        levels = [np.full(len(lids[0]), height / 2), heights, np.full(len(inner), -height / 2)]
        radii, heights = np.concatenate(lids), np.concatenate(levels)
    pole_first = caps or pointed
    topology, uv = lathe_topology(around, len(radii), pole_first, caps)
    parts = [turned(radii, heights, around)]
    if pole_first:
        parts.insert(0, np.array([[0.0, height / 2, 0.0]]))
    if caps:
        parts.append(np.array([[0.0, -height / 2, 0.0]]))
    points = np.ascontiguousarray(np.concatenate(parts), np.float32)
    return Mesh(points, topology, {"point": {"rest": points}, "corner": {"uv": uv}})


def apply(values: Resolved, context: Context) -> Mesh:
    radius = values.scalar("radius")
    return upright(radius, radius, *upright_values(values))


def upright_values(values: Resolved) -> tuple[float, int, int, int, bool]:
    """Height, around, rings of a cap, rows, caps, as :func:`upright` takes them."""
    return (
        values.scalar("height"),
        values.count("around"),
        values.count("cap_rings"),
        values.count("rows"),
        values.discrete("caps"),
    )


UPRIGHT_VALUES = {
    "height": number(1.2, "Height", "From bottom to top.", "m", (0.05, 4.0), hard=(0.0, 1e6)),
    "around": fineness(64, "Around", "Points of each ring.", (64, 128), (3, 400), (3, 4000)),
    "rows": fineness(
        48, "Rows", "Rows of faces from bottom to top.", (48, 96), (1, 400), (1, 4000)
    ),
    "caps": switch(True, "Caps", "Closed at its ends."),
    "cap_rings": fineness(
        8,
        "Rings of a cap",
        "Rings of faces from the rim of a cap to its middle.",
        (8, 16),
        (1, 60),
        (1, 2000),
        main=False,
    ),
}

DEFINITION = FormDefinition(
    key="cylinder",
    title="Cylinder",
    group=SURFACES,
    help="An upright tube, closed at its ends or open.",
    also=("pipe", "column", "can", "drum"),
    values={
        "radius": number(
            0.4, "Radius", "From the axis to the side.", "m", (0.02, 2.0), hard=(1e-6, 1e6)
        ),
        **UPRIGHT_VALUES,
    },
    sentence="Cylinder of {radius}, {height} high",
    apply=apply,
    grips=(reach("radius", X), both_ways("height", Y)),
    specimen=Specimen(values={"around": 20, "rows": 4, "cap_rings": 2}),
    order=24,
)
