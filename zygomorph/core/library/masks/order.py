"""By order: a front that passes over the elements one after the other."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import ELEMENTS
from zygomorph.core.values.value import choice, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    ids = mesh.ids("point")
    place = ids.astype(np.float32) / np.float32(max(int(ids.max(initial=0)), 1))
    if values.discrete("way") == "rises":
        return place
    edge = np.maximum(values.array("edge") / np.float32(100), np.float32(1e-6))
    reached = values.array("reached") / np.float32(100)
    return np.float32(0.5) + (reached * (1 + edge) - edge / 2 - place) / edge


_FRONT = ("way", ("front",))

DEFINITION = MaskDefinition(
    key="order",
    title="Order",
    group=ELEMENTS,
    help="A front over the elements in their order, or a weight that rises from first to last.",
    also=("index", "number", "one by one", "sequence"),
    values={
        "way": choice(
            "front",
            "Way",
            "What it makes of the order.",
            {"front": "a front", "rises": "rises from first to last"},
        ),
        "reached": number(
            50.0,
            "Reached",
            "How many of them the front has passed.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            shown_when=_FRONT,
        ),
        "edge": number(
            20.0,
            "Edge",
            "How many are on their way at a time.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            shown_when=_FRONT,
        ),
    },
    sentence="by order",
    apply=apply,
    per_element=frozenset({"reached", "edge"}),
    order=42,
)
