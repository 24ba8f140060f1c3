"""Ball from an icosahedron whose triangles are halved again and again: 10·4ⁿ + 2 points."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.icosphere import unit_icosphere
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.memo import called
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, reach
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import number, whole


def apply(values: Resolved, context: Context) -> Mesh:
    unit = called(context.memo, unit_icosphere, values.count("halvings"))
    points = np.ascontiguousarray(unit.points * np.float32(values.scalar("radius")))
    return Mesh(points, unit.topology, {"point": {"rest": points}})


DEFINITION = FormDefinition(
    key="icosphere",
    title="Icosphere",
    group=SURFACES,
    help="A ball of nearly equal triangles, even all round.",
    also=("ball", "globe", "geodesic", "orb"),
    values={
        "radius": number(
            0.6, "Radius", "From the middle to the points.", "m", (0.05, 2.0), hard=(0.0, 1e6)
        ),
        "halvings": whole(
            5,
            "Halvings",
            "How often each triangle is split into four; 6 gives 40,962 points.",
            (0, 7),
            hard=(0, 9),
            draft=True,
            begins=(5, 6),
            tested_to=5,
        ),
    },
    sentence="Ball of {radius}, {halvings} halvings",
    apply=apply,
    grips=(reach("radius", X),),
    specimen=Specimen(values={"radius": 0.75, "halvings": 2}),
    order=10,
)
