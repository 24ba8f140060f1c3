"""Smooth: every point goes towards the middle of its neighbours (the umbrella operator).

Plain smoothing shrinks. The volume is kept by a step outwards after each step inwards: G. Taubin,
"A Signal Processing Approach to Fair Surface Design", SIGGRAPH 1995, with 1/λ + 1/μ = 0.1.
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.cancelling import go_on
from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import CHUNKS, F1, F2, F2W, I1, first_of, kernel
from zygomorph.core.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import choice, number, switch, whole

# The pass-band frequency of Taubin's filter.
PASS = 0.1
# The largest λ: beyond it the outward step would not undo the inward one (Taubin 1995).
MOST = 0.63


@kernel(types.void(F2, I1, I1, F1, F2W))
def _umbrella(points, starts, neighbours, share, out):  # type: ignore[no-untyped-def]
    """share : (P,), how much of the way each point goes"""
    n = points.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            lo, hi = starts[p], starts[p + 1]
            x = float32(0.0)
            y = float32(0.0)
            z = float32(0.0)
            for k in range(lo, hi):
                q = neighbours[k]
                x += points[q, 0] - points[p, 0]
                y += points[q, 1] - points[p, 1]
                z += points[q, 2] - points[p, 2]
            part = share[p] / float32(max(hi - lo, 1))
            out[p, 0] = points[p, 0] + part * x
            out[p, 1] = points[p, 1] + part * y
            out[p, 2] = points[p, 2] + part * z


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    starts, neighbours = mesh.topology.neighbours
    if len(neighbours) == 0:
        raise ZygomorphError(
            "Loose points have no neighbours to smooth along.",
            "Take a sheet in place of the cloth.",
        )
    inwards = values.numbers["strength"] / 100
    shares = [inwards]
    if values.word("way") == "volume":
        inwards = inwards * MOST
        shares = [inwards, 1 / (PASS - 1 / np.maximum(inwards, 1e-6))]
    held = mesh.topology.border if values.word("hold_border") else np.zeros(1, bool)
    ways = [
        np.broadcast_to(np.where(held, 0, share * weights), len(mesh.points)).astype(np.float32)
        for share in shares
    ]
    points = mesh.points
    spare = [np.empty_like(points), np.empty_like(points)]
    for turn in range(values.count("times") * len(ways)):
        go_on()
        out = spare[turn % 2]
        _umbrella(points, starts, neighbours, ways[turn % len(ways)], out)
        points = out
    return mesh.moved(points)


DEFINITION = Definition(
    sort="step",
    key="smooth",
    title="Smooth",
    group="push",
    help="Evens out bumps by moving each point towards the middle of its neighbours.",
    also=("relax", "soften", "blur", "even out"),
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
    rigid=False,
    version=2,
    order=70,
)
