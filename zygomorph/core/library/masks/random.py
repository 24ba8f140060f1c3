"""By chance: a weight of its own for each element, or a share of them."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.ramp import ramp
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.formula.functions import chance
from zygomorph.core.values.groups import ELEMENTS
from zygomorph.core.values.value import SEED, choice, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    own = chance(mesh.ids("point"), values.count("seed"))
    if values.discrete("way") == "each":
        return own
    percent = np.float32(100)
    return ramp(own, values.array("share") / percent, values.array("edge") / percent)


_SHARE = ("way", ("share",))

DEFINITION = MaskDefinition(
    key="random",
    title="By chance",
    group=ELEMENTS,
    help="A share of the elements, one after the other in a random order, or a weight for each.",
    also=("chance", "dice", "scatter"),
    values={
        "way": choice(
            "share",
            "Way",
            "How chance decides.",
            {"share": "a share of them", "each": "a weight for each"},
        ),
        "share": number(
            50.0,
            "Share",
            "How many have been reached, those on their way by their weight; moved from 0 to 100 "
            "they come one by one.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            shown_when=_SHARE,
        ),
        "edge": number(
            10.0,
            "Edge",
            "How many are on their way at a time.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            shown_when=_SHARE,
        ),
        "seed": SEED,
    },
    sentence="by chance",
    apply=apply,
    per_element=frozenset({"share", "edge"}),
    version=2,
    order=40,
)
