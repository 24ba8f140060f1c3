"""Strands: upright curves that stand on a round patch, each its own curve.

They stand on a Fermat spiral at the golden angle, evenly for any count (H. Vogel, "A Better Way to
Construct the Sunflower Head", 1979).
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.geometry.mesh import Mesh, make_curves
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.formula.functions import chance
from zygomorph.core.values.grips import X, Y, reach
from zygomorph.core.values.groups import CURVES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import SEED, number, whole

GOLDEN_ANGLE = np.pi * (3 - np.sqrt(5))


def apply(values: Resolved, context: Context) -> Mesh:
    strands, count = values.count("strands"), values.count("count")
    within_budget(strands * count, LOOSE_BYTES)
    order = np.arange(strands)
    radius = values.scalar("radius") * np.sqrt((order + 0.5) / strands)
    angle = GOLDEN_ANGLE * order
    vary = values.scalar("vary") / 100
    height = values.scalar("height") * (1 - vary * chance(order, values.count("seed")))
    share = np.linspace(0, 1, count)
    points = np.empty((strands, count, 3), np.float32)
    points[..., 0] = (radius * np.cos(angle))[:, None]
    points[..., 1] = height[:, None] * share
    points[..., 2] = (-radius * np.sin(angle))[:, None]
    return make_curves(list(points), [False] * strands)


DEFINITION = FormDefinition(
    key="strands",
    title="Strands",
    group=CURVES,
    help="Many upright curves on a round patch, as grass or hair stands.",
    also=("hair", "fur", "grass", "wires", "threads", "curves"),
    values={
        "strands": whole(
            160,
            "Strands",
            "How many curves.",
            (1, 2000),
            hard=(1, 200_000),
            scale="log",
            draft=True,
        ),
        "height": number(1.0, "Height", "Of the longest strand.", "m", (0.1, 4.0), hard=(0.0, 1e6)),
        "vary": number(
            30.0,
            "Vary",
            "How much shorter a strand may be, by chance.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "radius": number(
            0.6, "Patch", "Radius of the patch they stand on.", "m", (0.0, 3.0), hard=(0.0, 1e6)
        ),
        "count": whole(
            40,
            "Points",
            "Points of each strand, both ends included.",
            (2, 200),
            hard=(2, 100_000),
            scale="log",
            draft=True,
        ),
        "seed": SEED,
    },
    sentence="Patch of {strands} strands, {height} high",
    apply=apply,
    grips=(reach("radius", X), reach("height", Y)),
    specimen=Specimen(
        values={"strands": 90, "radius": 0.7, "height": 1.2}, lowered=0.6, thickness=0.02
    ),
    order=43,
)
