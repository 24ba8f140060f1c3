"""Flow: carry points along curl noise, in steps by the midpoint rule.

The velocity is the curl of a potential (R. Bridson, J. Hourihan, M. Nordenstam, "Curl-Noise for
Procedural Fluid Flow", SIGGRAPH 2007), so that points neither gather nor drain.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.along_directions import carry
from zygomorph.core.kernels.noise.fractal import curl
from zygomorph.core.shared.pattern_values import PATTERN_VALUES, pattern_of, sampled_at
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import Value, number, whole

# What a flow has no use for: its pattern is always curl noise, whose octaves are not folded.
UNUSED = ("noise", "fold", "brightness", "contrast")


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    steps = values.count("steps")
    pattern = pattern_of(values, "curl", "sum")
    where, place = sampled_at(mesh, values, context)
    # Where the pattern is read moves along with the points, also on the rest shape.
    points = mesh.points
    share = values.array("distance") / np.float32(steps)
    for _ in range(steps):
        go_on()
        half = carry(where, curl(where, pattern, place), share / np.float32(2), weights)
        flow = curl(half, pattern, place)
        same = where is points
        points = carry(points, flow, share, weights)
        where = points if same else carry(where, flow, share, weights)
    return mesh.moved(points)


def suggest(mesh: Mesh) -> dict[str, float]:
    """Swells and a way that suit the size of the mesh."""
    found = extent_of(mesh)
    return {"distance": found.share(0.2), "size": found.share(0.4)} if found else {}


_VALUES: dict[str, Value] = {k: v for k, v in PATTERN_VALUES.items() if k not in UNUSED}

DEFINITION = DeformDefinition(
    key="flow",
    title="Flow",
    group=PUSH,
    help="Carries points along a swirling stream: wisps of flame and smoke.",
    also=("smoke", "fluid", "curl", "stream", "swirl", "advect"),
    values={
        "distance": number(
            0.3,
            "Distance",
            "How far the stream carries where it is fast.",
            "m",
            (-2.0, 2.0),
        ),
        "steps": whole(
            4, "Steps", "More steps follow the swirls more closely.", (1, 16), hard=(1, 200)
        ),
        **_VALUES,
        "octaves": number(
            2.0,
            "Octaves",
            PATTERN_VALUES["octaves"].help,
            "",
            (1.0, 8.0),
            hard=(1.0, 12.0),
        ),
    },
    sentence="Flow {distance} in {steps} steps",
    apply=apply,
    per_element=frozenset(
        {"distance", "size", "octaves", "travel", "evolve", "gain", "lacunarity", "period"}
    ),
    pointwise=True,
    version=3,
    # The pattern may be sampled in space, through the piece's place.
    suggest=suggest,
    grips=(spot("offset"), reach("size", X, "offset")),
    amounts=("distance",),
    specimen=Specimen(values={"distance": sine(0.0, 0.6), "size": 0.6, "octaves": 1.0, "steps": 6}),
    order=50,
)
