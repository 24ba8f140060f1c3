"""A box: 1 inside, 0 outside, with soft sides."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.local_axes import measure, turned_rows
from zygomorph.core.masking.measured import MEASURED
from zygomorph.core.masking.solid_values import box_of_mesh, centre, rounded, softness
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.grips import X, Y, Z, both_ways, gimbal, spot
from zygomorph.core.values.groups import SOLIDS
from zygomorph.core.values.value import vector


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    halves = [np.ascontiguousarray(side / 2, np.float32) for side in values.numbers["size"]]
    soft = values.array("softness") / np.float32(100)
    return measure("box", mesh, values, context, turned_rows(values), *halves, soft=soft)


def suggest(mesh: Mesh) -> dict[str, object]:
    found = box_of_mesh(mesh)
    if found is None:
        return {}
    middle, size = found
    # The upper half: what is inside and what is not are both seen at once.
    longest = float(size.max()) or 1.0
    sides = np.maximum(size * 0.8, longest / 4)
    return {"centre": rounded(middle + size * (0.0, 0.5, 0.0)), "size": rounded(sides)}


DEFINITION = MaskDefinition(
    key="box",
    title="Box",
    group=SOLIDS,
    help="1 inside a box, falling to 0 at its sides.",
    also=("cube", "inside", "block"),
    values={
        "centre": centre("the box"),
        "size": vector((1.0, 1.0, 1.0), "Size", "Its sides.", "m", (0.05, 4.0), hard=(0.0, 1e6)),
        "softness": softness("half of each side"),
        "turn": vector(
            (0.0, 0.0, 0.0),
            "Turn",
            "Turned about x, then y, then z.",
            "°",
            (-180.0, 180.0),
            main=False,
            period=360.0,
        ),
        "measured": MEASURED,
    },
    sentence="box",
    apply=apply,
    per_element=frozenset({"softness"}),
    reach="pointwise",
    suggest=suggest,
    handle="box",
    grips=(
        spot("centre"),
        both_ways("size/0", X, "centre", turned="turn"),
        both_ways("size/1", Y, "centre", turned="turn"),
        both_ways("size/2", Z, "centre", turned="turn"),
        gimbal("turn", "centre"),
    ),
    order=22,
)
