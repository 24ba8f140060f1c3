"""Ball of rings by latitude, with a pole at the top and at the bottom."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.lathe import lathe_topology, turned
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.memo import called
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, reach
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import fineness, number


def apply(values: Resolved, context: Context) -> Mesh:
    around, rings = values.count("around"), values.count("rings")
    within_budget(around * rings + 2)
    topology, uv = called(context.memo, lathe_topology, around, rings, True, True)
    angle = np.pi * np.arange(1, rings + 1) / (rings + 1)
    poles = np.array([[0.0, 1.0, 0.0]])
    points = np.concatenate([poles, turned(np.sin(angle), np.cos(angle), around), -poles])
    points = np.ascontiguousarray(points * values.scalar("radius"), np.float32)
    return Mesh(points, topology, {"point": {"rest": points}, "corner": {"uv": uv}})


DEFINITION = FormDefinition(
    key="sphere",
    title="Sphere by latitude",
    group=SURFACES,
    help="A ball of rings that close up at two poles, with UVs like a globe.",
    also=("ball", "globe"),
    values={
        "radius": number(
            0.6, "Radius", "From the middle to the points.", "m", (0.05, 2.0), hard=(0.0, 1e6)
        ),
        "around": fineness(96, "Around", "Points of each ring.", (96, 192), (3, 400), (3, 4000)),
        "rings": fineness(63, "Rings", "Rings between the poles.", (63, 127), (1, 400), (1, 4000)),
    },
    sentence="Sphere of {radius}, {rings} rings of {around}",
    apply=apply,
    grips=(reach("radius", X),),
    specimen=Specimen(values={"radius": 0.75, "around": 20, "rings": 12}),
    order=12,
)
