"""Upright tubes, which cylinders and cones are."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.lathe import lathe_topology, turned
from zygomorph.core.geometry.mesh import REST, SMOOTHING, UV, Mesh
from zygomorph.core.memo.memo import called
from zygomorph.core.values.value import Value, fineness, number, switch

UPRIGHT_VALUES: dict[str, Value] = {
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


def _bands(around: int, rows: tuple[int, ...]) -> np.ndarray:
    """(F,) int32 smoothing groups of bands with so many rows of faces each, from the top down."""
    return np.repeat(np.arange(len(rows), dtype=np.int32), np.array(rows) * around)


def upright(top: float, bottom: float, values: Resolved, context: Context) -> Mesh:
    """A tube with rows of faces on its side and rings of faces on each cap.

    top, bottom : radii, metres. Where the top has no radius it is a single point
    values : those of UPRIGHT_VALUES
    """
    height, around = values.scalar("height"), values.count("around")
    rings, rows = values.count("cap_rings"), values.count("rows")
    caps, pointed = values.discrete("caps"), top <= 0
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
    topology, uv = called(context.memo, lathe_topology, around, len(radii), pole_first, caps)
    parts = [turned(radii, heights, around)]
    if pole_first:
        parts.insert(0, np.array([[0.0, height / 2, 0.0]]))
    if caps:
        parts.append(np.array([[0.0, -height / 2, 0.0]]))
    points = np.ascontiguousarray(np.concatenate(parts), np.float32)
    attributes = {"point": {REST: points}, "corner": {UV: uv}}
    if caps:
        bands = (0 if pointed else rings, rows, rings)
        attributes["face"] = {SMOOTHING: called(context.memo, _bands, around, bands)}
    return Mesh(points, topology, attributes)
