"""Level disc, or a ring with a hole in its middle, facing up."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.lathe import lathe_topology, turned
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.memo import called
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Z, reach
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import fineness, number


def apply(values: Resolved, context: Context) -> Mesh:
    around, rings = values.count("around"), values.count("rings")
    within_budget(around * (rings + 1))
    radius = values.scalar("radius")
    hole = min(values.scalar("hole"), radius)
    radii = np.linspace(hole, radius, rings + 1)[0 if hole > 0 else 1 :]
    topology, uv = called(context.memo, lathe_topology, around, len(radii), hole <= 0, False)
    points = turned(radii, np.zeros(len(radii)), around)
    if hole <= 0:
        points = np.concatenate([np.zeros((1, 3)), points])
    points = np.ascontiguousarray(points, np.float32)
    return Mesh(points, topology, {"point": {"rest": points}, "corner": {"uv": uv}})


DEFINITION = FormDefinition(
    key="disc",
    title="Disc and ring",
    group=SURFACES,
    help="A level disc of rings; with a hole it is a flat ring.",
    also=("circle", "plate", "annulus", "washer"),
    values={
        "radius": number(
            1.0, "Radius", "From the middle to the rim.", "m", (0.05, 4.0), hard=(1e-6, 1e6)
        ),
        "hole": number(
            0.0, "Hole", "Radius of the hole; 0 for none.", "m", (0.0, 4.0), hard=(0.0, 1e6)
        ),
        "around": fineness(128, "Around", "Points of each ring.", (128, 256), (3, 400), (3, 4000)),
        "rings": fineness(
            64,
            "Rings",
            "Rings of faces from the middle to the rim.",
            (64, 128),
            (1, 400),
            (1, 4000),
        ),
    },
    sentence="Disc of {radius}, {rings} rings of {around}",
    apply=apply,
    grips=(reach("radius", X), reach("hole", Z)),
    specimen=Specimen(values={"radius": 0.95, "hole": 0.25, "around": 36, "rings": 5}),
    order=22,
)
