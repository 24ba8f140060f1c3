"""Smooth: every point goes towards the middle of its neighbours (the umbrella operator).

Plain smoothing shrinks. The volume is kept by a step outwards after each step inwards: G. Taubin,
"A Signal Processing Approach to Fair Surface Design", SIGGRAPH 1995, with 1/λ + 1/μ = 0.1.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.cancelling import go_on
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.deform.umbrella import umbrella
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, switch, whole

# The pass-band frequency of Taubin's filter.
PASS = 0.1
# The largest λ: beyond it the outward step would not undo the inward one (Taubin 1995).
MOST = 0.63


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    starts, neighbours = mesh.topology.neighbours
    if len(neighbours) == 0:
        raise ZygomorphError(
            "Loose points have no neighbours to smooth along.",
            "Take a sheet in place of the cloth.",
        )
    inwards = values.numbers["strength"] / 100
    shares = [inwards]
    if values.discrete("way") == "volume":
        inwards = inwards * MOST
        shares = [inwards, 1 / (PASS - 1 / np.maximum(inwards, 1e-6))]
    held = mesh.topology.border if values.discrete("hold_border") else np.zeros(1, bool)
    ways = [
        np.broadcast_to(np.where(held, 0, share * weights), len(mesh.points)).astype(np.float32)
        for share in shares
    ]
    points = mesh.points
    spare = [np.empty_like(points), np.empty_like(points)]
    for turn in range(values.count("times") * len(ways)):
        go_on()
        out = spare[turn % 2]
        umbrella(points, starts, neighbours, ways[turn % len(ways)], out)
        points = out
    return mesh.moved(points)


def _has_inner_points(mesh: Mesh) -> bool:
    """A border stays where it is, and loose points have no neighbours."""
    starts, _ = mesh.topology.neighbours
    return bool(np.any((np.diff(starts) > 0) & ~mesh.topology.border))


DEFINITION = DeformDefinition(
    key="smooth",
    title="Smooth",
    group=PUSH,
    help="Evens out bumps by moving each point towards the middle of its neighbours.",
    also=("relax", "soften", "blur", "even out"),
    edges=lambda discrete: "rounds",
    values={
        "times": whole(10, "Times", "More times reach wider bumps.", (0, 50), hard=(0, 1000)),
        "strength": number(
            50.0,
            "Strength",
            "How much of the way a point goes each time; keeping volume, of the most that is "
            "stable.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "way": choice(
            "volume",
            "Way",
            "Plain smoothing shrinks what it rounds; the other keeps its volume.",
            {"plain": "plain", "volume": "keeping volume"},
        ),
        "hold_border": switch(
            True, "Hold the border", "Points at an open border stay where they are.", main=False
        ),
    },
    sentence="Smooth {times} times, {way}",
    apply=apply,
    moves_shards=False,
    on_copies="bases",
    version=2,
    acts_on=_has_inner_points,
    amounts=("strength",),
    specimen=Specimen(
        values={"way": "plain", "times": sine(0, 24)},
        before=[{"step": "displace", "values": {"amount": 0.22, "size": 0.16, "octaves": 3.0}}],
    ),
    order=70,
)
